"""Which plants to read: how many leaves, how many in each zone, and in which order to walk."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from math import ceil

import numpy as np
from shapely.geometry import Point
from shapely.geometry.base import BaseGeometry

from core.arrays import Floats
from core.leaf.round import BAGGED_MIN, NOON_WINDOW_H
from core.leaf.solar_noon import solar_noon

# Leaves of a round: 12 to 24 are named; between them so many that the mean of a block as uneven as
# the last rounds is sure to this [MPa] (working assumption).
FEWEST, MOST = 12, 24
WANTED_SE_MPA = 0.04
USUAL_SD_MPA = 0.15
LEAST_PER_ZONE = 3
# To bag a leaf, and to cut and read one, walk and all [minutes] (working assumption, no source).
BAG_MIN, READ_MIN = 1.5, 5.0
# Plants at the edge of a block have another lot: none nearer to it than this share of its narrowest
# half is taken (working assumption, no source).
EDGE_SHARE = 0.25
GRID_SIDE = 40


def leaves_wanted(sd_mpa: float | None) -> int:
    """How many leaves a round of a block takes whose plants are so far apart [MPa]."""
    sd = USUAL_SD_MPA if sd_mpa is None else sd_mpa
    return int(np.clip(ceil((sd / WANTED_SE_MPA) ** 2), FEWEST, MOST))


def leaves_by_zone(leaves: int, shares: Mapping[str, float]) -> dict[str, int]:
    """Leaves of each zone by its ground, at least three in each, together at least as many as
    wanted; one nameless zone where there are none."""
    if not shares:
        return {"": leaves}
    total = sum(shares.values())
    parts = {z: leaves * s / total for z, s in shares.items()}
    return {z: max(LEAST_PER_ZONE, ceil(n - 1e-9)) for z, n in parts.items()}


@dataclass(frozen=True)
class Spot:
    """A plant to read: its place in the walk from 1, its zone and where it stands [degrees]."""

    place: int
    zone: str
    longitude: float
    latitude: float


def spread_over(outline: BaseGeometry, leaves: int) -> Floats:
    """Spots spread evenly over an outline, off its edge; array, shape (leaves, 2) [degrees].

    The farthest from all taken before comes next, beginning in the middle.
    """
    west, south, east, north = outline.bounds
    shrink = np.cos(np.radians((south + north) / 2))
    x = np.linspace(west, east, GRID_SIDE + 2)[1:-1]
    y = np.linspace(south, north, GRID_SIDE + 2)[1:-1]
    every = np.array([(a, b) for a in x for b in y])
    edge = np.array([outline.boundary.distance(Point(p)) for p in every])
    inside = np.array([outline.contains(Point(p)) for p in every])
    if not inside.any():
        middle = outline.representative_point()
        return np.repeat([[middle.x, middle.y]], leaves, axis=0)
    kept = inside & (edge >= EDGE_SHARE * edge[inside].max())
    found = every[kept]
    flat = found * [shrink, 1.0]
    first = int(((flat - flat.mean(axis=0)) ** 2).sum(axis=1).argmin())
    taken = [first]
    away = ((flat - flat[first]) ** 2).sum(axis=1)
    while len(taken) < min(leaves, found.shape[0]):
        taken.append(int(away.argmax()))
        away = np.minimum(away, ((flat - flat[taken[-1]]) ** 2).sum(axis=1))
    return found[taken]


def walking_order(spots: Floats) -> list[int]:
    """Order in which to walk spots, (spots, 2): from the south-western one always to the nearest
    that is left, then with crossings undone."""
    if spots.shape[0] < 3:
        return list(range(spots.shape[0]))
    flat = spots * [np.cos(np.radians(spots[:, 1].mean())), 1.0]
    apart = np.hypot(*(flat[:, None] - flat[None]).transpose(2, 0, 1))
    order = [int(flat.sum(axis=1).argmin())]
    left = set(range(flat.shape[0])) - set(order)
    while left:
        nearest = min(left, key=lambda k: (apart[order[-1], k], k))
        order.append(nearest)
        left.remove(nearest)
    improved = True
    while improved:
        improved = False
        for i in range(1, len(order) - 1):
            for j in range(i + 1, len(order)):
                after = apart[order[j], order[j + 1]] if j + 1 < len(order) else 0.0
                now = apart[order[i - 1], order[i]] + after
                joined = apart[order[i], order[j + 1]] if j + 1 < len(order) else 0.0
                if apart[order[i - 1], order[j]] + joined < now - 1e-12:
                    order[i : j + 1] = order[i : j + 1][::-1]
                    improved = True
    return order


def spots_of(zones: Sequence[tuple[str, BaseGeometry, int]]) -> tuple[Spot, ...]:
    """Plants to read in the order of the walk; ``zones`` are name, outline and leaves of each."""
    names: list[str] = []
    places = []
    for name, outline, leaves in zones:
        here = spread_over(outline, leaves)
        names += [name] * here.shape[0]
        places.append(here)
    if not places:
        return ()
    every = np.concatenate(places)
    return tuple(
        Spot(k, names[i], float(every[i, 0]), float(every[i, 1]))
        for k, i in enumerate(walking_order(every), start=1)
    )


@dataclass(frozen=True)
class RoundTimes:
    """When to do a round; all in UTC.

    bag_from : when to begin to bag; read_from, read_until : within the hours about solar noon
    fits : whether so many leaves are read within them
    """

    noon: datetime
    bag_from: datetime
    read_from: datetime
    read_until: datetime
    fits: bool


def round_times(on: date, longitude: float, leaves: int) -> RoundTimes:
    """When to bag and read so many leaves on a day, their middle at solar noon."""
    noon = solar_noon(on, longitude)
    window = timedelta(hours=NOON_WINDOW_H)
    half = min(timedelta(minutes=READ_MIN * leaves / 2), window)
    begins = noon - half
    return RoundTimes(
        noon=noon,
        bag_from=begins - timedelta(minutes=max(BAGGED_MIN, BAG_MIN * leaves)),
        read_from=begins,
        read_until=noon + half,
        fits=READ_MIN * leaves <= 2 * NOON_WINDOW_H * 60,
    )
