"""A level that breaks into a straight fall: regression with one break.

References
----------
.. [1] Muggeo, V. M. R. (2003), Estimating regression models with unknown break-points, Statistics
   in Medicine 22:3055-3071; here the break is searched for, not linearised.
.. [2] Efron, B., Tibshirani, R. J. (1993), An Introduction to the Bootstrap, ch. 9: pairs are
   drawn, not residuals.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats

# Breaks are tried so many to the span of the middle nine tenths.
TRIED, MIDDLE = 200, (0.05, 0.95)
RESAMPLES = 200


@dataclass(frozen=True)
class BrokenStick:
    """``level`` up to ``at``, from there on falling by ``slope`` (not above zero) a unit of x.

    spread : standard error of ``at``, of its bootstrap [2]_
    f_value : how much better than a straight line it is, for the one figure more [-]; the variance
        that the line leaves beyond the stick's, over what the stick leaves a degree of freedom
    """

    at: float
    level: float
    slope: float
    spread: float
    f_value: float


def broken_stick(x: Floats, y: Floats, weight: Floats) -> BrokenStick:
    """Fit a level with a fall by least squares, the break where the rest is least [1]_.

    Parameters
    ----------
    x, y, weight : array, shape (n,)
        Four points at least, x not all alike; weights as one over the variance of y.

    Raises
    ------
    ValueError
        With fewer points, or no two x that differ.
    """
    if x.size < 4 or float(np.ptp(x)) == 0:
        raise ValueError("a broken stick takes four points that differ in x")
    low, high = np.quantile(x, MIDDLE)
    at = np.linspace(low, high, TRIED)
    beyond = np.maximum(x - at[:, None], 0.0)
    rest, slope, level = _fits(beyond, y, weight[None])
    best = int(rest[0].argmin())
    left = float(rest[0, best])
    line = _line_rest(x, y, weight)
    per_degree = max(left / (x.size - 3), np.finfo(float).tiny)
    rng = np.random.default_rng(x.size)
    drawn = rng.multinomial(x.size, np.full(x.size, 1 / x.size), RESAMPLES)
    spread = float(at[_fits(beyond, y, drawn * weight)[0].argmin(axis=1)].std())
    return BrokenStick(
        float(at[best]),
        float(level[0, best]),
        float(slope[0, best]),
        spread,
        max(line - left, 0.0) / per_degree,
    )


def _fits(beyond: Floats, y: Floats, weight: Floats) -> tuple[Floats, Floats, Floats]:
    """Rest, slope and level of every break by every set of weights.

    ``beyond`` (breaks, n): how far x lies beyond each; ``weight`` (sets, n); out (sets, breaks).
    """
    total = weight.sum(axis=1, keepdims=True)
    mean_y = weight @ y[:, None] / total
    mean = weight @ beyond.T / total
    squares = weight @ (beyond**2).T - total * mean**2
    products = (weight * y) @ beyond.T - total * mean * mean_y
    slope = np.minimum(products / np.maximum(squares, 1e-12), 0.0)
    whole = weight @ (y**2)[:, None] - total * mean_y**2
    rest = whole - 2 * slope * products + slope**2 * squares
    return rest, slope, mean_y - slope * mean


def _line_rest(x: Floats, y: Floats, weight: Floats) -> float:
    """What a straight line leaves."""
    total = weight.sum()
    off_x, off_y = x - (weight @ x) / total, y - (weight @ y) / total
    products = float((weight * off_x) @ off_y)
    squares = float((weight * off_x) @ off_x)
    return float((weight * off_y) @ off_y) - products**2 / squares
