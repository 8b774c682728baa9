"""From what a sensor writes down to water content or tension: calibration curves.

References
----------
.. [1] Topp, G. C., Davis, J. L., Annan, A. P. (1980), Electromagnetic determination of soil
   water content, Water Resour. Res. 16(3):574-582, doi:10.1029/WR016i003p00574.
"""

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from core.arrays import ArrayLike, Floats

TOPP = (-0.053, 0.0292, -5.5e-4, 4.3e-6)


class CurveKind(StrEnum):
    """Families of curves a worksheet may fit or a maker may state."""

    MAKER = "maker's curve"
    LINEAR = "linear"
    QUADRATIC = "quadratic"
    CUBIC = "cubic"
    TOPP_FORM = "Topp form"
    OFFSET = "offset"


@dataclass(frozen=True)
class Calibration:
    """theta = c0 + c1 x + c2 x^2 + c3 x^3 of the raw reading x, good between two raw values."""

    coefficients: tuple[float, ...]
    raw_low: float | None = None
    raw_high: float | None = None

    def theta(self, raw: ArrayLike) -> Floats:
        """Water content [m3/m3] of raw readings, same shape."""
        out: Floats = np.polynomial.polynomial.polyval(
            np.asarray(raw, float), np.asarray(self.coefficients)
        )
        return out

    def turns_within(self) -> bool:
        """Whether the curve rises and falls between its ends, so that one theta has two raws."""
        if self.raw_low is None or self.raw_high is None:
            return False
        slope = np.polynomial.polynomial.polyder(np.asarray(self.coefficients))
        along = np.polynomial.polynomial.polyval(
            np.linspace(self.raw_low, self.raw_high, 200), slope
        )
        return bool(along.min() < 0 < along.max())


def topp_theta(permittivity: ArrayLike) -> Floats:
    """Water content of a mineral soil from its apparent permittivity.

    Parameters
    ----------
    permittivity : array [-]

    Returns
    -------
    array [m3/m3]

    Notes
    -----
    theta = -0.053 + 0.0292 e - 5.5e-4 e^2 + 4.3e-6 e^3 [1]_, fitted for e from 3 to 40.
    """
    return Calibration(TOPP).theta(permittivity)
