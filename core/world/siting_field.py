"""A simulated block with known zones: what its yields, survey and soil water are in truth."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy import ndimage
from shapely.geometry import box

from core.arrays import Floats, Ints
from core.siting.frame import Frame
from core.siting.raster import Raster, raster_over
from core.siting.years import YearKind
from core.siting.yield_points import YieldPoints

# What a kind of zone yields in a dry, a usual and a wet year, as a share of the block's usual;
# its clay [%], and its soil water at a given day [m3/m3].
KINDS = {
    "high": (1.12, 1.12, 1.12, 26.0, 0.27),
    "low": (0.85, 0.85, 0.85, 12.0, 0.17),
    "flip-flop": (0.82, 1.0, 1.14, 33.0, 0.32),
    "average": (1.0, 1.0, 1.0, 19.0, 0.22),
}
YEAR_PLACE = {YearKind.DRY: 0, YearKind.USUAL: 1, YearKind.WET: 2}
WIDTH_M = 6.0
SPEED_M_S = 1.8


@dataclass(frozen=True)
class SitingField:
    """The truth of a block, each array by the raster's cells.

    Parameters
    ----------
    zone : array of int, shape (cells,)
        By the order of `kinds`.
    soil : array, shape (cells,) [-]
        How heavy the soil is within its zone, in spreads.
    clay : array, shape (cells,) [%]
    theta : array, shape (cells,) [m3/m3]
    """

    raster: Raster
    kinds: tuple[str, ...]
    zone: Ints
    soil: Floats
    clay: Floats
    theta: Floats
    seed: int


def simulated_field(seed: int, kinds: Sequence[str], cell_m: float = 10.0) -> SitingField:
    """A block of 12 to 30 ha with a zone of each kind, borders winding."""
    rng = np.random.default_rng(seed)
    frame = Frame(10.0, 50.0)
    half = rng.uniform(170, 270, 2)
    outline = frame.geometry_in_degrees(box(-half[0], -half[1], half[0], half[1]))
    raster = raster_over(outline, cell_m)
    x, y = raster.middles()
    zone = _zones(rng, raster, x, y, half, len(kinds))
    return field_of(raster, zone, kinds, seed)


def field_of(raster: Raster, zone: Ints, kinds: Sequence[str], seed: int) -> SitingField:
    """The truth of a block whose zones are given: its soil varies within each.

    Parameters
    ----------
    zone : array of int, shape (cells,)
        By the order of ``kinds``, names of `KINDS`.
    """
    rng = np.random.default_rng([seed, 3])
    soil = smooth_field(rng, raster, 60.0)
    clay = np.array([KINDS[k][3] for k in kinds])[zone] + 2.0 * soil
    base = np.array([KINDS[k][4] for k in kinds])[zone]
    theta = base + 0.015 * soil + rng.normal(0, 0.004, len(zone))
    return SitingField(raster, tuple(kinds), zone, soil, clay, theta, seed)


def _zones(
    rng: np.random.Generator, raster: Raster, x: Floats, y: Floats, half: Floats, count: int
) -> Ints:
    """Every cell with the nearest of some seeds, borders bent by smooth fields."""
    bend = [40.0 * smooth_field(rng, raster, 80.0) for _ in range(2)]
    while True:
        seeds = rng.uniform(-0.8, 0.8, (count, 2)) * half
        away = np.hypot((x + bend[0])[:, None] - seeds[:, 0], (y + bend[1])[:, None] - seeds[:, 1])
        zone = away.argmin(axis=1)
        if np.bincount(zone, minlength=count).min() > 0.12 * len(zone):
            return zone


def smooth_field(rng: np.random.Generator, raster: Raster, range_m: float) -> Floats:
    """A random field with a mean of 0 and a spread of 1, alike within a distance."""
    margin = int(3 * range_m / raster.cell_m)
    shape = raster.rows + 2 * margin, raster.cols + 2 * margin
    wide = ndimage.gaussian_filter(rng.normal(size=shape), range_m / 2 / raster.cell_m)
    cut = wide[margin : margin + raster.rows, margin : margin + raster.cols][raster.inside]
    found: Floats = (cut - cut.mean()) / cut.std()
    return found


def true_yield(field: SitingField, kind: YearKind, year: int) -> Floats:
    """What a year yields in truth [t/ha], shape (cells,): zone, soil and what is the year's own."""
    rng = np.random.default_rng([field.seed, year])
    share = np.array([KINDS[k][YEAR_PLACE[kind]] for k in field.kinds])[field.zone]
    own = smooth_field(rng, field.raster, 50.0)
    level = {YearKind.DRY: 6.5, YearKind.USUAL: 8.5, YearKind.WET: 9.5}[kind]
    return level * (share + 0.02 * field.soil + 0.04 * own)


def harvested(field: SitingField, kind: YearKind, year: int) -> YieldPoints:
    """The points of a yield monitor with its usual faults, up and down the block."""
    rng = np.random.default_rng([field.seed, year, 1])
    true = field.raster.spread_out(true_yield(field, kind, year))
    raster = field.raster
    south = raster.north - raster.rows * raster.cell_m
    east = raster.west + raster.cols * raster.cell_m
    lanes = np.arange(raster.west + WIDTH_M / 2, east, WIDTH_M)
    steps = np.arange(south + 1, raster.north - 1, SPEED_M_S)
    x = np.repeat(lanes, len(steps)) + rng.normal(0, 0.1, len(lanes) * len(steps))
    y = np.concatenate([steps if i % 2 == 0 else steps[::-1] for i in range(len(lanes))])
    row = np.clip(((raster.north - y) // raster.cell_m).astype(int), 0, raster.rows - 1)
    col = np.clip(((x - raster.west) // raster.cell_m).astype(int), 0, raster.cols - 1)
    value = true[row, col] * (1 + rng.normal(0, 0.12, len(x)))
    place = np.tile(np.arange(len(steps)), len(lanes))
    value *= np.clip(place / 6, 0.2, 1)  # the grain's flow rises after the turn
    wrong = rng.random(len(x)) < 0.01
    value[wrong] *= rng.choice([0.05, 2.5], wrong.sum())
    time = np.arange(len(x)) + np.repeat(np.arange(len(lanes)), len(steps)) * 20.0
    return YieldPoints(x, y, np.maximum(value, 0), time, width_m=np.full(len(x), WIDTH_M))


def surveyed(field: SitingField) -> tuple[Floats, Floats, Floats]:
    """A conductivity survey: x, y [m] and shallow conductivity [mS/m], lines 15 m apart."""
    rng = np.random.default_rng([field.seed, 7])
    raster = field.raster
    east = raster.west + raster.cols * raster.cell_m
    south = raster.north - raster.rows * raster.cell_m
    x, y = (
        a.ravel()
        for a in np.meshgrid(
            np.arange(raster.west + 5, east, 15.0), np.arange(south + 2, raster.north, 4.0)
        )
    )
    at = raster.cell_at(x, y)
    x, y, at = x[at >= 0], y[at >= 0], at[at >= 0]
    return x, y, 8 + 1.1 * field.clay[at] + rng.normal(0, 2.0, len(x))
