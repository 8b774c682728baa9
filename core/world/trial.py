"""Whole seasons watered by several rules side by side, on fields that are not what is believed."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from enum import StrEnum
from zoneinfo import ZoneInfo

import numpy as np

from core.advice.assumptions import Assumptions
from core.advice.decide import Decisions, decide
from core.advice.inputs import BlockInputs, PastWeather, Watering
from core.advice.stated_et import StatedEt
from core.arrays import Floats
from core.crop.catalogue import crop
from core.crop.season import CropSeason, season_days
from core.estimate.checkpoint import Checkpoint
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.outlook.forecast import Forecast
from core.quality.flags import Flag
from core.soil.profile import Profile
from core.state.estimate_from import EstimateFrom
from core.weather.effective_rain import effective_rain
from core.world.climates import Climate, Season, simulate_season
from core.world.equipment import SPRINKLERS, Equipment
from core.world.fields import Believed
from core.world.layerings import Layering
from core.world.truths import LayeredTruth, RichardsTruth, Truth, TruthKind

FIRST = date(2026, 4, 15)
ZONE = ZoneInfo("UTC")
DECISION_HOUR = 6
DEEPEST_MM = 1500.0
# Errors of instruments: of the content between and within sensors, and of a tension.
THETA_BIAS, THETA_SLOPE, THETA_NOISE = 0.02, 0.05, 0.004
TENSION_NOISE, TENSION_KPA_NOISE = 0.03, 1.0
MATRIX_GAIN, MATRIX_FOLLOWS = 0.12, 0.63  # spread of gain; share followed in half a day
TENSIOMETER_ENDS_KPA, MATRIX_ENDS_KPA = 80.0, 200.0
# The sensor that fails, from when on, and how fast it drifts [m3/m3 per day].
FAILING, DRIFT_FROM_DAY, DRIFT_A_DAY = 2, 30, 0.002
# Room that the owner keeps for rain, as one does where it rains [mm].
ROOM = {Climate.ARID: 0.0, Climate.MIXED: 4.0, Climate.HUMID: 8.0}


# What perfect knowledge looks ahead [days]; how often and how far the days left are tried.
KNOWN_AHEAD = 2
TRIED_EVERY, TRIED_AHEAD = 7, 12


class Rule(StrEnum):
    """Who waters."""

    APP = "following the advice"
    CALENDAR = "fixed calendar"
    THRESHOLD = "threshold of one sensor"
    PERFECT = "perfect knowledge"


class Instruments(StrEnum):
    """What a field is read by."""

    PROBE = "probe 10/30/50/80 cm"
    DEEPER_PROBE = "probe 20/40/60/80 cm"
    TENSIOMETERS = "three tensiometers"
    MATRIX = "three granular-matrix sensors"
    WEEKLY = "three tensiometers read once a week"
    FAILING_PROBE = "probe 10/30/50/80 cm, one sensor drifting"
    NONE = "no instrument"


DEPTHS: dict[Instruments, tuple[float, ...]] = {
    Instruments.PROBE: (100.0, 300.0, 500.0, 800.0),
    Instruments.DEEPER_PROBE: (200.0, 400.0, 600.0, 800.0),
    Instruments.TENSIOMETERS: (200.0, 400.0, 600.0),
    Instruments.MATRIX: (200.0, 400.0, 600.0),
    Instruments.WEEKLY: (200.0, 400.0, 600.0),
    Instruments.FAILING_PROBE: (100.0, 300.0, 500.0, 800.0),
    Instruments.NONE: (),
}
_KINDS: dict[Instruments, InstrumentKind] = {
    Instruments.PROBE: InstrumentKind.CAPACITANCE_PROBE,
    Instruments.DEEPER_PROBE: InstrumentKind.CAPACITANCE_PROBE,
    Instruments.TENSIOMETERS: InstrumentKind.TENSIOMETER,
    Instruments.MATRIX: InstrumentKind.GRANULAR_MATRIX,
    Instruments.WEEKLY: InstrumentKind.TENSIOMETER,
    Instruments.FAILING_PROBE: InstrumentKind.CAPACITANCE_PROBE,
    Instruments.NONE: InstrumentKind.CAPACITANCE_PROBE,
}


@dataclass(frozen=True)
class Trial:
    """What a rule did in each field of a farm; arrays (fields, days) unless said otherwise.

    stressed : of bool, days on which the crop got less than 97 percent of what it wanted
    given_mm : net water; drained_mm : array (fields,)
    error_mm : stated depletion less the true one, each morning; NaN where nothing was stated
    held : of bool, whether the stated 80 percent range held the true depletion
    days_held : whether that of the days left held those that the field truly had without water, 1
        or 0; NaN on mornings on which it was not tried
    """

    stressed: np.ndarray
    given_mm: Floats
    drained_mm: Floats
    error_mm: Floats
    held: np.ndarray
    days_held: Floats


@dataclass(frozen=True)
class Farm:
    """The fields of one climate and season, as their owner knows them."""

    climate: Climate
    soils: tuple[Layering, ...]
    crops: tuple[str, ...]
    profiles: tuple[Profile, ...]
    seasons: tuple[CropSeason, ...]
    believed: tuple[Believed, ...]
    kcb: Floats
    weather: Season
    equipment: Equipment = SPRINKLERS

    @property
    def days(self) -> int:
        """Length of the season [days]."""
        return self.weather.et0_mm.size

    @property
    def count(self) -> int:
        """How many fields there are."""
        return len(self.profiles)

    def truth(self, kind: TruthKind, seed: int) -> Truth:
        """The fields as they are."""
        if kind is TruthKind.LAYERED:
            if self.equipment.strip < 1:
                raise ValueError("layered columns are watered all over")
            return LayeredTruth(self.believed, seed)
        root = np.array([b.root_mm for b in self.believed])
        return RichardsTruth(self.soils, self.crops, self.kcb, root, seed, self.equipment.strip)


def _basal(season: CropSeason) -> CropSeason:
    """The season with what goes through the crop alone."""
    first, mid, end = season.crop.kc
    kcb = season.crop.kcb or (first - 0.1, mid - 0.1, end - 0.1)
    return replace(season, crop=replace(season.crop, kc=kcb))


def make_farm(
    climate: Climate,
    soils: Sequence[Layering],
    crops: Sequence[str],
    days: int,
    seed: int,
    equipment: Equipment = SPRINKLERS,
) -> Farm:
    """One field for every soil and crop, and a season's weather."""
    rng = np.random.default_rng(seed)
    pairs = [(s, c) for s in soils for c in crops]
    profiles = tuple(s.told for s, _ in pairs)
    seasons = tuple(CropSeason(crop(c), FIRST) for _, c in pairs)
    basal = [_basal(s) for s in seasons]
    grown = season_days(basal, FIRST, days)
    believed = tuple(
        Believed(p, grown.kc[i], np.minimum(grown.root_mm[i], DEEPEST_MM), np.full(days, s.crop.p))
        for i, (p, s) in enumerate(zip(profiles, seasons, strict=True))
    )
    return Farm(
        climate,
        tuple(s for s, _ in pairs),
        tuple(c for _, c in pairs),
        profiles,
        seasons,
        believed,
        grown.kc,
        simulate_season(climate, days, rng),
        equipment,
    )


