"""The retention curve: tension to water content and back.

References
----------
.. [1] Saxton, K. E., Rawls, W. J. (2006), doi:10.2136/sssaj2005.0117, eq. 11-15.
"""

from dataclasses import dataclass
from typing import Self

import numpy as np

from core.arrays import ArrayLike, Floats

WILTING_TENSION_KPA = 1500.0


@dataclass(frozen=True)
class PowerCurve:
    """``psi = A * theta**-B`` between saturation and dryness, one curve per horizon.

    a, b : array, shape (horizons,)
    theta_sat : array, shape (horizons,) [m3/m3]

    Notes
    -----
    The published curve is a straight line wetter than 33 kPa. That line puts a sand at
    0.36 at 10 kPa, where it really holds about 0.12, so here the power branch is carried
    on to saturation instead.
    """

    a: Floats
    b: Floats
    theta_sat: Floats

    @classmethod
    def through(
        cls,
        theta_full: ArrayLike,
        full_tension_kpa: ArrayLike,
        theta_wilt: ArrayLike,
        theta_sat: ArrayLike,
    ) -> Self:
        """Curve through the full point at its tension and wilting at 1500 kPa [1]_.

        Parameters
        ----------
        theta_full, theta_wilt, theta_sat : array, shape (horizons,) [m3/m3]
        full_tension_kpa : array, shape (horizons,) [kPa]

        Raises
        ------
        ValueError
            Unless 0 < wilting < full <= saturation and the tension is below 1500 kPa.
        """
        full = np.asarray(theta_full, float)
        wilt = np.asarray(theta_wilt, float)
        sat = np.asarray(theta_sat, float)
        tension = np.asarray(full_tension_kpa, float)
        if not np.all((wilt > 0) & (wilt < full) & (full <= sat)):
            raise ValueError("limits must keep the order: 0 < wilting < full <= saturation")
        if not np.all((tension > 0) & (tension < WILTING_TENSION_KPA)):
            raise ValueError("the full point's tension must lie between 0 and 1500 kPa")
        b = (np.log(WILTING_TENSION_KPA) - np.log(tension)) / (np.log(full) - np.log(wilt))
        a = np.exp(np.log(tension) + b * np.log(full))
        return cls(a=a, b=b, theta_sat=sat)

    def theta_at(self, tension_kpa: ArrayLike) -> Floats:
        """Water content at a tension; array, broadcast with (horizons,) [m3/m3].

        Tensions at or below zero are saturated. NaN stays NaN.
        """
        tension = np.asarray(tension_kpa, float)
        with np.errstate(divide="ignore", invalid="ignore"):
            theta = (self.a / np.maximum(tension, 0)) ** (1 / self.b)
        return np.where(np.isnan(tension), np.nan, np.minimum(theta, self.theta_sat))

    def tension_at(self, theta: ArrayLike) -> Floats:
        """Tension at a water content; array, broadcast with (horizons,) [kPa].

        Contents at or above saturation give the curve's value at saturation; a content
        of zero or less is infinitely dry. NaN stays NaN.
        """
        content = np.asarray(theta, float)
        with np.errstate(divide="ignore", invalid="ignore"):
            bounded = np.minimum(np.maximum(content, 0), self.theta_sat)
            return np.where(np.isnan(content), np.nan, self.a * bounded**-self.b)
