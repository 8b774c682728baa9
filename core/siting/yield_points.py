"""The points of a yield monitor: what was harvested where, in the order it was harvested."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Bools, Floats, Ints

# A pass ends where the harvester turns, stands, or the record has a hole. Common practice, no
# source for these figures.
TURN_DEGREES = 45.0
HOLE_S = 5.0
HOLE_M = 25.0
# A step shorter than this has no direction of its own: receivers err by as much.
SHORTEST_STEP_M = 0.2
# Points usually farther apart are no record of a harvester on its way [m].
LONGEST_USUAL_STEP_M = 15.0


@dataclass(frozen=True)
class YieldPoints:
    """Points in the order of harvest.

    Parameters
    ----------
    x, y : array, shape (n,) [m]
        East and north on the block's map.
    value : array, shape (n,)
        What was harvested per area, in one unit for all.
    time_s : array, shape (n,) [s], optional
        Since any instant; NaN where a point has none.
    speed_m_s : array, shape (n,) [m/s], optional
    width_m : array, shape (n,) [m], optional
        Of the swath in use.
    """

    x: Floats
    y: Floats
    value: Floats
    time_s: Floats | None = None
    speed_m_s: Floats | None = None
    width_m: Floats | None = None

    def __len__(self) -> int:
        return len(self.x)


def speeds(points: YieldPoints) -> Floats | None:
    """Speed at each point [m/s]: as recorded, else from positions and times; None where neither.

    Returns
    -------
    array, shape (n,) or None
        NaN where a point's own can't be told.
    """
    if points.speed_m_s is not None:
        return points.speed_m_s
    if points.time_s is None or len(points) < 2:
        return None
    step = np.hypot(np.diff(points.x), np.diff(points.y))
    took = np.diff(points.time_s)
    with np.errstate(invalid="ignore", divide="ignore"):
        found = np.where((took > 0) & (took <= HOLE_S), step / took, np.nan)
    return np.concatenate([found[:1], found])


def headings(points: YieldPoints) -> Floats:
    """Direction of travel at each point, clockwise from north [degrees]; NaN where it stands.

    Returns
    -------
    array, shape (n,)
    """
    if len(points) < 2:
        return np.full(len(points), np.nan)
    east, north = np.diff(points.x), np.diff(points.y)
    found = np.degrees(np.arctan2(east, north)) % 360
    found[np.hypot(east, north) < SHORTEST_STEP_M] = np.nan
    return np.concatenate([found, found[-1:]])


def along_the_way(points: YieldPoints) -> bool:
    """Whether the points follow each other as a harvester records them."""
    if len(points) < 2:
        return False
    step = np.hypot(np.diff(points.x), np.diff(points.y))
    return float(np.median(step)) <= LONGEST_USUAL_STEP_M


def passes(points: YieldPoints) -> Ints:
    """The number of the pass that each point belongs to, from 0.

    A new one begins after a turn of `TURN_DEGREES` or more, a hole of `HOLE_S` in the times
    (where they are recorded), or a jump of `HOLE_M`.

    Returns
    -------
    array of int, shape (n,)
    """
    if len(points) < 2:
        return np.zeros(len(points), int)
    return np.concatenate([[0], np.cumsum(begins(points))])


def begins(points: YieldPoints) -> Bools:
    """Whether a pass begins at each point but the first, shape (n - 1,)."""
    heading = _carried(headings(points))
    turned = np.abs((np.diff(heading) + 180) % 360 - 180) >= TURN_DEGREES
    jumped = np.hypot(np.diff(points.x), np.diff(points.y)) >= HOLE_M
    # The direction of a point is the way to the next: the step across a jump has none.
    across = np.concatenate([jumped, [False]])
    turned &= ~across[:-1] & ~across[1:]
    if points.time_s is not None:
        took = np.diff(points.time_s)
        with np.errstate(invalid="ignore"):
            jumped |= (took >= HOLE_S) | (took < 0)
    return turned | jumped


def _carried(heading: Floats) -> Floats:
    """Directions with those of a harvester that stands taken from before."""
    known = np.where(np.isnan(heading), -1, np.arange(len(heading)))
    latest = np.maximum.accumulate(known)
    return np.where(latest < 0, 0.0, heading[np.maximum(latest, 0)])