def content_errors(rng: np.random.Generator, shape: tuple[int, int]) -> tuple[Floats, Floats]:
    """Bias [m3/m3] and slope [-] of sensors of content, each (fields, sensors).

    Drawn before all else that a trial's instruments draw."""
    return rng.normal(0, THETA_BIAS, shape), np.exp(rng.normal(0, THETA_SLOPE, shape))


class _Readings:
    """The instruments of all fields: their own errors, and all that they have read."""

    def __init__(self, of: Instruments, fields: int, seed: int) -> None:
        self.of, self.depth_mm = of, np.array(DEPTHS[of])
        self._rng = np.random.default_rng(seed)
        shape = (fields, self.depth_mm.size)
        self._bias, self._slope = content_errors(self._rng, shape)
        self._gain = np.exp(self._rng.normal(0, MATRIX_GAIN, shape))
        self._follows: Floats | None = None
        self.hours: list[float] = []
        self.values: list[Floats] = []

    def read(self, truth: Truth, hours: float, day: int, evening: bool) -> None:
        """Read all sensors of all fields; ``hours`` since the first midnight."""
        if not self.depth_mm.size:
            return
        value = self._value(truth)
        if self.of is Instruments.FAILING_PROBE:
            value[:, FAILING] += DRIFT_A_DAY * max(day - DRIFT_FROM_DAY, 0)
        if self.of is Instruments.WEEKLY and (evening or day % 7):
            return
        self.hours.append(hours)
        self.values.append(value)

    def _value(self, truth: Truth) -> Floats:
        rng, shape = self._rng, self._bias.shape
        if _KINDS[self.of] is InstrumentKind.CAPACITANCE_PROBE:
            theta = np.column_stack([truth.content_at(d) for d in self.depth_mm])
            return theta * self._slope + self._bias + rng.normal(0, THETA_NOISE, shape)
        tension = np.column_stack([truth.tension_at(d) for d in self.depth_mm])
        if self.of is Instruments.MATRIX:
            before = tension if self._follows is None else self._follows
            self._follows = before + MATRIX_FOLLOWS * (tension - before)
            tension = self._follows * self._gain
        noisy = tension * np.exp(rng.normal(0, TENSION_NOISE, shape))
        noisy = noisy + rng.normal(0, TENSION_KPA_NOISE, shape)
        return np.clip(noisy, 0.0, MATRIX_ENDS_KPA)

    def sites(self, row: int, profile: Profile, now_hours: float) -> tuple[Site, ...]:
        """One field's instrument as the application gets it."""
        if not self.hours:
            return ()
        value = np.array([v[row] for v in self.values])
        kind = _KINDS[self.of]
        over = (kind is InstrumentKind.TENSIOMETER) & (value > TENSIOMETER_ENDS_KPA)
        flag = np.where(over, int(Flag.RANGE), 0)
        hours = np.array(self.hours) - now_hours
        return (Site.from_readings("site", kind, self.depth_mm, hours, value, profile, flag=flag),)


