"""Spots for a probe: every cell scored by how well it stands for what it is to stand for.

Weights and limits are common practice, no source; each term is shown beside the score.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum

import numpy as np
from scipy import ndimage

from core.arrays import Bools, Floats, Ints
from core.siting.exclusions import NOT_EXCLUDED
from core.siting.raster import Raster
from core.siting.zones import SMOOTH_M, Feature

# A probe's surroundings that must be alike [m].
AROUND_M = 15.0
# Cells that a spot's share is told of, spread over the target.
SHARE_CELLS = 300
# Spreads in all layers together within which a cell is as the spot.
ALIKE = 1.0
# A walk that costs nothing, and one that is a burden [m].
SHORT_WALK_M, LONG_WALK_M = 50.0, 800.0
CABLE_M = 15.0
# A layer of the soil itself counts as much as so many of what grew on it [-]: of 1 to 30 what told
# the soil water of 120 simulated blocks best.
SOIL_COUNTS = 6.0
# Cells clear of a zone's border that its middle and spread are told by; of fewer all are taken.
FEWEST_CLEAR = 20
# Spots that are offered lie at least so far apart [m], and this share of the target's side.
APART_M, APART_SHARE = 40.0, 1 / 6


class ScoreTerm(StrEnum):
    """What a score is made of; each from 0 to 1."""

    NEAR = "near the median"
    EVEN = "even around"
    SHARE = "share it represents"
    WALK = "walk"
    CABLE = "cable"
    SIGHT = "sight"


WEIGHTS: dict[ScoreTerm, float] = {
    ScoreTerm.NEAR: 0.40,
    ScoreTerm.EVEN: 0.20,
    ScoreTerm.SHARE: 0.20,
    ScoreTerm.WALK: 0.08,
    ScoreTerm.CABLE: 0.04,
    ScoreTerm.SIGHT: 0.08,
}


@dataclass(frozen=True)
class Reach:
    """What a person has to reach, by cell; None where it is not asked for.

    Parameters
    ----------
    walk_m, cable_m : array, shape (cells,) [m], optional
        To the gate, and to a logger that has a place free.
    clearance_m : array, shape (cells,) [m], optional
        Of the line to the base station; see `sight.clearance`.
    """

    walk_m: Floats | None = None
    cable_m: Floats | None = None
    clearance_m: Floats | None = None


@dataclass(frozen=True)
class Scores:
    """The score of each cell and what it is made of.

    Parameters
    ----------
    score : array, shape (cells,) [0-100]
        NaN where a probe can't stand, or a layer does not know.
    terms : dict of ScoreTerm to array, shape (cells,) [0-1]
    off_median : array, shape (features, cells)
        Spreads of the target that each layer lies from its median there, both by its cells that
        are clear of other zones.
    """

    score: Floats
    terms: dict[ScoreTerm, Floats]
    off_median: Floats
    features: tuple[Feature, ...] = field(default=())


def scored(
    features: Sequence[Feature],
    raster: Raster,
    target: Bools,
    stands_for: Bools,
    excluded: Ints,
    reach: Reach | None = None,
) -> Scores:
    """Score every cell of the target.

    Parameters
    ----------
    features : sequence of Feature
        One at least.
    target : array of bool, shape (cells,)
        Where the probe may stand: its zone.
    stands_for : array of bool, shape (cells,)
        What it is to represent: the zone, or the whole block.
    excluded : array of int, shape (cells,)
        See `excluded_by`.
    """
    values = np.stack([f.value for f in features])
    known = np.asarray(np.isfinite(values).all(axis=0))
    if not (target & known).any():
        nothing = np.full(values.shape[1], np.nan)
        return Scores(nothing, {}, np.full(values.shape, np.nan), tuple(features))
    clear = _clear_of_others(target & known, known, raster)
    of_zone = values[:, clear]
    weight = np.array([f.trust(clear) * (SOIL_COUNTS if f.of_soil else 1.0) for f in features])
    weight = weight / max(weight.sum(), 1e-9)
    median = np.median(of_zone, axis=1)[:, None]
    spread = np.maximum(np.std(of_zone, axis=1), 0.05)[:, None]
    off = (values - median) / spread
    # Squares count: a spot that is wrong in one layer is wrong.
    away = np.sqrt((weight[:, None] * off**2).sum(axis=0))
    uneven = _unevenness(values, raster) / spread
    terms = {
        ScoreTerm.NEAR: np.exp(-(away**2)),
        ScoreTerm.EVEN: np.exp(-(weight[:, None] * uneven**2).sum(axis=0)),
        ScoreTerm.SHARE: _share(values / spread, weight, target & known, stands_for & known),
    }
    if reach is not None:
        terms |= _of_reach(reach)
    total = np.zeros(values.shape[1])
    sum_of_weights = np.zeros(values.shape[1])
    for term, value in terms.items():
        there = np.isfinite(value)
        total += np.where(there, value, 0) * WEIGHTS[term]
        sum_of_weights += there * WEIGHTS[term]
    score = 100 * total / np.where(sum_of_weights > 0, sum_of_weights, np.nan)
    possible = target & known & (excluded == NOT_EXCLUDED)
    return Scores(np.where(possible, score, np.nan), terms, off, tuple(features))


def _clear_of_others(target: Bools, known: Bools, raster: Raster) -> Bools:
    """Cells of the target that other cells did not blend with when layers were smoothed; all where
    few are left."""
    # What lies outside the block, or is not known, blends with nothing.
    alone = raster.spread_out((target | ~known).astype(float)) != 0
    if alone.all():
        return target
    away_m = ndimage.distance_transform_edt(alone)[raster.inside] * raster.cell_m
    clear: Bools = target & (away_m > SMOOTH_M)
    return clear if clear.sum() >= FEWEST_CLEAR else target


def _of_reach(reach: Reach) -> dict[ScoreTerm, Floats]:
    terms: dict[ScoreTerm, Floats] = {}
    if reach.walk_m is not None:
        terms[ScoreTerm.WALK] = np.clip(
            (LONG_WALK_M - reach.walk_m) / (LONG_WALK_M - SHORT_WALK_M), 0, 1
        )
    if reach.cable_m is not None:
        terms[ScoreTerm.CABLE] = np.where(reach.cable_m <= CABLE_M, 1.0, 0.0)
    if reach.clearance_m is not None:
        terms[ScoreTerm.SIGHT] = np.where(
            np.isnan(reach.clearance_m), np.nan, np.where(reach.clearance_m > 0, 1.0, 0.0)
        )
    return terms


def _unevenness(values: Floats, raster: Raster) -> Floats:
    """The spread of each layer around each cell, shape (features, cells)."""
    size = max(3, 2 * round(AROUND_M / raster.cell_m) + 1)
    found = np.empty(values.shape)
    for i, value in enumerate(values):
        picture = raster.spread_out(value)
        there = np.isfinite(picture)
        own = np.where(there, picture, 0.0)
        count, mean, square = (
            ndimage.uniform_filter(a, size, mode="constant")
            for a in (there.astype(float), own, own**2)
        )
        with np.errstate(invalid="ignore", divide="ignore"):
            variance = square / count - (mean / count) ** 2
        found[i] = np.sqrt(np.maximum(variance, 0))[raster.inside]
    return found


def _share(scaled: Floats, weight: Floats, target: Bools, stands_for: Bools) -> Floats:
    """Share of the cells to be represented that are as each cell of the target [-]."""
    places = np.flatnonzero(stands_for)
    if len(places) > SHARE_CELLS:
        places = places[np.linspace(0, len(places) - 1, SHARE_CELLS).astype(int)]
    root = np.sqrt(weight)[:, None]
    asked = (scaled[:, target] * root).astype(np.float32)
    sample = (scaled[:, places] * root).astype(np.float32)
    square = (asked**2).sum(0)[:, None] + (sample**2).sum(0)[None] - 2 * asked.T @ sample
    found = np.full(scaled.shape[1], np.nan)
    found[target] = (square <= ALIKE**2).mean(axis=1)
    return found


def ranked(scores: Scores, raster: Raster, most: int = 5) -> list[int]:
    """The best cells, best first, none near a better one."""
    x, y = raster.middles()
    left = scores.score.copy()
    side = float(np.isfinite(left).sum() * raster.cell_m2) ** 0.5
    apart_m = max(APART_M, APART_SHARE * side)
    found: list[int] = []
    while len(found) < most and np.isfinite(left).any():
        best = int(np.nanargmax(left))
        found.append(best)
        left[np.hypot(x - x[best], y - y[best]) < apart_m] = np.nan
    return found
