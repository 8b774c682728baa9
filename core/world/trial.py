"""Whole seasons watered by several rules side by side, on fields that are not what is believed."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from enum import StrEnum
from zoneinfo import ZoneInfo

import numpy as np

from core.advice.decide import decide
from core.advice.inputs import BlockInputs, PastWeather, StatedEt, Watering
from core.arrays import Floats
from core.balance.root_zone import stress_coefficient
from core.crop.catalogue import crop
from core.crop.season import CropSeason, season_days
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.irrigation.system import IrrigationSystem, SystemKind
from core.outlook.forecast import Forecast
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.state.filter import Weighing
from core.weather.effective_rain import effective_rain
from core.world.climates import Climate, Season, simulate_season
from core.world.fields import Believed, Day, Fields

FIRST = date(2026, 4, 15)
ZONE = ZoneInfo("UTC")
DECISION_HOUR = 6
DEPTHS_MM = np.array([100.0, 250.0, 450.0, 700.0])
MEMORY_DAYS = 40
SMALLEST_NET_MM = 8.0
EFFICIENCY = 0.8
THETA_BIAS, THETA_NOISE = 0.015, 0.003
FAULT_CHANCE = 0.004  # a day; a depth then stands still or jumps for some days
# Room that the owner keeps for rain, as one does where it rains [mm].
ROOM = {Climate.ARID: 0.0, Climate.MIXED: 4.0, Climate.HUMID: 8.0}


class Rule(StrEnum):
    """Who waters."""

    APP = "following the app"
    CALENDAR = "fixed calendar"
    THRESHOLD = "one sensor's threshold"
    BALANCE = "balance without sensors"
    PERFECT = "perfect knowledge"


@dataclass(frozen=True)
class Trial:
    """What a rule did in each field of a climate; arrays (fields,).

    stress_days : mornings with the true root zone past its true refill point
    days : counted; given_mm : net water; drained_mm : passed below 1.4 m; sets : how many
    """

    rule: Rule
    stress_days: Floats
    days: int
    given_mm: Floats
    drained_mm: Floats
    sets: Floats


@dataclass
class _Probes:
    """The sensors of all fields: their own errors, and what they said in the last mornings."""

    bias: Floats
    stuck_until: np.ndarray
    stuck_at: Floats
    said: list[Floats] = field(default_factory=list)

    @classmethod
    def of(cls, fields: int, rng: np.random.Generator) -> "_Probes":
        shape = (fields, DEPTHS_MM.size)
        return cls(rng.normal(0, THETA_BIAS, shape), np.zeros(shape, int), np.zeros(shape))

    def read(self, day: int, truth: Fields, rng: np.random.Generator) -> None:
        node = truth.node_mm
        at = np.searchsorted(node, DEPTHS_MM)
        share = (DEPTHS_MM - node[at - 1]) / (node[at] - node[at - 1])
        theta = truth.theta[:, at - 1] * (1 - share) + truth.theta[:, at] * share
        value = theta + self.bias + rng.normal(0, THETA_NOISE, theta.shape)
        fails = (rng.random(theta.shape) < FAULT_CHANCE) & (self.stuck_until <= day)
        self.stuck_until = np.where(fails, day + rng.integers(2, 8, theta.shape), self.stuck_until)
        jump = value + rng.choice([0.0, 0.08, -0.08], theta.shape)
        self.stuck_at = np.where(fails, jump, self.stuck_at)
        self.said.append(np.where(self.stuck_until > day, self.stuck_at, value))
        del self.said[:-MEMORY_DAYS]

    def site(self, row: int, profile: Profile) -> Site:
        """One field's probe as the application gets it, a reading each morning."""
        value = np.clip(np.array([s[row] for s in self.said]), 0.0, 0.6)
        hours = (np.arange(len(self.said)) - len(self.said) + 1) * 24.0
        kind = InstrumentKind.CAPACITANCE_PROBE
        return Site.from_readings("probe", kind, DEPTHS_MM, hours, value, profile)


@dataclass(frozen=True)
class Farm:
    """The fields of one climate and season, as their owner knows them."""

    climate: Climate
    profiles: tuple[Profile, ...]
    seasons: tuple[CropSeason, ...]
    believed: tuple[Believed, ...]
    weather: Season

    @property
    def days(self) -> int:
        """Length of the season [days]."""
        return self.weather.et0_mm.size


