"""A van Genuchten curve fitted to a person's own points."""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike
from core.sentence import sentence
from core.soil.retention import RetentionCurve

MIN_POINTS = 4
BOUNDS = ([0.0, 0.1, np.log(1e-4), np.log(1.02)], [0.35, 0.9, np.log(20.0), np.log(10.0)])


@dataclass(frozen=True)
class FittedCurve:
    """The curve and its root mean square residual over the points [m3/m3]."""

    curve: RetentionCurve
    rmse: float


def fit_curve(tension_kpa: ArrayLike, theta: ArrayLike) -> FittedCurve:
    """Least-squares van Genuchten curve.

    Parameters
    ----------
    tension_kpa : array, shape (points,), at or above zero [kPa]
    theta : array, shape (points,) [m3/m3]

    Returns
    -------
    FittedCurve

    Raises
    ------
    ValueError
        With fewer than four points, points that span less than from 33 to 1500 kPa by a
        factor of ten, or contents that rise with tension from end to end.
    """
    tension = np.asarray(tension_kpa, float)
    content = np.asarray(theta, float)
    if tension.size < MIN_POINTS or np.unique(tension).size < MIN_POINTS:
        raise ValueError(
            sentence(
                "a fit needs at least {min_points} points at different tensions",
                min_points=MIN_POINTS,
            )
        )
    wet, dry = tension.argmin(), tension.argmax()
    if tension[dry] < 10 * max(tension[wet], 1.0):
        raise ValueError(
            sentence("the driest point must lie at ten times the tension of the wettest")
        )
    if content[wet] <= content[dry]:
        raise ValueError(sentence("the soil must hold more water at low tension than at high"))

    # Costs every process that imports it 24 MB and most of a second, and few soils are fitted.
    from scipy.optimize import least_squares  # noqa: PLC0415

    def residual(x: np.ndarray) -> np.ndarray:
        share = (1 + (np.exp(x[2]) * tension) ** np.exp(x[3])) ** (np.exp(-x[3]) - 1)
        out: np.ndarray = x[0] + (x[1] - x[0]) * share - content
        return out

    sat = min(max(float(content.max()), 0.15), 0.89)
    # The sum of squares has more than one valley: the best of several starts.
    runs = [
        least_squares(residual, [0.02, sat, np.log(alpha), np.log(n)], bounds=BOUNDS)
        for alpha in (0.02, 0.2, 1.0)
        for n in (1.2, 2.0)
    ]
    best = min(runs, key=lambda r: r.cost)
    r, s, log_alpha, log_n = best.x
    if s <= r:
        raise ValueError(sentence("the points fit no retention curve; check them for a slip"))
    return FittedCurve(
        RetentionCurve.van_genuchten(r, s, np.exp(log_alpha), np.exp(log_n)),
        float(np.sqrt(np.mean(best.fun**2))),
    )
