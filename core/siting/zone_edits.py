"""Zones as a person changed them: merged, and areas given to another one."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from shapely.geometry.base import BaseGeometry

from core.arrays import Ints
from core.siting.raster import Raster
from core.siting.soil_zones import cells_in

# Two zones are the same one before and after a change where they share this much of what either
# covers [-].
SAME_SHARE = 0.5


@dataclass(frozen=True)
class ZoneEdit:
    """An area on the raster's map [m] that a person gave to a zone."""

    zone: int
    area: BaseGeometry


def merged(label: Ints, into: Mapping[int, int]) -> Ints:
    """Zones put together; the numbers of those that are left stay as they were.

    Parameters
    ----------
    label : array of int, shape (cells,)
    into : mapping of int to int
        The zone that each goes with, which may go with another in turn.
    """
    found = label.copy()
    for zone in into:
        found[label == zone] = _end_of(zone, into)
    return found


def _end_of(zone: int, into: Mapping[int, int]) -> int:
    passed = {zone}
    while zone in into and into[zone] not in passed:
        zone = into[zone]
        passed.add(zone)
    return zone


def edited(label: Ints, edits: Sequence[ZoneEdit], raster: Raster) -> Ints:
    """Zones with areas given to others, the later ones over the earlier, shape (cells,)."""
    found = label.copy()
    for edit in edits:
        found[cells_in(edit.area, raster)] = edit.zone
    return found


def same_zones(before: Ints, after: Ints) -> dict[int, int]:
    """Which zone each one of before has become, shape (cells,) both.

    A zone is the same where what both cover is more than `SAME_SHARE` of what either covers
    (the Jaccard index): at most one can be.

    Returns
    -------
    dict of int to int
        Without those that are no longer there.
    """
    found: dict[int, int] = {}
    for zone in np.unique(before[before >= 0]):
        was = before == zone
        for other in np.unique(after[was & (after >= 0)]):
            now = after == other
            if (was & now).sum() > SAME_SHARE * (was | now).sum():
                found[int(zone)] = int(other)
    return found
