"""A season on a farm with limited pumps, its irrigations decided each morning by one rule.

The truth is a soil store for each block with stress as in FAO-56, on weather that the forecast only
knows in part; it shares the store's arithmetic with the planner, so it tells what planning is worth
and not whether the balance is right.
"""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum

import numpy as np

from core.arrays import Floats
from core.plan.make_plan import PlannedSet, cheapest_plan, make_plan
from core.plan.plan_block import FixedSet, PlanBlock
from core.plan.shared import M3_H_PER_L_S, Shared
from core.plan.slots import DAYS, SLOT_H, SLOTS_PER_DAY
from core.world.plan_farms import drawn_farm

MEMBERS = 20
MONTH_DAYS = 30
# How far a forecast is off: ET of a day, and of all days of a member together (standard deviations
# of their logarithms); how often it has a rain that comes, and one that does not.
ET_DAY, ET_ALL, RAIN_SEEN, RAIN_FALSE = 0.08, 0.08, 0.6, 0.04
# What is known of the store each morning is off by so much [mm].
STORE_MM = 3.0
RAIN_CHANCE, RAIN_MM = 0.06, 9.0
# The season's use rises to its middle and falls again, from so much of it.
EARLY = 0.6


class SeasonRule(StrEnum):
    """What decides each morning."""

    PLAN = "plan"
    URGENT = "most urgent first"
    CALENDAR = "calendar"


@dataclass(frozen=True)
class SharedSeason:
    """What a season came to.

    stress_mm, lost : lacking of crop use, over the farm's mean hectare [mm]; money of it
    power, water, peak, labour : money
    energy_kwh, water_m3, peak_kw : of the season; the highest month's peak
    """

    stress_mm: float
    lost: float
    power: float
    water: float
    peak: float
    labour: float
    energy_kwh: float
    water_m3: float
    peak_kw: float

    @property
    def total(self) -> float:
        """Money of it all."""
        return self.lost + self.power + self.water + self.peak + self.labour


@dataclass
class _Truth:
    """The farm as it is; use and rain (blocks, days), depletion (blocks,) [mm]."""

    shared: Shared
    blocks: Sequence[PlanBlock]
    use_mm: Floats
    rain_mm: Floats
    depletion_mm: Floats
    running: list[PlannedSet] = field(default_factory=list)
    lacking_mm: Floats = field(default_factory=lambda: np.zeros(0))
    draws_kw: Floats = field(default_factory=lambda: np.zeros((0, 0)))


def shared_season(
    rule: SeasonRule, blocks: int, sources: int, load: float, seed: int, days: int
) -> SharedSeason:
    """A season of a drawn farm, decided by one rule.

    Parameters
    ----------
    load : float [-]
        Of the sources in the middle of the season, see `core.world.plan_farms.drawn_farm`.
    days : int
        Of the season; the same farm, weather and forecasts for every rule.
    """
    shared, drawn = drawn_farm(blocks, sources, load, seed, MEMBERS)
    # What a day's plan may not do is no part of a season's truth.
    drawn = [replace(b, allowed=np.ones_like(b.allowed)) for b in drawn]
    rng = np.random.default_rng([seed, 1])
    shape = EARLY + (1 - EARLY) * np.sin(np.pi * np.arange(days + DAYS) / days).clip(0.0)
    mean = np.array([float(b.use_mm.mean()) for b in drawn])
    use = mean[:, None] * shape * rng.lognormal(0.0, 0.1, days + DAYS)
    falls = rng.random(days + DAYS) < RAIN_CHANCE
    rain = np.where(falls, rng.gamma(1.0, RAIN_MM, days + DAYS), 0.0)
    truth = _Truth(
        shared=shared,
        blocks=drawn,
        use_mm=use,
        rain_mm=np.broadcast_to(rain, use.shape),
        depletion_mm=np.array([0.3 * float(b.raw_mm[0]) for b in drawn]),
        lacking_mm=np.zeros(blocks),
        draws_kw=np.zeros((sources, days * SLOTS_PER_DAY)),
    )
    believed = truth.depletion_mm.copy()
    sums = {"power": 0.0, "water": 0.0, "labour": 0.0, "kwh": 0.0, "m3": 0.0}
    for day in range(days):
        ahead = _ahead(truth, day, [seed, 2, day])
        if rule is SeasonRule.CALENDAR:
            ahead = _by_calendar(ahead, believed, mean * shape.mean())
        sets = _decided(rule, _with_peak(truth, day), ahead)
        begun = [s for s in sets if s.start < SLOTS_PER_DAY]
        for s in begun:
            _pay(truth, s, day, sums)
        _pass_day(truth, day, begun)
        given = _given(truth, begun)
        believed = np.maximum(believed + mean * shape.mean() - given, 0.0)
    months = range(0, days, MONTH_DAYS)
    peaks = np.array([truth.draws_kw[:, _slots(m, m + MONTH_DAYS)].max(axis=1) for m in months])
    price = np.array([s.peak_price for s in shared.sources])
    area = sum(b.gross_m3_mm for b in drawn)
    weights = np.array([b.gross_m3_mm for b in drawn]) / area
    return SharedSeason(
        stress_mm=float((truth.lacking_mm * weights).sum()),
        lost=float(sum(m * b.loss_per_mm for m, b in zip(truth.lacking_mm, drawn, strict=True))),
        power=sums["power"],
        water=sums["water"],
        peak=float((peaks * price).sum()),
        labour=sums["labour"],
        energy_kwh=sums["kwh"],
        water_m3=sums["m3"],
        peak_kw=float(peaks.sum(axis=1).max()),
    )


