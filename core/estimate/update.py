"""Readings enter an ensemble: one after the other, each by the deterministic square-root filter.

References
----------
.. [1] Whitaker, J. S., Hamill, T. M. (2002), Ensemble data assimilation without perturbed
   observations, Mon. Weather Rev. 130:1913-1924.
.. [2] Anderson, J. L. (2007), Exploring the need for localization in ensemble data
   assimilation using a hierarchical ensemble filter, Physica D 230:99-111: correlations that
   so few members show by chance are taken back.
"""

import numpy as np
from numba import njit

from core.arrays import Floats
from core.estimate.member import FACTORS

FAR_SIGMAS = 3.0  # a reading further off is believed as if its error were that much larger


@njit(cache=True)
def expected(
    x: Floats,
    layers: int,
    sensors: int,
    middle: Floats,
    scale: Floats,
    depth: float,
    sensor: int,
    out: Floats,
) -> None:
    """What a sensor would read in each member [m3/m3].

    Between the middles of two layers the content less full, as a share of the book's available
    water of each, runs straight: across a boundary of soils the tension is one, the content is
    not. ``middle`` and ``scale`` are arrays (layers,); ``out`` (members,).
    """
    base = 3 * layers + FACTORS
    j, share = 0, 0.0
    if depth >= middle[layers - 1]:
        j, share = layers - 2, 1.0
    elif depth > middle[0]:
        while middle[j + 1] < depth:
            j += 1
        share = (depth - middle[j]) / (middle[j + 1] - middle[j])
    at = scale[j] if share < 0.5 else scale[j + 1]
    up, low = (1.0 - share) * at / scale[j], share * at / scale[j + 1]
    for m in range(x.shape[1]):
        here = up * x[j, m] + low * x[j + 1, m]
        out[m] = x[base + sensor, m] + np.exp(x[base + sensors + sensor, m]) * here


@njit(cache=True, fastmath={"reassoc", "contract", "nsz"})
def take_in(
    x: Floats, size: int, seen: Floats, value: float, sd: float, far_sigmas: float
) -> float:
    """Correct all members by one reading [1]_.

    Parameters
    ----------
    x : array, shape (figures, members)
        Changed in place.
    size : int
        How many of the figures this block has.
    seen : array, shape (members,)
        What the sensor would read in each; less their mean afterwards.
    value, sd : float
        What it read, and how far that may lie off.
    far_sigmas : float
        Beyond so many spreads the reading counts for less.

    Returns
    -------
    float
        The surprise in spreads.
    """
    count = x.shape[1]
    mean = seen.mean()
    var = 0.0
    for m in range(count):
        seen[m] -= mean
        var += seen[m] * seen[m]
    var = var / (count - 1) + 1e-14
    noise = sd * sd
    surprise = value - mean
    z = surprise / np.sqrt(var + noise)
    if abs(z) > far_sigmas:
        noise = max(noise, (surprise / far_sigmas) ** 2 - var)
    total = var + noise
    shrink = 1.0 / (1.0 + np.sqrt(noise / total))
    for v in range(size):
        row = x[v]
        average = 0.0
        for m in range(count):
            average += row[m]
        average /= count
        cov = own = 0.0
        for m in range(count):
            off = row[m] - average
            cov += off * seen[m]
            own += off * off
        cov /= count - 1
        own = own / (count - 1) + 1e-18
        rho2 = cov * cov / (own * var)
        # A correlation that so few members would show by chance is none [2]_.
        if rho2 * count <= 1.0:
            continue
        gain = cov / total * (rho2 - 1.0 / count) / rho2
        for m in range(count):
            row[m] += gain * (surprise - shrink * seen[m])
    return z