def make_farm(
    climate: Climate, textures: Sequence[TextureClass], crops: Sequence[str], days: int, seed: int
) -> Farm:
    """One field for every texture and crop, and a season's weather."""
    rng = np.random.default_rng(seed)
    profiles, seasons = [], []
    for texture in textures:
        profile = Profile.from_horizons([Horizon(0, 1400, texture=texture)])
        for key in crops:
            profiles.append(profile)
            seasons.append(CropSeason(crop(key), FIRST))
    grown = season_days(seasons, FIRST, days)
    believed = tuple(
        Believed(p, grown.kc[i], np.minimum(grown.root_mm[i], 1400.0), np.full(days, s.crop.p))
        for i, (p, s) in enumerate(zip(profiles, seasons, strict=True))
    )
    weather = simulate_season(climate, days, rng)
    return Farm(climate, tuple(profiles), tuple(seasons), believed, weather)


class _Owner:
    """What someone who waters keeps in mind: the sets given, and the rain that was measured."""

    def __init__(self, farm: Farm) -> None:
        self.farm = farm
        self.given = np.zeros((len(farm.profiles), farm.days))


Decide = Callable[[int, Fields, Day, _Probes, _Owner], Floats]
SYSTEM = IrrigationSystem(
    SystemKind.SOLID_SET,
    50_000,
    EFFICIENCY,
    rate_mm_h=5.0,
    smallest_mm=SMALLEST_NET_MM / EFFICIENCY,
)


def _by_app(weighing: Weighing) -> Decide:
    """Water in the day where the latest start falls before the next morning's look."""

    def decides(day: int, truth: Fields, _: Day, probes: _Probes, owner: _Owner) -> Floats:
        farm = owner.farm
        now = datetime.combine(FIRST + timedelta(days=day), datetime.min.time(), ZONE).replace(
            hour=DECISION_HOUR
        )
        begin = max(day - MEMORY_DAYS, 0)
        w = farm.weather
        past = PastWeather(FIRST + timedelta(days=begin), w.et0_mm[begin:day])
        ahead = Forecast.of(w.forecast_et0_mm[day], w.forecast_rain_mm[day], 31)
        mean = float(w.forecast_et0_mm[day].mean())
        et = StatedEt(0.85 * mean, mean, 1.15 * mean, "forecast")
        rain = effective_rain(w.rain_mm[begin:day], w.et0_mm[begin:day]).infiltrated_mm
        hours_back = (np.arange(begin, day) - day) * 24.0
        rains = tuple(
            Watering(float(h) + 14 - DECISION_HOUR, float(mm), 0.2, is_rain=True)
            for h, mm in zip(hours_back, rain, strict=True)
            if mm > 0
        )
        blocks = []
        for row, profile in enumerate(farm.profiles):
            sets = tuple(
                Watering(float(h) + 11 - DECISION_HOUR, float(mm))
                for h, mm in zip(hours_back, owner.given[row, begin:day], strict=True)
                if mm > 0
            )
            blocks.append(
                BlockInputs(
                    now=now,
                    profile=profile,
                    season=farm.seasons[row],
                    sites=(probes.site(row, profile),),
                    waterings=(*rains, *sets),
                    et=et,
                    system=SYSTEM,
                    past=past if day > begin else None,
                    forecast=ahead,
                    weighing=weighing,
                    rain_room_mm=ROOM[farm.climate],
                )
            )
        found = decide(blocks, farm.seasons)
        return np.where(found.start_hours < 24, found.amounts.net_mm, 0.0)

    return decides


def _calendar(day: int, truth: Fields, _: Day, probes: _Probes, owner: _Owner) -> Floats:
    """Every few days the same depth: readily available water of the full-grown crop at a time."""
    out = np.zeros(len(owner.farm.profiles))
    usual = float(owner.farm.weather.et0_mm.mean())
    for row, b in enumerate(owner.farm.believed):
        taw = b.profile.available_between(0.0, b.root_mm.max()).sum()
        depth = max(float(b.p_table[0]) * taw, SMALLEST_NET_MM)
        every = max(int(depth / (usual * b.kc.max())), 1)
        out[row] = depth if day % every == every - 1 else 0.0
    return out


