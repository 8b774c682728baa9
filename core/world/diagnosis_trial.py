"""Diagnoses of simulated blocks with planted faults, and of others that only look like them."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from typing import cast

import numpy as np

from core.arrays import Floats
from core.diagnosis.block import RAIN, SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.diagnose import diagnose
from core.diagnosis.finding import Finding
from core.events.event import wetting_events
from core.events.record import SiteRecord
from core.events.supply import Supply
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.irrigation.intake import BASIC_INTAKE_MM_H
from core.quality.climbs import DAY_HOURS
from core.quality.judge import Sensors, Surroundings, judge
from core.quality.series import Series
from core.quality.water import Water
from core.soil.profile import Profile
from core.world.climates import Climate
from core.world.farm import Farm, make_farm
from core.world.field_readings import THETA_BIAS, THETA_NOISE, THETA_SLOPE
from core.world.irrigators import Habit, Run
from core.world.layerings import Layering
from core.world.planted import BlockIrrigator, Plant
from core.world.richards import CELL_MIDDLE_CM
from core.world.setup import BREAKS_AT_KPA, DAYS, DEPTH_MM, SITES, Setup
from core.world.spoiled import Spoilt, spoil
from core.world.true_causes import true_causes
from core.world.truths import LayeredTruth, RichardsTruth, TruthKind, tension_kpa
from core.world.watched import Watched, watch

CROPS = ("potato", "bean-dry")
SLOWER = 400.0


@dataclass(frozen=True)
class Diagnosed:
    """A block of a setup and what was planted in it, what was found, and what the columns
    themselves say: ``true`` is so, ``unclear`` is neither so nor clearly not so."""

    setup: Setup
    plant: Plant
    found: tuple[Finding, ...]
    true: frozenset[Cause]
    unclear: frozenset[Cause]
    block: SeenBlock = field(repr=False)

    def says(self, cause: Cause) -> bool:
        """Whether a cause was found."""
        return any(f.cause is cause for f in self.found)


TENSION_ENDS_KPA = 85.0


def diagnosed(
    setups: Sequence[Setup],
    soils: Sequence[Layering],
    climate: Climate,
    kind: TruthKind,
    seed: int,
) -> list[Diagnosed]:
    """A season of a block of every setup on every soil and crop, and what is found at its end."""
    rng = np.random.default_rng(seed)
    pairs = [(s, soil, crop) for s in setups for soil in soils for crop in CROPS]
    farm, truth = _farm(pairs, climate, kind, seed)
    habits = [_habit(s, farm, b * SITES, rng) for b, (s, _, _) in enumerate(pairs)]
    plants = [
        Plant(s.fault, int(rng.integers(*s.from_day)), float(rng.uniform(*s.size)))
        for s, _, _ in pairs
    ]
    irrigator = BlockIrrigator(habits, plants, SITES, truth.arrives, seed)
    stops = [s.stops_day if s.stops_day is not None else DAYS for s, _, _ in pairs]
    season = watch(farm, truth, _Stopping(irrigator, stops), _table(pairs, plants))
    return [
        _look(setup, plant, farm, truth, season, b, irrigator, np.random.default_rng([seed, b]))
        for b, ((setup, _, _), plant) in enumerate(zip(pairs, plants, strict=True))
    ]


@dataclass(frozen=True)
class _Stopping:
    """An irrigator who gives a block no more water from a day on."""

    of: BlockIrrigator
    days: Sequence[int]

    def runs(self, day: int, missing_mm: Floats) -> list[Run]:
        runs = self.of.runs(day, missing_mm)
        return [r for r in runs if day < self.days[r.field // SITES]]


def _farm(
    pairs: Sequence[tuple[Setup, Layering, str]], climate: Climate, kind: TruthKind, seed: int
) -> tuple[Farm, LayeredTruth | RichardsTruth]:
    """One farm of all blocks; each site of a block is a field of its own."""
    crops = {
        crop: make_farm(climate, [s for _, s, _ in pairs], [crop], DAYS, seed) for crop in CROPS
    }
    rows = [(crop, b) for b, (_, _, crop) in enumerate(pairs) for _ in range(SITES)]
    one = crops[CROPS[0]]
    farm = replace(
        one,
        soils=tuple(crops[c].soils[b] for c, b in rows),
        crops=tuple(c for c, _ in rows),
        profiles=tuple(crops[c].profiles[b] for c, b in rows),
        seasons=tuple(crops[c].seasons[b] for c, b in rows),
        believed=tuple(crops[c].believed[b] for c, b in rows),
        kcb=np.array([crops[c].kcb[b] for c, b in rows]),
    )
    truth = cast(LayeredTruth | RichardsTruth, farm.truth(kind, seed))
    roots = np.repeat([s.roots for s, _, _ in pairs], SITES)
    use = np.repeat([s.use for s, _, _ in pairs], SITES)
    slow = np.repeat([s.slow_below_mm for s, _, _ in pairs], SITES)[:, None]
    if isinstance(truth, LayeredTruth):
        truth.fields.use *= use
        truth.fields.roots *= roots
        truth.fields.ksat[truth.fields.node_mm >= slow] /= SLOWER
    else:
        truth.kcb *= use[:, None]
        truth.root_mm *= roots[:, None]
        truth.columns.ksat_cm_h[(slow <= CELL_MIDDLE_CM * 10)] /= SLOWER
    return farm, truth


def _habit(setup: Setup, farm: Farm, of: int, rng: np.random.Generator) -> Habit:
    believed = farm.believed[of]
    available = float(believed.profile.available_between(0.0, float(believed.root_mm.max())).sum())
    intake = BASIC_INTAKE_MM_H[believed.profile.limits[0].texture]
    rate = min(float(rng.uniform(*setup.rate)), 0.8 * intake)
    if setup.over_intake is not None:
        rate = intake * float(rng.uniform(*setup.over_intake))
    return Habit(
        due_mm=0.45 * available * float(rng.uniform(*setup.due)),
        share=float(rng.uniform(*setup.share)),
        rate_mm_h=rate,
        start_hour=int(rng.choice([6, 18, 21])),
    )


def _table(pairs: Sequence[tuple[Setup, Layering, str]], plants: Sequence[Plant]) -> Floats | None:
    if not any(np.isfinite(s.table_mm) for s, _, _ in pairs):
        return None
    out = np.full((len(pairs) * SITES, DAYS), np.inf)
    for b, ((setup, _, _), plant) in enumerate(zip(pairs, plants, strict=True)):
        # It comes up by 50 mm a day.
        comes = np.maximum(setup.table_mm, 1500.0 - 50.0 * (np.arange(DAYS) - plant.from_day))
        comes[: plant.from_day] = np.inf
        out[b * SITES : (b + 1) * SITES] = comes
    return out


def _look(
    setup: Setup,
    plant: Plant,
    farm: Farm,
    truth: LayeredTruth | RichardsTruth,
    season: Watched,
    block: int,
    irrigator: BlockIrrigator,
    rng: np.random.Generator,
) -> Diagnosed:
    sites = []
    for k in range(SITES):
        of = block * SITES + k
        spoilt = setup.spoilt if k == 0 else Spoilt.NONE
        record, numbers = _record(setup, spoilt, plant, farm, truth, season, of, rng)
        (events,) = wetting_events([record])
        profile = farm.profiles[of]
        horizon = profile.horizon_at(np.array(DEPTH_MM))
        full, wilt = profile.theta_full[horizon], profile.theta_wilt[horizon]
        refill = full - farm.seasons[of].crop.p * (full - wilt)
        sat = profile.theta_sat[horizon]
        sites.append(SeenSite(record, events, numbers, full, refill, sat))
    habit = irrigator.habit(block)
    texture = farm.profiles[block * SITES].limits[0].texture
    seen = SeenBlock(tuple(sites), habit.rate_mm_h, BASIC_INTAKE_MM_H[texture])
    labels = true_causes(setup, plant, farm, season, seen, block * SITES, irrigator)
    return Diagnosed(setup, plant, tuple(diagnose(seen)), *labels, seen)


def _record(
    setup: Setup,
    spoilt: Spoilt,
    plant: Plant,
    farm: Farm,
    truth: LayeredTruth | RichardsTruth,
    season: Watched,
    of: int,
    rng: np.random.Generator,
) -> tuple[SiteRecord, np.ndarray]:
    depth = np.array(DEPTH_MM)
    true = np.column_stack([season.content_at(of, d) for d in DEPTH_MM])
    hours = np.arange(true.shape[0]) - (true.shape[0] - 1.0)
    profile = farm.profiles[of]
    if setup.kind is InstrumentKind.TENSIOMETER:
        tension = np.column_stack(
            [tension_kpa(truth, of, d, true[:, j]) for j, d in enumerate(DEPTH_MM)]
        )
        value = _gauges(tension, setup.cause is Cause.COLUMN_BROKEN, rng)
    else:
        slope = np.exp(rng.normal(0, THETA_SLOPE, depth.size))
        read = true * slope + rng.normal(0, THETA_BIAS, depth.size)
        read = np.round(read + rng.normal(0, THETA_NOISE / 4, true.shape), 4)
        sensor = int(rng.integers(1, 3))
        value = spoil(read, spoilt, sensor, 24 * plant.from_day, plant.size, rng)
    supplies = [
        replace(s, start_hours=s.start_hours + hours[0], end_hours=s.end_hours + hours[0])
        for s in season.supplies[of]
    ]
    numbers = _numbers(supplies)
    flags = _flags(setup.kind, profile, depth, hours, value, supplies)
    site = Site.from_readings("probe", setup.kind, depth, hours, value, profile, flag=flags)
    day_hours = np.arange(farm.days) * DAY_HOURS + hours[0]
    use = farm.kcb[of] * farm.weather.et0_mm
    root = np.array(farm.believed[of].root_mm)
    return SiteRecord(site, 0.0, tuple(supplies), day_hours, root, use), numbers


def _numbers(supplies: Sequence[Supply]) -> np.ndarray:
    """Irrigations by when they began, alike at all sites of a block."""
    return np.array(
        [RAIN if s.is_rain else round(s.start_hours * 10) + 10**6 for s in supplies], int
    )


def _gauges(tension: Floats, breaks: bool, rng: np.random.Generator) -> Floats:
    """What tensiometers show; one whose column breaks falls to nothing once it is dry."""
    value = np.clip(tension * np.exp(rng.normal(0, 0.02, tension.shape)), 0, TENSION_ENDS_KPA)
    if breaks:
        high = np.flatnonzero(value[:, 0] >= BREAKS_AT_KPA)
        late = high[high >= 24 * 50]
        if late.size:
            from_row = int(late[0]) + 1
            value[from_row:, 0] = rng.uniform(0, 3, value.shape[0] - from_row)
    out: Floats = np.round(value, 0)
    return out


def _flags(
    kind: InstrumentKind,
    profile: Profile,
    depth: Floats,
    hours: Floats,
    value: Floats,
    supplies: Sequence[Supply],
) -> np.ndarray:
    """What the rules for readings say of an instrument's."""
    count = depth.size
    rows = [np.flatnonzero(~np.isnan(value[:, j])) for j in range(count)]
    series = Series.of(
        np.concatenate([np.full(r.size, j) for j, r in enumerate(rows)]),
        np.concatenate([hours[r] for r in rows]),
        np.concatenate([value[r, j] for j, r in enumerate(rows)]),
    )
    tension = kind is InstrumentKind.TENSIOMETER
    high = TENSION_ENDS_KPA if tension else 1.0
    sensors = Sensors(
        instrument=np.zeros(count, int),
        block=np.zeros(count, int),
        is_theta=np.full(count, not tension),
        is_tension=np.full(count, tension),
        is_tensiometer=np.full(count, tension),
        low=np.zeros(count),
        high=np.full(count, high),
        theta_sat=profile.theta_sat[profile.horizon_at(depth)],
        depth_mm=depth,
    )
    water = Water(
        np.zeros(len(supplies), np.int64),
        np.array([s.start_hours for s in supplies]),
        np.array([s.end_hours for s in supplies]),
    )
    clock = series.hours % DAY_HOURS
    around = Surroundings(water, Water.none(), clock, np.full(clock.shape, np.nan))
    found = judge(series, sensors, around)
    out = np.zeros(value.shape, int)
    start = 0
    for j, r in enumerate(rows):
        out[r, j] = found[start : start + r.size]
        start += r.size
    return out
