"""Leaf and soil: which stem water potential goes with how much of the soil's water gone.

References
----------
.. [1] Särkkä, S. (2013), Bayesian Filtering and Smoothing, ch. 4: linear regression whose
   coefficients drift, by the Kalman filter.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats
from core.estimate.ahead import CASES
from core.leaf.bands import RelationPrior

# A block's mean at noon strays from day to day by so much for the weather alone [MPa] (working
# assumption, no source).
DAY_SD_MPA = 0.07
# How far leaf and soil drift apart in the square root of a day, the fall with the soil's water
# staying the same [MPa]: canopies grow, roots move, the store's estimate errs (working assumption,
# set on simulated vineyards).
DRIFT_MPA = 0.035
# The potential falls at least so much from full to wilting [MPa]: a relation that does not fall
# says no date.
LEAST_FALL_MPA = 0.1
GRID = np.linspace(0.0, 1.0, 201)
SEED = 3
# The coefficients in their order: where it stands, the falls with the water gone and its cube,
# with the demand, and what water on top of dry soil makes better.
STANDS, FALLS, BENDS, DEMAND, FRESH = range(5)
COEFFICIENTS = 5


@dataclass(frozen=True)
class Setting:
    """What leaves answer to beside the soil's water: use beyond the usual one [mm/day], and water
    that came and is not used yet, as a share of the available water [-]."""

    beyond_mm: ArrayLike = 0.0
    fresh: ArrayLike = 0.0


def _terms(share: ArrayLike, at: Setting) -> Floats:
    """1, x, x^3, use beyond the usual, and fresh water; (..., COEFFICIENTS)."""
    x = np.clip(np.asarray(share, float), 0.0, 1.0)
    more, fresh = (np.broadcast_to(np.asarray(v, float), x.shape) for v in (at.beyond_mm, at.fresh))
    return np.stack([np.ones_like(x), x, x**3, more, fresh], axis=-1)


@dataclass(frozen=True)
class Relation:
    """-(a + b x + c x^3 + e u + f r) [MPa]: x the share of the available water that is gone [-], u
    the use of the day beyond the usual one [mm], r fresh water as a share of the available [-].

    likely : array, shape (COEFFICIENTS,); courses : array, shape (CASES, COEFFICIENTS), equally
        likely ones
    rounds : how many rounds it was learned from
    usual_mm : mean use of the days of the rounds [mm/day]; NaN without any
    """

    likely: Floats
    courses: Floats
    rounds: int
    usual_mm: float

    def beyond(self, use_mm: ArrayLike) -> Floats:
        """Use beyond the usual one [mm]; 0 where no round says what is usual."""
        out: Floats = np.nan_to_num(np.asarray(use_mm, float) - self.usual_mm)
        return out

    def mpa_at(self, share: ArrayLike, at: Setting) -> Floats:
        """Potential as likely as not; shape of ``share``."""
        out: Floats = -_terms(share, at) @ self.likely
        return out

    def courses_at(self, share: Floats, at: Setting) -> Floats:
        """Potential of each course at its own share, (CASES, ...)."""
        out: Floats = -np.einsum("c...k,ck->c...", _terms(share, at), self.courses)
        return out

    def share_at(self, mpa: ArrayLike, at: Setting) -> Floats:
        """Share gone at which the likely one comes down to a potential, shape of ``mpa``; 0 where
        a full soil is below it already, 1 where wilting does not reach it."""
        return _share_of(self.likely, mpa, at)

    def shares_at(self, mpa: Floats, at: Setting) -> Floats:
        """The same of each course, (CASES, ...)."""
        return np.array([_share_of(course, mpa, at) for course in self.courses])


def _share_of(coefficients: Floats, mpa: ArrayLike, at: Setting) -> Floats:
    """Share gone at which a relation comes down to a potential."""
    none = np.zeros_like(np.asarray(mpa, float))
    moved = _terms(none, at)[..., DEMAND:] @ coefficients[DEMAND:]
    fall = _terms(GRID, Setting()) @ coefficients
    return np.asarray(np.interp(-np.asarray(mpa, float) - moved, fall, GRID))


def learn_relation(
    prior: RelationPrior,
    share: Sequence[float],
    mpa: Sequence[float],
    se_mpa: Sequence[float],
    age_days: Sequence[float],
    use_mm: Sequence[float],
    fresh: Sequence[float],
) -> Relation:
    """The relation of a block from its rounds [1]_.

    Parameters
    ----------
    share : sequence, (rounds,) [-]
        Of the available water gone at each round, as the soil's estimate has it; oldest first.
    mpa, se_mpa : sequence, (rounds,) [MPa]
    age_days : sequence, (rounds,) [days]
    use_mm : sequence, (rounds,) [mm/day]
        What the crop could use on the day of each round: leaves stand lower on a day that asks for
        more, however wet the soil is.
    fresh : sequence, (rounds,) [-]
        Water that had come and was not used yet, as a share of the available.

    Notes
    -----
    Where the relation stands drifts from day to day; how it falls does not. So an estimate of the
    store that errs a little more every day does not carry the leaf along.
    """
    use = np.asarray(use_mm, float)
    usual = float(use.mean()) if use.size else float("nan")
    mean, spread = np.array(prior.mean), np.diag(np.array(prior.sd) ** 2)
    terms = _terms(np.asarray(share, float).reshape(-1), Setting(use - usual, np.array(fresh)))
    for k in range(use.size):
        row, variance = terms[k], se_mpa[k] ** 2 + DAY_SD_MPA**2
        gain = spread @ row / (row @ spread @ row + variance)
        mean = mean + gain * (-mpa[k] - row @ mean)
        spread = spread - np.outer(gain, row @ spread)
        later = age_days[k + 1] if k + 1 < use.size else 0.0
        spread[STANDS, STANDS] += DRIFT_MPA**2 * max(age_days[k] - later, 0.0)
    draws = np.random.default_rng(SEED).standard_normal((CASES, COEFFICIENTS))
    draws = (draws - draws.mean(axis=0)) / draws.std(axis=0)
    courses = mean + draws @ np.linalg.cholesky((spread + spread.T) / 2).T
    return Relation(_falling(mean[None])[0], _falling(courses), use.size, usual)


def _falling(rows: Floats) -> Floats:
    """Relations that fall with the soil's water and with the demand, and that fresh water never
    makes worse, (rows, COEFFICIENTS); from full to wilting they fall by `LEAST_FALL_MPA`."""
    out = rows.copy()
    out[:, FALLS : DEMAND + 1] = np.maximum(out[:, FALLS : DEMAND + 1], 0.0)
    out[:, FRESH] = np.minimum(out[:, FRESH], 0.0)
    out[:, FALLS] += np.maximum(LEAST_FALL_MPA - out[:, FALLS] - out[:, BENDS], 0.0)
    return out


def fresh_mm(water_mm: Floats, use_mm: Floats, start_mm: float = 0.0) -> Floats:
    """Water that came and is not used yet, at the start of each day [mm]; (days + 1,).

    Parameters
    ----------
    water_mm, use_mm : array, shape (days,) [mm/day]
    """
    out = np.empty(water_mm.size + 1)
    out[0] = start_mm
    for d in range(water_mm.size):
        out[d + 1] = max(out[d] + water_mm[d] - use_mm[d], 0.0)
    return out
