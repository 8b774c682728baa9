"""How values differ with the distance between them.

References
----------
.. [1] Matheron, G. (1963), Principles of geostatistics, Economic Geology 58:1246-1266.
.. [2] Cressie, N. (1985), Fitting variogram models by weighted least squares, Math. Geol.
   17:563-586, doi:10.1007/BF01032109.
.. [3] Webster, R., Oliver, M. A. (2007), Geostatistics for Environmental Scientists, 2nd ed.,
   Wiley, doi:10.1002/9780470517277.
"""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

import numpy as np
from scipy.optimize import least_squares
from scipy.spatial import cKDTree
from scipy.spatial.distance import pdist

from core.arrays import Floats, Ints

# Fewer points make no variogram [3]_.
FEWEST_POINTS = 100
# Pairs rise with the square of the points; of more, as many are drawn.
MOST_POINTS = 1500
# Neighbours drawn together.
GROUP = 10
LAGS = 15
# Pairs in a lag below which its mean is not used [3]_.
FEWEST_PAIRS = 30


class VariogramModel(StrEnum):
    SPHERICAL = "spherical"
    EXPONENTIAL = "exponential"


def spherical(lag_m: Floats, range_m: float) -> Floats:
    """Share of the sill reached at a lag: 1.5 h - 0.5 h^3 up to the range."""
    h = np.minimum(lag_m / range_m, 1)
    return 1.5 * h - 0.5 * h**3


def exponential(lag_m: Floats, range_m: float) -> Floats:
    """Share of the sill reached at a lag: 95 % at the range."""
    return 1 - np.exp(-3 * lag_m / range_m)


SHAPES: MappingProxyType[VariogramModel, Callable[[Floats, float], Floats]] = MappingProxyType(
    {VariogramModel.SPHERICAL: spherical, VariogramModel.EXPONENTIAL: exponential}
)


@dataclass(frozen=True)
class Variogram:
    """A fitted model: nugget + partial sill x shape(lag / range).

    Parameters
    ----------
    nugget, partial_sill : float [square of the values' unit]
    range_m : float [m]
    """

    model: VariogramModel
    nugget: float
    partial_sill: float
    range_m: float

    def at(self, lag_m: Floats) -> Floats:
        """The semivariance at a lag; 0 at none."""
        found = self.nugget + self.partial_sill * SHAPES[self.model](lag_m, self.range_m)
        return np.where(lag_m > 0, found, 0.0)

    @property
    def structure(self) -> float:
        """Share of the variance that lies in space and not from point to point [-]."""
        sill = self.nugget + self.partial_sill
        return self.partial_sill / sill if sill > 0 else 0.0


def lag_edges(longest_m: float, lags: int = LAGS) -> Floats:
    """Edges of lags that widen with the distance, shape (lags + 1,) [m].

    The short ones tell the nugget, which is what a map is smoothed by.
    """
    return longest_m * np.linspace(0, 1, lags + 1) ** 2


def experimental(
    x: Floats, y: Floats, value: Floats, edges_m: Floats | None = None
) -> tuple[Floats, Floats, Floats]:
    """Mean half squared difference by lag [1]_.

    Parameters
    ----------
    x, y : array, shape (n,) [m]
    value : array, shape (n,)
    edges_m : array, shape (lags + 1,) [m], optional
        Rising; `lag_edges` of half the largest distance where none are given [3]_.

    Returns
    -------
    lag_m, semivariance, pairs : arrays, shape (lags with pairs,)
        The mean distance of a lag's pairs, and how many there are.
    """
    distance = pdist(np.column_stack([x, y]))
    half_squares = 0.5 * pdist(value[:, None], "sqeuclidean")
    edges = edges_m if edges_m is not None else lag_edges(distance.max() / 2)
    used = (distance > edges[0]) & (distance <= edges[-1])
    lag = np.searchsorted(edges, distance[used]) - 1
    pairs = np.bincount(lag, minlength=len(edges) - 1)
    there = pairs > 0
    distances = np.bincount(lag, distance[used], minlength=len(pairs))[there] / pairs[there]
    means = np.bincount(lag, half_squares[used], minlength=len(pairs))[there] / pairs[there]
    return distances, means, pairs[there].astype(float)


def fitted(lag_m: Floats, semivariance: Floats, pairs: Floats) -> Variogram | None:
    """The model that fits the means by lag best, each weighted by pairs / model^2 [2]_.

    Returns
    -------
    Variogram or None
        None where there are too few lags with enough pairs, or no value differs.
    """
    enough = pairs >= FEWEST_PAIRS
    lag, gamma, count = lag_m[enough], semivariance[enough], pairs[enough]
    if len(lag) < 4 or gamma.max() <= 0:
        return None
    sill = float(gamma.max())
    best: tuple[float, Variogram] | None = None
    for model, shape in SHAPES.items():

        def off(p: Floats, shape: Callable[[Floats, float], Floats] = shape) -> Floats:
            fit = p[0] + p[1] * shape(lag, p[2])
            return np.sqrt(count) * (gamma / np.maximum(fit, 1e-9 * sill) - 1)

        for start in (0.3, 0.7):
            found = least_squares(
                off,
                x0=[0.2 * sill, 0.8 * sill, start * lag[-1]],
                bounds=([0, 0, lag[0] / 2], [2 * sill, 4 * sill, 3 * lag[-1]]),
                x_scale=[sill, sill, lag[-1]],
            )
            if best is None or found.cost < best[0]:
                nugget, partial, reach = (float(v) for v in found.x)
                best = found.cost, Variogram(model, nugget, partial, reach)
    return best[1] if best else None


def variogram_of(x: Floats, y: Floats, value: Floats) -> Variogram | None:
    """The variogram of points; None where there are too few, or all are alike.

    Of more than `MOST_POINTS`, groups of neighbours are drawn, so that short lags have pairs.
    """
    if len(x) < FEWEST_POINTS:
        return None
    if len(x) > MOST_POINTS:
        drawn = _groups(np.column_stack([x, y]))
        x, y, value = x[drawn], y[drawn], value[drawn]
    return fitted(*experimental(x, y, value))


def _groups(places: Floats) -> Ints:
    """Points drawn at random with those nearest to each, none twice."""
    middles = np.random.default_rng(0).choice(len(places), MOST_POINTS // GROUP, replace=False)
    return np.unique(cKDTree(places).query(places[middles], k=GROUP)[1])