def _slots(first_day: int, end_day: int) -> slice:
    return slice(first_day * SLOTS_PER_DAY, end_day * SLOTS_PER_DAY)


def _ahead(truth: _Truth, day: int, seed: Sequence[int]) -> list[PlanBlock]:
    """The blocks as they are known in the morning, what runs standing."""
    rng = np.random.default_rng(list(seed))
    span = slice(day, day + DAYS)
    noise = rng.lognormal(0.0, ET_ALL, (MEMBERS, 1)) * rng.lognormal(0.0, ET_DAY, (MEMBERS, DAYS))
    seen = rng.random((MEMBERS, DAYS)) < RAIN_SEEN
    false = np.where(
        rng.random((MEMBERS, DAYS)) < RAIN_FALSE, rng.gamma(1.0, RAIN_MM, (MEMBERS, DAYS)), 0.0
    )
    out = []
    for b, block in enumerate(truth.blocks):
        own = [s for s in truth.running if s.block == b]
        store = truth.depletion_mm[b] + rng.normal(0.0, STORE_MM, MEMBERS)
        out.append(
            replace(
                block,
                depletion_mm=np.maximum(store, 0.0),
                use_mm=truth.use_mm[b, span] * noise,
                rain_mm=np.where(seen, truth.rain_mm[b, span], false),
                fixed=tuple(FixedSet(s.start, s.slots, s.net_mm) for s in own),
            )
        )
    return out


def _by_calendar(ahead: Sequence[PlanBlock], believed: Floats, usual_mm: Floats) -> list[PlanBlock]:
    """The same by the season's mean use, with no rain and no reading: days since the last one."""
    return [
        replace(
            block,
            depletion_mm=np.full(1, believed[b]),
            use_mm=np.full((1, DAYS), usual_mm[b]),
            rain_mm=np.zeros((1, DAYS)),
        )
        for b, block in enumerate(ahead)
    ]


def _with_peak(truth: _Truth, day: int) -> Shared:
    """What is shared, with the peak of the month so far."""
    month = day // MONTH_DAYS * MONTH_DAYS
    so_far = truth.draws_kw[:, _slots(month, day)].max(axis=1, initial=0.0)
    sources = tuple(
        replace(s, peak_so_far_kw=float(kw))
        for s, kw in zip(truth.shared.sources, so_far, strict=True)
    )
    return replace(truth.shared, sources=sources)


def _decided(
    rule: SeasonRule, shared: Shared, blocks: Sequence[PlanBlock]
) -> tuple[PlannedSet, ...]:
    if rule is SeasonRule.PLAN:
        return make_plan(shared, blocks).sets
    return cheapest_plan(shared, blocks).by_urgency


def _pay(truth: _Truth, s: PlannedSet, day: int, sums: dict[str, float]) -> None:
    block = truth.blocks[s.block]
    source = truth.shared.sources[block.source]
    m3 = s.net_mm * block.gross_m3_mm
    sums["m3"] += m3
    sums["kwh"] += m3 * source.kwh_m3
    sums["power"] += (
        m3 * source.kwh_m3 * float(source.price_kwh[s.start : s.start + s.slots].mean())
    )
    sums["water"] += m3 * source.water_price
    sums["labour"] += block.labour
    kw = block.flow_l_s * M3_H_PER_L_S * source.kwh_m3
    begin = day * SLOTS_PER_DAY + s.start
    truth.draws_kw[block.source, begin : begin + s.slots] += kw


def _given(truth: _Truth, begun: Sequence[PlannedSet]) -> Floats:
    """What the day's new irrigations bring in all [mm net]; array (blocks,)."""
    given = np.zeros(len(truth.blocks))
    for s in begun:
        given[s.block] += s.net_mm
    return given


def _pass_day(truth: _Truth, day: int, begun: Sequence[PlannedSet]) -> None:
    """A day by its slots: rain in the morning, water as it runs, stress where the store is low."""
    raw = np.array([float(b.raw_mm[0]) for b in truth.blocks])
    taw = np.array([float(b.taw_mm[0]) for b in truth.blocks])
    store = np.maximum(truth.depletion_mm - truth.rain_mm[:, day], 0.0)
    runs = [*truth.running, *begun]
    for slot in range(SLOTS_PER_DAY):
        for s in runs:
            if s.start <= slot < s.start + s.slots:
                store[s.block] -= s.net_mm / s.slots
        np.maximum(store, 0.0, out=store)
        use = truth.use_mm[:, day] * SLOT_H / 24
        stress = np.clip((taw - store) / (taw - raw), 0.0, 1.0)
        truth.lacking_mm += use * (1 - stress)
        store = np.minimum(store + use * stress, taw)
    truth.depletion_mm = store
    truth.running = [_rest(s) for s in runs if s.start + s.slots > SLOTS_PER_DAY]


def _rest(s: PlannedSet) -> PlannedSet:
    """What of an irrigation is left after the day."""
    left = s.start + s.slots - SLOTS_PER_DAY
    if s.start >= SLOTS_PER_DAY:
        return replace(s, start=s.start - SLOTS_PER_DAY)
    return replace(s, start=0, slots=left, net_mm=s.net_mm * left / s.slots)
