"""Whole seasons watered by several rules side by side, on fields that are not what is believed."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from core.advice.decide import Decisions
from core.arrays import Floats
from core.state.estimate_from import EstimateFrom
from core.world.by_advice import DECISION_HOUR, ByAdvice, Owner
from core.world.climates import Season
from core.world.farm import Farm
from core.world.field_readings import Instruments, Readings
from core.world.truths import Truth, TruthKind

# What perfect knowledge looks ahead [days]; how often and how far the days left are tried.
KNOWN_AHEAD = 2
TRIED_EVERY, TRIED_AHEAD = 7, 12


class Rule(StrEnum):
    """Who waters."""

    APP = "following the advice"
    CALENDAR = "fixed calendar"
    THRESHOLD = "threshold of one sensor"
    PERFECT = "perfect knowledge"


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


Decide = Callable[[int, Truth, Readings, Owner], Floats]


def _holds(found: Decisions, truth: Truth, weather: Season, day: int) -> Floats:
    """Whether the stated range of days left holds the day in which each field runs short; 1 or 0.

    What the field has beyond the days tried any stated end holds that reaches there.
    """
    left = truth.days_until_short(day, weather.et0_mm, weather.rain_mm, TRIED_AHEAD)
    low, high = found.days_range[:, 0], found.days_range[:, -1]
    beyond = np.isinf(left)
    held = np.where(beyond, high >= TRIED_AHEAD, (low <= left + 1) & (high >= left))
    return held.astype(float)


def _by_calendar(day: int, _: Truth, __: Readings, owner: Owner) -> Floats:
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


def _by_threshold(day: int, _: Truth, readings: Readings, owner: Owner) -> Floats:
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


def _by_truth(day: int, truth: Truth, _: Readings, owner: Owner) -> Floats:
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
    readings = Readings(instruments, farm.count, seed + 1)
    forgets = np.random.default_rng(seed + 2)
    owner, advice = Owner(farm), ByAdvice(farm, estimate_from)
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