def _threshold(day: int, truth: Fields, _: Day, probes: _Probes, owner: _Owner) -> Floats:
    """When one sensor stands at p of its available water: as much as p is of the root zone's."""
    out = np.zeros(len(owner.farm.profiles))
    for row, b in enumerate(owner.farm.believed):
        theta = probes.said[-1][row, 1]
        h = int(b.profile.horizon_at(DEPTHS_MM[1:2])[0])
        full, wilt = float(b.profile.theta_full[h]), float(b.profile.theta_wilt[h])
        if (full - theta) / (full - wilt) >= b.p_table[day]:
            taw = b.profile.available_between(0.0, b.root_mm[day]).sum()
            out[row] = max(b.p_table[day] * taw, SMALLEST_NET_MM)
    return out


class _ByBalance:
    """A daily balance on what is believed, without sensors; full at the start."""

    def __init__(self, farm: Farm) -> None:
        self.depletion = np.zeros(len(farm.profiles))

    def __call__(self, day: int, truth: Fields, _: Day, probes: _Probes, owner: _Owner) -> Floats:
        farm, w = owner.farm, owner.farm.weather
        kc = np.array([b.kc[day] for b in farm.believed])
        taw = np.array(
            [b.profile.available_between(0.0, b.root_mm[day]).sum() for b in farm.believed]
        )
        raw = np.array([b.p_table[day] for b in farm.believed]) * taw
        if day:
            rain = float(effective_rain(w.rain_mm[day - 1], w.et0_mm[day - 1]).infiltrated_mm)
            before = np.array([b.kc[day - 1] for b in farm.believed]) * w.et0_mm[day - 1]
            ks = stress_coefficient(self.depletion, taw, raw)
            moved = self.depletion + ks * before - rain - owner.given[:, day - 1]
            self.depletion = np.clip(moved, 0, taw)
        due = self.depletion + kc * w.et0_mm[max(day - 1, 0)] >= raw
        return np.where(due, np.maximum(self.depletion, SMALLEST_NET_MM), 0.0)


def _perfect(day: int, truth: Fields, now: Day, probes: _Probes, owner: _Owner) -> Floats:
    """Knows the soil, the roots and tomorrow: fills up when the day would pass refill."""
    w = owner.farm.weather
    tomorrow = min(day + 1, owner.farm.days - 1)
    kc = np.array([b.kc[day] for b in owner.farm.believed]) * truth.use
    rain = w.rain_mm[day] * truth.rain_share
    after = now.depletion_mm + kc * w.et0_mm[day] - rain
    due = after >= truth.morning(tomorrow, float(w.et0_mm[tomorrow])).raw_mm
    coming = rain + w.rain_mm[tomorrow] * truth.rain_share
    net = np.maximum(now.depletion_mm - 0.5 * coming, SMALLEST_NET_MM)
    return np.where(due, net / truth.set_share, 0.0)


def run_trial(farm: Farm, rule: Rule, seed: int, weighing: Weighing = Weighing.BLEND) -> Trial:
    """Water a farm for a season by one rule.

    Parameters
    ----------
    farm : Farm
    rule : Rule
    seed : int
        Of the fields' truth and the sensors' errors: the same for every rule to be compared.
    weighing : Weighing
        Which school the application follows.
    """
    rng = np.random.default_rng(seed)
    truth = Fields(farm.believed, rng)
    probes = _Probes.of(len(farm.profiles), rng)
    noise = np.random.default_rng(seed + 1)
    rules: dict[Rule, Decide] = {
        Rule.APP: _by_app(weighing),
        Rule.CALENDAR: _calendar,
        Rule.THRESHOLD: _threshold,
        Rule.BALANCE: _ByBalance(farm),
        Rule.PERFECT: _perfect,
    }
    decides = rules[rule]
    owner = _Owner(farm)
    stress, sets = (np.zeros(len(farm.profiles)) for _ in range(2))
    for day in range(farm.days):
        et0, rain = float(farm.weather.et0_mm[day]), float(farm.weather.rain_mm[day])
        now = truth.morning(day, et0)
        stress += now.depletion_mm > now.raw_mm + 0.5
        probes.read(day, truth, noise)
        net = decides(day, truth, now, probes, owner)
        owner.given[:, day] = net
        sets += net > 0
        truth.pass_day(day, et0, rain, net)
    return Trial(rule, stress, farm.days, owner.given.sum(axis=1), truth.drained_mm, sets)