class _Owner:
    """What someone who waters keeps in mind: the water that was logged, and the rain."""

    def __init__(self, farm: Farm) -> None:
        self.farm = farm
        self.logged = np.zeros((farm.count, farm.days))


Decide = Callable[[int, Truth, _Readings, _Owner], Floats]


class _ByAdvice:
    """Waters in the day where the latest start falls before the next morning's look."""

    def __init__(self, farm: Farm, estimate_from: EstimateFrom) -> None:
        self.found: Decisions | None = None
        self._farm, self._estimate_from = farm, estimate_from

    def __call__(self, day: int, _: Truth, readings: _Readings, owner: _Owner) -> Floats:
        farm, w = self._farm, self._farm.weather
        on = FIRST + timedelta(days=day)
        now = datetime(on.year, on.month, on.day, DECISION_HOUR, tzinfo=ZONE)
        past = PastWeather(FIRST, w.et0_mm[:day])
        ahead = Forecast.of(w.forecast_et0_mm[day], w.forecast_rain_mm[day], 31)
        mean = float(w.forecast_et0_mm[day].mean())
        et = StatedEt(0.85 * mean, mean, 1.15 * mean, "forecast")
        rain = effective_rain(w.rain_mm[:day], w.et0_mm[:day]).infiltrated_mm
        back = (np.arange(day) - day) * 24.0
        rains = tuple(
            Watering(float(h) + 16 - DECISION_HOUR, float(mm) * farm.equipment.strip, is_rain=True)
            for h, mm in zip(back, rain, strict=True)
            if mm > 0
        )
        blocks = []
        for row, profile in enumerate(farm.profiles):
            given = tuple(
                Watering(float(h) + 12 - DECISION_HOUR, float(mm))
                for h, mm in zip(back, owner.logged[row, :day], strict=True)
                if mm > 0
            )
            assumed = Assumptions(
                profile=profile,
                season=farm.seasons[row],
                et=et,
                system=farm.equipment.system,
                wetted_share=farm.equipment.strip,
                forecast=ahead,
                rain_room_mm=ROOM[farm.climate],
                estimate_from=self._estimate_from,
            )
            blocks.append(
                BlockInputs(
                    now=now,
                    assumed=assumed,
                    sites=readings.sites(row, profile, day * 24.0 + DECISION_HOUR),
                    waterings=(*rains, *given),
                    past=past if day else None,
                    seed=row,
                    checkpoint=_newest(self.found, row),
                )
            )
        self.found = decide(blocks, farm.seasons)
        return np.where(self.found.start_hours < 24, self.found.amounts.net_mm, 0.0)


def _holds(found: Decisions, truth: Truth, weather: Season, day: int) -> Floats:
    """Whether the stated range of days left holds the day in which each field runs short; 1 or 0.

    What the field has beyond the days tried any stated end holds that reaches there.
    """
    left = truth.days_until_short(day, weather.et0_mm, weather.rain_mm, TRIED_AHEAD)
    low, high = found.days_range[:, 0], found.days_range[:, -1]
    beyond = np.isinf(left)
    held = np.where(beyond, high >= TRIED_AHEAD, (low <= left + 1) & (high >= left))
    return held.astype(float)


def _newest(found: Decisions | None, row: int) -> Checkpoint | None:
    """Where yesterday's ensemble of a field stood; None before there was one."""
    kept = found.checkpoints[row] if found else ()
    return kept[-1] if kept else None


