"""Yield points that tell nothing of the soil: found, named, and left out of the map.

References
----------
.. [1] Simbahan, G. C., Dobermann, A., Ping, J. L. (2004), Screening yield monitor data improves
   grain yield maps, Agronomy J. 96:1091-1102, doi:10.2134/agronj2004.1091.
.. [2] Vega, A. et al. (2019), Protocol for automating error removal from yield maps, Precision
   Agriculture 20:1030-1044, doi:10.1007/s11119-018-09632-8.
"""

from dataclasses import dataclass
from enum import IntEnum

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from core.arrays import Bools, Floats, Ints
from core.siting.local_outliers import local_outliers
from core.siting.overlap import harvested_before
from core.siting.yield_points import YieldPoints, along_the_way, passes, speeds


class Dropped(IntEnum):
    """Why a point is left out; the first reason that holds, in this order."""

    KEPT = 0
    OUTSIDE = 1
    NO_VALUE = 2
    HEADLAND = 3
    DELAY = 4
    SPEED = 5
    OVERLAP = 6
    OUTLIER = 7
    PUT_ASIDE = 8


@dataclass(frozen=True)
class Cleaning:
    """What is left out of a yield map. Figures are common practice, no source, where none is named.

    Parameters
    ----------
    headland_m : float [m]
        Strip along the edge where machines turn; 0 leaves it in.
    start_m, end_m : float [m]
        Way at either end of a pass on which the grain's flow rises and falls.
    slowest, fastest : float [-]
        Speeds, as shares of the usual one, beyond which the flow is not that of the place.
    jump : float [-]
        Change of speed from one point to the next, as a share, that upsets the flow [1]_.
    overlap : float [-]
        Share of the swath harvested before, beyond which the width is not what was counted.
    spreads : float [-]
        Robust spreads from what is harvested around, beyond which a point is an error [2]_.
    above_zero : bool
        Whether a value of zero or less is none, as of a yield.
    """

    headland_m: float = 12.0
    start_m: float = 12.0
    end_m: float = 6.0
    slowest: float = 0.4
    fastest: float = 1.8
    jump: float = 0.25
    overlap: float = 0.5
    spreads: float = 3.0
    above_zero: bool = True


# A survey has no harvester: how fast it went and where it turned changes nothing of its values.
AS_SURVEYED = Cleaning(
    headland_m=0.0,
    start_m=0.0,
    end_m=0.0,
    slowest=0.0,
    fastest=np.inf,
    jump=np.inf,
    overlap=1.0,
    spreads=4.0,
    above_zero=False,
)


@dataclass(frozen=True)
class Cleaned:
    """What became of each point.

    Parameters
    ----------
    why : array of int, shape (n,)
        A `Dropped` each.
    not_checked : tuple of Dropped
        What the file did not say enough for.
    """

    why: Ints
    not_checked: tuple[Dropped, ...]

    @property
    def kept(self) -> Bools:
        return self.why == Dropped.KEPT


def clean(
    points: YieldPoints,
    outline: Polygon | MultiPolygon,
    cleaning: Cleaning | None = None,
    put_back: Ints | None = None,
    put_aside: Ints | None = None,
) -> Cleaned:
    """Tell for each point whether it counts, and if not why.

    Parameters
    ----------
    outline : Polygon or MultiPolygon [m]
        Of the block, on the map of the points.
    put_back, put_aside : array of int, optional
        Points, by their places in the record, that a person wants in or out whatever the rules
        say. One outside the block can't be put back.
    """
    rules = cleaning or Cleaning()
    why = np.zeros(len(points), np.int8)
    not_checked: list[Dropped] = []

    def drop(reason: Dropped, which: Bools) -> None:
        why[which & (why == Dropped.KEPT)] = reason

    shapely.prepare(outline)
    inside = shapely.contains_xy(outline, points.x, points.y)
    drop(Dropped.OUTSIDE, ~inside)
    with np.errstate(invalid="ignore"):
        some = np.isfinite(points.value) & ((points.value > 0) | (not rules.above_zero))
    drop(Dropped.NO_VALUE, ~some)
    if rules.headland_m > 0:
        inner = outline.buffer(-rules.headland_m)
        shapely.prepare(inner)
        drop(Dropped.HEADLAND, ~shapely.contains_xy(inner, points.x, points.y))
    of_pass = passes(points)
    if along_the_way(points):
        drop(Dropped.DELAY, _at_ends(points, of_pass, rules.start_m, rules.end_m))
    elif rules.start_m > 0 or rules.end_m > 0:
        not_checked.append(Dropped.DELAY)
    speed = speeds(points)
    asked = np.isfinite(rules.fastest)
    if asked and speed is None:
        not_checked.append(Dropped.SPEED)
    elif asked and speed is not None:
        drop(Dropped.SPEED, _unsteady(speed, of_pass, rules))
    if rules.overlap < 1 and points.width_m is None:
        not_checked.append(Dropped.OVERLAP)
    elif rules.overlap < 1:
        drop(Dropped.OVERLAP, harvested_before(points, of_pass) > rules.overlap)
    kept = np.flatnonzero(why == Dropped.KEPT)
    if rules.spreads > 0 and len(kept):
        wrong = local_outliers(points.x[kept], points.y[kept], points.value[kept], rules.spreads)
        why[kept[wrong]] = Dropped.OUTLIER
    if put_aside is not None:
        drop(Dropped.PUT_ASIDE, _marked(put_aside, len(points)))
    if put_back is not None:
        back = _marked(put_back, len(points)) & (why > Dropped.NO_VALUE)
        why[back] = Dropped.KEPT
    return Cleaned(why, tuple(not_checked))


def _marked(places: Ints, count: int) -> Bools:
    marked = np.zeros(count, bool)
    marked[places[(places >= 0) & (places < count)]] = True
    return marked


def _at_ends(points: YieldPoints, of_pass: Ints, start_m: float, end_m: float) -> Bools:
    """Whether a point lies on the first or last metres of its pass."""
    if not len(points):
        return np.zeros(0, bool)
    step = np.concatenate([[0.0], np.hypot(np.diff(points.x), np.diff(points.y))])
    first = np.concatenate([[True], np.diff(of_pass) > 0])
    step[first] = 0
    way = np.cumsum(step)
    begin = np.flatnonzero(first)
    end = np.concatenate([begin[1:], [len(points)]]) - 1
    since, until = way - way[begin][of_pass], way[end][of_pass] - way
    return (since < start_m) | (until < end_m)


def _unsteady(speed: Floats, of_pass: Ints, rules: Cleaning) -> Bools:
    """Whether the harvester is far from its usual speed, or changes it at once."""
    moving = speed[np.isfinite(speed) & (speed > 0)]
    if not len(moving):
        return np.zeros(len(speed), bool)
    usual = float(np.median(moving))
    with np.errstate(invalid="ignore", divide="ignore"):
        found = (speed < rules.slowest * usual) | (speed > rules.fastest * usual)
        changed = np.abs(np.diff(speed)) > rules.jump * usual
    found[1:] |= changed & (np.diff(of_pass) == 0)
    return found
