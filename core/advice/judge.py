"""Judgements on a decision: state, reasons, confidence, how long past refill."""

import numpy as np

from core.advice.decide import LIKELY_RAIN, Decisions
from core.advice.history import FRESH_HOURS, History
from core.advice.vocabulary import Confidence, Reason, State
from core.irrigation.amount import BOUNDS, Bound
from core.state.filter import KNOWN_SHARE, WEIGHINGS, Weighing

SOON_HOURS = 72.0
NOW_HOURS = 24.0
MIN_SURPLUS_MM = 2.0
# Spread over RAW below which an answer is good or fair; working assumptions, no source.
GOOD_SPREAD, FAIR_SPREAD = 0.3, 0.6
# When a correction is news; working assumptions, no source: the use lies this many spreads and
# this share off the book; this much water [mm] came or failed to come in one day.
NEWS_SPREADS, NEWS_SHARE = 1.5, 0.1
NEWS_MM = 8.0
NEWS_DAYS = 7
HEAT_SHARE = 1.2
HEAT_DAYS = 5
LATELY_DAYS = 14
DRAINAGE_MM = 5.0


def is_known(d: Decisions, row: int) -> bool:
    """Whether anything may be said: the state is no mere guess, and who leads has a word."""
    g = d.gathered
    taw = g.zones.taw_mm[row, g.past_days]
    if g.told.weighing[row] == WEIGHINGS.index(Weighing.SENSORS):
        return any(s.believed.any() for s in g.blocks[row].sites)
    told = bool(g.blocks[row].sites) or any(not w.is_rain for w in g.blocks[row].waterings)
    # Neither a probe nor a logged set: nobody told what the block was given.
    if not told and g.told.weighing[row] != WEIGHINGS.index(Weighing.BALANCE):
        return False
    return bool(d.track.anchored[row] and d.track.sigma_mm[row, -1] < KNOWN_SHARE * taw)


def state_of(
    surplus_mm: float, deficit_mm: float, usable_mm: float, start_hours: float, held: bool = False
) -> State:
    """The block's state.

    ``start_hours`` is the latest start that the soil allows [h from now], infinity when far off;
    ``held``, that the block is not to be watered by then and has to wait.
    """
    if usable_mm < 0:
        return State.PAST_REFILL
    if surplus_mm >= MIN_SURPLUS_MM and surplus_mm > deficit_mm:
        return State.BRIMMING
    if held and start_hours <= SOON_HOURS:
        return State.HELD
    if start_hours <= NOW_HOURS:
        return State.WATER_NOW
    return State.WATER_SOON if start_hours <= SOON_HOURS else State.HOLDING


def reasons(d: Decisions, row: int, state: State) -> tuple[Reason, ...]:
    """What a person should know about the answer, in a fixed vocabulary."""
    told = [*_of_instruments(d, row), *_of_balance(d, row), *_of_days_ahead(d, row, state)]
    if state is State.BRIMMING:
        told.append(Reason.SURPLUS_DRAINING)
    return tuple(told)


def _of_instruments(d: Decisions, row: int) -> list[Reason]:
    """What the instruments leave open."""
    g, inputs = d.gathered, d.gathered.blocks[row]
    root = float(g.limits.root_mm[row, g.past_days])
    found = []
    if any(not s.believed.all() for s in inputs.sites):
        found.append(Reason.SENSOR_NOT_TRUSTED)
    heard = not np.isnan(g.observed.depletion_mm[row, -1])
    ages = g.seen.age_hours[g.seen.block == row, -1]
    if g.told.weighing[row] == WEIGHINGS.index(Weighing.BALANCE) or not inputs.sites:
        found.append(Reason.BY_BALANCE_ALONE)
    elif not heard or np.nanmax(ages, initial=0.0) > FRESH_HOURS:
        found.append(Reason.CARRIED_FROM_READING)
    if heard and g.observed.unseen_mm[row, -1] > 0:
        found.append(Reason.UNSEEN_BELOW_SENSORS)
    if g.observed.disagree[row]:
        found.append(Reason.SITES_DISAGREE)
    limit = inputs.profile.root_limit_mm
    if g.seasons[row].crop.root_schedule_mm > limit and root >= limit:
        found.append(Reason.PROFILE_STOPS_ROOTS)
    return found