def _by_calendar(day: int, _: Truth, __: _Readings, owner: _Owner) -> Floats:
    """Every few days the same depth: readily available water of the full-grown crop at a time."""
    farm = owner.farm
    out = np.zeros(farm.count)
    usual = float(farm.weather.et0_mm.mean())
    for row, b in enumerate(farm.believed):
        taw = b.profile.available_between(0.0, b.root_mm.max()).sum() * farm.equipment.strip
        depth = max(float(b.p_table[0]) * taw, farm.equipment.smallest_net_mm)
        every = max(int(depth / (usual * max(farm.seasons[row].crop.kc))), 1)
        out[row] = depth if day % every == every - 1 else 0.0
    return out


def _by_threshold(day: int, _: Truth, readings: _Readings, owner: _Owner) -> Floats:
    """When the second sensor stands at p of its available water: as much as p of the roots'."""
    farm = owner.farm
    out = np.zeros(farm.count)
    for row, b in enumerate(farm.believed):
        theta = float(readings.values[-1][row, 1])
        h = int(b.profile.horizon_at(readings.depth_mm[1:2])[0])
        full, wilt = float(b.profile.theta_full[h]), float(b.profile.theta_wilt[h])
        if (full - theta) / (full - wilt) >= b.p_table[day]:
            taw = b.profile.available_between(0.0, b.root_mm[day]).sum() * farm.equipment.strip
            out[row] = max(b.p_table[day] * taw, farm.equipment.smallest_net_mm)
    return out


def _by_truth(day: int, truth: Truth, _: _Readings, owner: _Owner) -> Floats:
    """Knows soil, roots and the days to come: fills up before the crop would be short."""
    w = owner.farm.weather
    due = np.isfinite(truth.days_until_short(day, w.et0_mm, w.rain_mm, KNOWN_AHEAD))
    coming = 0.5 * float(w.rain_mm[day : day + 2].sum())
    net = np.maximum(truth.depletion_mm(day) - coming, owner.farm.equipment.smallest_net_mm)
    return np.where(due, net / truth.arrives, 0.0)


def run_trial(
    farm: Farm,
    kind: TruthKind,
    rule: Rule,
    seed: int,
    instruments: Instruments = Instruments.PROBE,
    unlogged: float = 0.0,
    estimate_from: EstimateFrom = EstimateFrom.COMBINED,
) -> Trial:
    """Water a farm for a season by one rule.

    Parameters
    ----------
    farm : Farm
    kind : TruthKind
    rule : Rule
    seed : int
        Of the fields' truth and the instruments' errors: the same for all to be compared.
    instruments : Instruments
    unlogged : float [-]
        Share of the sets that nobody logs.
    estimate_from : EstimateFrom
        What the advice estimates the state from.
    """
    truth = farm.truth(kind, seed)
    readings = _Readings(instruments, farm.count, seed + 1)
    forgets = np.random.default_rng(seed + 2)
    owner, advice = _Owner(farm), _ByAdvice(farm, estimate_from)
    rules: dict[Rule, Decide] = {
        Rule.APP: advice,
        Rule.CALENDAR: _by_calendar,
        Rule.THRESHOLD: _by_threshold,
        Rule.PERFECT: _by_truth,
    }
    decides = rules[rule]
    shape = (farm.count, farm.days)
    stressed, held = np.zeros(shape, bool), np.zeros(shape, bool)
    given, error, drained = np.zeros(shape), np.full(shape, np.nan), np.zeros(farm.count)
    days_held = np.full(shape, np.nan)
    for day in range(farm.days):
        et0 = float(farm.weather.et0_mm[day])
        readings.read(truth, day * 24.0 + DECISION_HOUR, day, evening=False)
        net = decides(day, truth, readings, owner)
        if advice.found is not None and day:
            true, track = truth.depletion_mm(day), advice.found.track
            error[:, day] = track.depletion_mm[:, -1] - true
            held[:, day] = (track.low_mm[:, -1] <= true) & (true <= track.high_mm[:, -1])
            if day % TRIED_EVERY == 0 and day + TRIED_AHEAD <= farm.days:
                days_held[:, day] = _holds(advice.found, truth, farm.weather, day)
        rain, arrives = truth.reach(float(farm.weather.rain_mm[day]), net)
        given[:, day] = net
        owner.logged[:, day] = np.where(forgets.random(farm.count) < unlogged, 0.0, net)
        truth.until_evening(day, et0, rain, arrives)
        if kind is TruthKind.RICHARDS:
            readings.read(truth, day * 24.0 + 18, day, evening=True)
        stressed[:, day], lost = truth.until_morning(day, et0, rain, arrives)
        drained += lost
    return Trial(stressed, given, drained, error, held, days_held)
