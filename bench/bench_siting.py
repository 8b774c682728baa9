"""Siting: how well zones and spots of simulated blocks are found, and how fast.

Forty blocks of two to four zones, a flip-flop in most, harvested with a monitor's usual faults;
zones, flips, spots and pairs beside their truth. "Half a spread" is told of the block's soil water
and of the zone's own.
"""

import time
from collections.abc import Iterable

import numpy as np
from shapely.geometry import box
from sklearn.metrics import adjusted_rand_score

from bench.figures import Figure, run
from core.siting.clean import clean
from core.siting.compact import compact
from core.siting.exclusions import Exclusion, ExclusionKind, excluded_by
from core.siting.gridding import gridded
from core.siting.raster import Raster, raster_over
from core.siting.sight import clearance
from core.siting.spots import Reach, ranked, scored
from core.siting.stability import Stability
from core.siting.yield_points import YieldPoints
from core.siting.zones import Feature, smooth
from core.world.siting_trial import SitingTrial, looked_at, trial_field

BLOCKS = 40
GOOD = 0.8
POINTS, WIDTH_M = 2_000_000, 6.0
# Of 250 ha: as many cells as a block has at most.
WIDE = box(10.0, 50.0, 10.022, 50.0142)
SCREEN_LAYERS = 5


def _spots(trials: list[SitingTrial]) -> dict[str, list[float]]:
    """How far spots and middles are from their zone's mean water, in spreads."""
    found: dict[str, list[float]] = {"block": [], "zone": [], "centre": []}
    for trial in trials:
        theta = trial.field.theta
        for spot in trial.spots:
            zone = trial.field.zone == np.bincount(trial.field.zone[spot.zone]).argmax()
            off = abs(theta[spot.cell] - theta[zone].mean())
            found["block"].append(off / theta.std())
            found["zone"].append(off / theta[zone].std())
            centre = abs(theta[spot.centre] - theta[zone].mean())
            found["centre"].append(centre / theta[zone].std())
    return found


def _within(values: list[float]) -> float:
    return 100 * float(np.mean(np.array(values) < 0.5))


def found_again(years: int, *, survey: bool) -> tuple[list[SitingTrial], float]:
    """Trials of all blocks, and the share of them whose zones are found [%]."""
    trials = [looked_at(trial_field(n), years, survey=survey) for n in range(BLOCKS)]
    agree = [adjusted_rand_score(t.field.zone, t.zones.label) for t in trials]
    return trials, 100 * float(np.mean(np.array(agree) >= GOOD))


def how_well() -> Iterable[Figure]:
    four, share = found_again(4, survey=True)
    yield Figure("zones found, four years and a survey", share, "%", 90, "at least")
    three, share = found_again(3, survey=True)
    yield Figure("zones found, three years and a survey", share, "%", 90, "at least")
    _, share = found_again(3, survey=False)
    yield Figure("zones found, three years alone", share, "%", 80, "at least")
    one, share = found_again(1, survey=False)
    yield Figure("zones found, one year alone", share, "%", 0, "at least")
    hit, wrong = [], []
    for trial in four:
        flips = trial.years.classes == Stability.FLIP_FLOP
        kinds = trial.field.kinds
        true = trial.field.zone == (kinds.index("flip-flop") if "flip-flop" in kinds else -1)
        wrong.append(flips[~true].mean())
        if true.any():
            hit.append(flips[true].mean())
    yield Figure("flip-flop found where it is", 100 * float(np.mean(hit)), "%", 75, "at least")
    yield Figure("flip-flop told elsewhere", 100 * float(np.mean(wrong)), "%", 2)
    spots = _spots(three)
    yield Figure(
        "spot within half the block's spread", _within(spots["block"]), "%", 90, "at least"
    )
    yield Figure("spot within half the zone's spread", _within(spots["zone"]), "%", 90, "at least")
    better = _within(spots["zone"]) - _within(spots["centre"])
    yield Figure("more often than the zone's middle", better, "points", 0, "at least")
    better = _within(spots["zone"]) - _within(_spots(one)["zone"])
    yield Figure("more often than by one year's map", better, "points", 0, "at least")
    told, true_gain = (np.array(g) for g in zip(*(t.gains for t in four), strict=True))
    pairs = true_gain > 0.05
    off = np.abs(told[pairs] - true_gain[pairs]) / true_gain[pairs]
    mean = abs(told[pairs].mean() / true_gain[pairs].mean() - 1)
    yield Figure("a pair's gain, mean of all blocks, off by", 100 * float(mean), "%", 20)
    yield Figure("a pair's gain within 20 %", 100 * float((off <= 0.2).mean()), "%", 60, "at least")


def _harvest(raster: Raster) -> YieldPoints:
    """Two million points up and down a block."""
    rng = np.random.default_rng(0)
    wide, high = raster.cols * raster.cell_m, raster.rows * raster.cell_m
    count = int(wide // WIDTH_M)
    along = np.linspace(0, high, POINTS // count)
    x = np.repeat(raster.west + WIDTH_M / 2 + WIDTH_M * np.arange(count), len(along))
    y = raster.north - high + np.concatenate([along[:: 1 - 2 * (i % 2)] for i in range(count)])
    value = 8 + np.sin(x / 80) + np.cos(y / 60) + rng.normal(0, 1, len(x))
    return YieldPoints(x, y, value, np.arange(len(x)) * 0.5, width_m=np.full(len(x), WIDTH_M))


def how_fast() -> Iterable[Figure]:
    raster = raster_over(WIDE, 5.0)
    points = _harvest(raster)
    began = time.perf_counter()
    kept = clean(points, raster.frame.geometry(WIDE)).kept
    grid = gridded(points.x[kept], points.y[kept], points.value[kept], raster)
    yield Figure("2 million points cleaned and gridded", time.perf_counter() - began, "s", 20)
    rng = np.random.default_rng(1)
    x, y = raster.middles()
    features = [
        Feature(str(i), smooth(grid.value + rng.normal(0, 1, len(x)), raster), 0.3)
        for i in range(4)
    ]
    everywhere = np.ones(len(x), bool)
    began = time.perf_counter()
    edge = Exclusion(ExclusionKind.EDGE, raster.frame.geometry(WIDE).boundary, 18.0)
    excluded = excluded_by(raster, [edge], [])
    over = clearance(0.01 * x, raster, (0.0, 0.0), 30.0)
    reach = Reach(walk_m=np.hypot(x, y), clearance_m=over)
    scores = scored(features, raster, everywhere, everywhere, excluded, reach)
    ranked(scores, raster)
    took = time.perf_counter() - began
    yield Figure(f"{len(x):,} cells scored and ranked", took, "s", 1)
    low, high = np.percentile(grid.value, [2, 98])
    size = SCREEN_LAYERS * len(compact(grid.value, raster, float(low), float(high)).data)
    yield Figure("five layers of that block on the wire", size / 1000, "kB", 300)


def measure() -> Iterable[Figure]:
    yield from how_fast()
    yield from how_well()


run(measure)
