"""What a field loses by percolation and seepage, and its drainable porosity, learned from falls of
its tubes between irrigations.

Notes
-----
Least squares with priors: each fall is run from its first reading, and what it misses the last one
by counts in spreads of a reading and of the day's use. Priors stand for what is known before a tube
was read; a figure that a person measured takes the place of one.

References
----------
.. [1] Bouman, B. A. M. & Tuong, T. P. (2001), Field water management to save water and increase its
   productivity in irrigated lowland rice, Agricultural Water Management 49, 11-30: seepage and
   percolation 1-5 mm a day in heavy clay to 25-30 in sandy loam (from memory).
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.outlook.forecast import scores
from core.ponded.field import PondedField
from core.ponded.record import Record
from core.ponded.tube import READING_SIGMA_MM, Tube
from core.ponded.water import Losses, run_water

# Medians of the priors and how far they reach, as spreads of the logarithm: percolation in the
# range of [1]_; the others are working assumptions, no source.
PRIOR = {"percolation_mm_day": (4.0, 0.8), "seepage_per_day": (0.01, 0.6), "porosity": (0.15, 0.4)}
# A figure that a person measured (working assumption).
MEASURED_SIGMA = 0.15
# However many falls: no field loses the same at every depth and on every day (working assumption).
MODEL_SIGMA = 0.12
# A fall lasts long enough to be told from the error of its readings, and is no more than this
# [days].
SHORTEST_DAYS, LONGEST_DAYS = 0.75, 6.0
LOOKED_BACK_DAYS = 60.0
# What was learned so long ago counts for half [days] (working assumption).
HALVED_DAYS = 30.0
# Share by which a day's crop use strays from Kc and ET0 (as in `core.advice.estimate_inputs`).
USE_SIGMA = 0.12
STEPS = 12
# Of the fit: the most steps that it takes, a step that ends it, and the change of a logarithm by
# which slopes are found [-].
ITERATIONS, SETTLED, NUDGE = 12, 5e-3, 1e-3
LEAST = 0.01  # so little percolation has a logarithm [mm/day]


@dataclass(frozen=True)
class Fall:
    """A tube's level from one reading to a later one without an irrigation between; hours from now,
    levels [mm]."""

    begins: float
    ends: float
    from_mm: float
    to_mm: float


@dataclass(frozen=True)
class LossesLearned:
    """What falls have shown of a field: the likeliest, and courses that it may be.

    falls : the falls that it was learned from, oldest first
    """

    likely: Losses
    courses: Losses
    falls: tuple[Fall, ...]


def falls(tubes: Sequence[Tube], record: Record) -> tuple[Fall, ...]:
    """Falls to learn from, see `Fall`."""
    out = []
    for tube in tubes:
        hours, level = tube.good
        first = max(-24 * LOOKED_BACK_DAYS, record.hours[0])
        k = int(np.searchsorted(hours, first))
        while k < hours.size - 1:
            n = int(np.searchsorted(hours, hours[k] + 24 * SHORTEST_DAYS))
            if n == hours.size:
                break
            begins, ends = float(hours[k]), float(hours[n])
            watered = ((record.irrigated[:, 0] < ends) & (record.irrigated[:, 1] > begins)).any()
            if ends - begins <= 24 * LONGEST_DAYS and not watered:
                out.append(Fall(begins, ends, float(level[k]), float(level[n])))
            k = n
    return tuple(sorted(out, key=lambda f: f.ends))


@dataclass(frozen=True)
class ToLearn:
    """A field whose losses are learned: its falls, none of which leaves what was known before, and
    a record that reaches over them."""

    falls: tuple[Fall, ...]
    record: Record
    field: PondedField


def losses_learned(fields: Sequence[ToLearn]) -> tuple[LossesLearned, ...]:
    """Learn the losses of fields together; of each see `LossesLearned`."""
    middle, spread = np.array([_prior(f.field) for f in fields]).transpose(1, 0, 2)
    at, info = _fitted(_Misses(fields), middle, spread)
    covariance = np.linalg.inv(info)
    return tuple(
        LossesLearned(
            likely=_losses(at[k][:, None]),
            courses=_losses(_drawn(at[k], covariance[k] + MODEL_SIGMA**2 * np.eye(3))),
            falls=f.falls,
        )
        for k, f in enumerate(fields)
    )


def _prior(field: PondedField) -> tuple[list[float], list[float]]:
    """Middle and spread of the logarithms before a tube was read."""
    stated = {"percolation_mm_day": field.percolation_mm_day, "porosity": field.porosity}
    middle, spread = [], []
    for name, (usual, reach) in PRIOR.items():
        value = stated.get(name)
        middle.append(float(np.log(usual if value is None else max(value, LEAST))))
        spread.append(reach if value is None else MEASURED_SIGMA)
    return middle, spread


def _losses(logs: Floats) -> Losses:
    """From logarithms, array (3, courses)."""
    return Losses(*np.exp(logs))


def _drawn(at: Floats, covariance: Floats, courses: int = 50) -> Floats:
    """Courses of a spread, array (3, courses): the same for the same figures."""
    z = np.array([scores(courses, order) for order in (11, 12, 13)])
    out: Floats = at[:, None] + np.linalg.cholesky(covariance) @ z
    return out


class _Misses:
    """By how much the ends of falls are missed, in spreads, all fields' falls in one list.

    row : array, shape (falls,), of int, the field of each
    """

    def __init__(self, fields: Sequence[ToLearn]) -> None:
        self.row = np.repeat(np.arange(len(fields)), [len(f.falls) for f in fields])
        table = [(x.begins, x.ends, x.from_mm, x.to_mm) for f in fields for x in f.falls]
        begins, ends, self._first, self._last = np.array(table, float).reshape(-1, 4).T
        edges = begins[:, None] + (ends - begins)[:, None] * np.linspace(0, 1, STEPS + 1)
        moved = [f.record.between(edges[self.row == k]) for k, f in enumerate(fields)]
        self._use, self._water = (np.concatenate(x) for x in zip(*moved, strict=True))
        self._days = np.diff(edges, axis=1) / 24
        self._bund = np.array([f.field.bund_mm for f in fields])[self.row]
        self._aged = 2.0 ** (np.minimum(ends, 0.0) / 24 / HALVED_DAYS / 2)

    def __call__(self, logs: Floats) -> Floats:
        """Of logarithms, array (cases, fields, 3); out (cases, falls)."""
        cases = logs.shape[0]
        own = np.exp(logs[:, self.row]).reshape(-1, 3)
        losses = Losses(*own.T)

        def each(x: Floats) -> Floats:
            return np.concatenate([x] * cases)

        ran = run_water(
            each(self._first),
            losses,
            each(self._days),
            each(self._use),
            each(self._water),
            each(self._bund),
        ).level_mm[:, -1]
        last = each(self._last)
        # A day's use that strays moves a level below the surface by as much over the porosity.
        below = np.where((ran < 0) | (last < 0), losses.porosity, 1.0)
        sigma = np.hypot(
            np.sqrt(2) * READING_SIGMA_MM, USE_SIGMA * each(self._use).sum(axis=1) / below
        )
        out: Floats = (each(self._aged) * (ran - last) / sigma).reshape(cases, -1)
        return out


def _fitted(missed: _Misses, middle: Floats, spread: Floats) -> tuple[Floats, Floats]:
    """The likeliest logarithms, (fields, 3), and the information about them, (fields, 3, 3): by
    Levenberg and Marquardt's steps, falls that stray far counting less (Huber's loss made smooth).
    """
    fields, row = middle.shape[0], missed.row
    at, damping = middle.copy(), np.full(fields, 1e-2)
    moving = np.ones(fields, bool)
    steps = np.vstack([np.zeros(3), NUDGE * np.eye(3)])
    priors = np.apply_along_axis(np.diag, 1, spread**-2.0)

    def cost(r: Floats, x: Floats) -> Floats:
        out = np.bincount(row, 2 * (np.sqrt(1 + r**2) - 1), fields).astype(float)
        return out + (((x - middle) / spread) ** 2).sum(axis=1)

    for _ in range(ITERATIONS):
        r = missed(at[None] + steps[:, None])
        slope = (r[1:] - r[0]).T / NUDGE
        weight = 1 / np.sqrt(1 + r[0] ** 2)
        curve, pull = np.zeros((fields, 3, 3)), np.zeros((fields, 3))
        np.add.at(curve, row, weight[:, None, None] * slope[:, :, None] * slope[:, None, :])
        np.add.at(pull, row, (weight * r[0])[:, None] * slope)
        curve, pull = curve + priors, pull + (at - middle) / spread**2
        damped = curve + damping[:, None, None] * np.apply_along_axis(
            np.diag, 1, np.diagonal(curve, axis1=1, axis2=2)
        )
        tried = at - np.clip(np.linalg.solve(damped, pull[..., None])[..., 0], -1.0, 1.0)
        # A field that has settled stays, whoever else is still on the way.
        better = moving & (cost(missed(tried[None])[0], tried) <= cost(r[0], at))
        moving &= (np.abs(tried - at) >= SETTLED).any(axis=1)
        at = np.where(better[:, None], tried, at)
        damping = np.where(better, damping / 4, damping * 8)
        if not moving.any():
            break
    # Falls that agree less well than readings should leave the figures less sure.
    r = missed(at[None] + steps[:, None])
    slope = (r[1:] - r[0]).T / NUDGE
    count = np.maximum(np.bincount(row, minlength=fields), 1)
    apart = np.maximum(np.bincount(row, r[0] ** 2, fields) / count, 1.0)
    curve = np.zeros((fields, 3, 3))
    np.add.at(curve, row, slope[:, :, None] * slope[:, None, :])
    return at, curve / apart[:, None, None] + priors