def _of_balance(d: Decisions, row: int) -> list[Reason]:
    """Where the balance and the sensors keep contradicting each other, and the likely cause."""
    g, found = d.gathered, []
    if g.blocks[row].past is None:
        return []
    recorded = g.recorded[row, -min(NEWS_DAYS, g.past_days) :]
    if not recorded.all():
        found.append(Reason.ET_NOT_RECORDED)
    factor, sigma = float(d.track.use_factor[row, -1]), float(d.track.use_sigma[row, -1])
    if abs(factor - 1) > max(NEWS_SPREADS * sigma, NEWS_SHARE):
        found.append(Reason.USE_ABOVE_BOOK if factor > 1 else Reason.USE_BELOW_BOOK)
    moved = d.track.correction_mm[row, -NEWS_DAYS:]
    spread = d.track.forecast_sigma_mm[row, -NEWS_DAYS:]
    before = np.concatenate([[0.0], g.told.water_in_mm[row]])[-NEWS_DAYS:]
    # The first word of all is no correction.
    back = d.track.set_back[row, -NEWS_DAYS:]
    if back.any():
        found.append(Reason.BALANCE_SET_BACK)
    fair = ~back & (spread < KNOWN_SHARE * g.zones.taw_mm[row, g.past_days])
    if np.any(fair & (moved < -NEWS_MM) & (before < 1)):
        found.append(Reason.WATER_NOT_LOGGED)
    if np.any(fair & (moved > np.maximum(NEWS_MM, 0.4 * before)) & (before >= NEWS_MM)):
        found.append(Reason.SET_FELL_SHORT)
    return found


def _of_days_ahead(d: Decisions, row: int, state: State) -> list[Reason]:
    """What hurries the set, and what lets it wait."""
    g, found = d.gathered, []
    system = g.blocks[row].system
    ahead = np.isfinite(d.start_hours[row])
    if d.critical[row]:
        found.append(Reason.CRITICAL_STAGE)
    elif d.critical_next[row]:
        found.append(Reason.CRITICAL_STAGE_NEXT)
    next_days = float(g.forecast.expected_et0_mm[:HEAT_DAYS].mean())
    lately = g.et0_past_mm[row, -LATELY_DAYS:][g.recorded[row, -LATELY_DAYS:]]
    if g.forecast.known_days and lately.size and next_days > HEAT_SHARE * lately.mean():
        found.append(Reason.HEAT_AHEAD)
    use = float(d.expected.et_mm[row, 0, :7].mean())
    if system.application_rate_mm_h * 24 * system.efficiency < use:
        found.append(Reason.CANT_CATCH_UP)
    due = ahead and d.start_hours[row] <= SOON_HOURS
    if due and d.rain_chance[row] >= LIKELY_RAIN:
        found.append(Reason.RAIN_MAY_COVER)
    if due and state is not State.PAST_REFILL and d.earliest_hours[row] > d.start_hours[row]:
        found.append(Reason.NOT_WORTH_A_SET_YET)
    if g.forecast.known_days and d.drained_mm[row] >= DRAINAGE_MM:
        found.append(Reason.DRAINAGE_AHEAD)
    bound = BOUNDS[int(d.amounts.bound_index[row])]
    if ahead and bound is Bound.LARGEST_SET:
        found.append(Reason.LARGEST_SET)
    if ahead and bound is Bound.SMALLEST_SET:
        found.append(Reason.SMALLEST_SET)
    if ahead and g.blocks[row].leaching_share > 0:
        found.append(Reason.LEACHING_ADDED)
    return [*found, *_of_plans(d, row)]


def _of_plans(d: Decisions, row: int) -> list[Reason]:
    """What people decided for the block: sets to come, and stretches without water."""
    found = []
    planned = d.gathered.blocks[row].planned
    if planned:
        first = min(p.start_hours for p in planned)
        in_time = d.soil_hours[row] >= first
        found.append(Reason.PLANNED_IN_TIME if in_time else Reason.PLANNED_TOO_LATE)
    if d.hold[row] is not None:
        found.append(Reason.GO_BEFORE_HOLD if d.before_hold[row] else Reason.HELD)
    if np.isinf(d.soil_hours[row]) and np.isfinite(d.over_days[row]):
        found.append(Reason.ENOUGH_TO_FINISH)
    return found


def is_held(d: Decisions, row: int) -> bool:
    """Whether the set that the soil asks for has to wait."""
    return d.hold[row] is not None and not d.before_hold[row]


def confidence(d: Decisions, row: int) -> Confidence:
    """How sure the answer is, from the spread over RAW and the soil no sensor sees."""
    g, now = d.gathered, d.gathered.past_days
    spread = float(d.track.sigma_mm[row, -1] / g.zones.raw_mm[row, now])
    unseen = float(np.nan_to_num(g.observed.unseen_mm[row, -1]) / g.limits.root_mm[row, now])
    if spread <= GOOD_SPREAD and unseen <= 0.1:
        return Confidence.GOOD
    return Confidence.FAIR if spread <= FAIR_SPREAD and unseen <= 1 / 3 else Confidence.LOW


def past_refill_hours(past: History, usable_now: float) -> float | None:
    """For how long the block has been past refill; None when it is not."""
    if usable_now >= 0:
        return None
    known = ~np.isnan(past.usable_mm)
    held = np.flatnonzero(known & (past.usable_mm >= 0))
    since = past.hours[held[-1]] if held.size else past.hours[0]
    return float(-since)
