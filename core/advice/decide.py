"""The decision for many blocks in one pass: state, dates with their range, amounts, reasons."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from functools import cached_property

import numpy as np

from core.advice.bounds import most_net_mm
from core.advice.cost_of_set import cost_of_set, wetting_mm
from core.advice.days_ahead import (
    CAUTION,
    Members,
    et0_ahead,
    run_expected,
    run_members,
    weather_ahead,
)
from core.advice.gather import AHEAD_DAYS, Gathered, gather
from core.advice.holds import Hold, around_holds
from core.advice.inputs import BlockInputs
from core.advice.latest_start import (
    days_by_loss,
    days_until_any_short,
    days_until_worth,
    taken_loss,
)
from core.advice.leaching_of_set import LeachingOfSet, leaching_of_set
from core.advice.little_and_often import daily_hours, waters_daily
from core.advice.members_hold import MembersHold, members_hold
from core.advice.members_need import members_need
from core.advice.state_now import by_crop, sensors_lead, state_of
from core.advice.to_the_end import ToTheEnd, to_the_end
from core.arrays import Bools, Floats
from core.crop.catalogue import Crop
from core.crop.season import CropSeason
from core.estimate.checkpoint import Checkpoint
from core.irrigation.amount import Amounts, Systems, irrigation_amounts
from core.outlook.ahead import Ahead, days_until_refill, quantile, rank
from core.state.track import Track

RANGE = (0.1, 0.5, 0.9)
# The chance of passing refill before the water comes that is taken; working assumptions, no
# source: one in five, and one in ten while the crop is at its most sensitive.
TAKEN_CHANCE, CRITICAL_CHANCE = 0.2, 0.1
SHOWN_DAYS = 10
CRITICAL_NEXT_DAYS = 7
# A set is worth giving once this share of RAW is used, where the system sets no smallest one.
WORTH_SHARE = 0.25
LEAST_DUE_MM = 5.0  # a usual set is for as much as the crop may use, and never for less [mm]
LIKELY_RAIN = 0.6
RAIN_WAIT_DAYS = 3
LIKELY_RAIN_DAYS = 2


@dataclass(frozen=True)
class Decisions:
    """Answers of blocks, arrays (blocks,) unless said otherwise; depths [mm].

    checkpoints : of each block, where its ensemble may go on from, see `state_now`
    expected : one case, `Ahead` of (blocks, 1, AHEAD_DAYS); its ET0 by day (AHEAD_DAYS,) and its
        usable water, (blocks, AHEAD_DAYS + 1)
    days_left : expected case; days_range (blocks, 3) at 10, 50 and 90 percent of the members;
        infinity beyond the outlook
    member_depletion_mm : (blocks, CASES), of each member now
    member_usable_mm : (blocks, CASES, AHEAD_DAYS + 1), of each at the start of each day
    members_hold : what is in the roots of each now, and at most
    most_net_mm : the most that a block may be told to give, see `core.advice.bounds`
    usable_range_mm : (blocks, 3, SHOWN_DAYS + 1), the dry tenth, the middle, the wet tenth
    chance_past : (blocks, SHOWN_DAYS + 1), that refill is passed by then [-]
    drained_mm : expected to leave the root zone within the days shown
    taken_chance : of passing refill that the latest start takes [-]; chance_days : when it is
        used up
    taken_loss : share of a day's transpiration that may be lost before the latest start, NaN where
        a refill point that a person set is the line; set_cost : what a usual set loses over what
        the roots keep of it [-]
    daily : of bool, whether water comes each day, little and often
    soil_hours : the latest start that the soil allows; infinity where none is in sight
    start_hours, start_deficit_mm, amounts : of the latest start once holds are respected
    end : until the crop is over
    finished : of bool, whether it needs no more water before that
    hold, before_hold : by block, the hold that moved the start, None where none did, and whether
        the set goes before it
    likely_rain_mm : that most members bring within two days of the start
    beyond_mm : left out because more was given lately than the roots can hold
    unsure_mm : left out of the amount because the depletion may be less than estimated
    unused_mm : left out because the crop is over before it would use it
    leaching : what of the amounts is to pass the roots
    earliest_hours : from when a set is worth giving
    rain_chance : that rain makes the set needless for three days [-]; NaN without a forecast
    wait_mm : water short on average after those three days without a set
    """

    gathered: Gathered
    track: Track
    checkpoints: tuple[tuple[Checkpoint, ...], ...]
    expected: Ahead
    usable_mm: Floats
    expected_et0_mm: Floats
    days_left: Floats
    days_range: Floats
    member_depletion_mm: Floats
    member_usable_mm: Floats
    members_hold: MembersHold
    most_net_mm: Floats
    usable_range_mm: Floats
    chance_past: Floats
    drained_mm: Floats
    critical: np.ndarray
    critical_next: np.ndarray
    taken_chance: Floats
    taken_loss: Floats
    set_cost: Floats
    chance_days: Floats
    daily: Bools
    soil_hours: Floats
    end: ToTheEnd
    finished: Bools
    start_hours: Floats
    hold: tuple[Hold | None, ...]
    before_hold: np.ndarray
    start_deficit_mm: Floats
    likely_rain_mm: Floats
    beyond_mm: Floats
    unsure_mm: Floats
    unused_mm: Floats
    amounts: Amounts
    leaching: LeachingOfSet
    earliest_hours: Floats
    rain_chance: Floats
    wait_mm: Floats

    @cached_property
    def members_need(self) -> tuple[Floats, Floats]:
        """Use and rain of the members of all blocks by calendar day, see `members_need`."""
        return members_need(self.gathered, self.track, AHEAD_DAYS + 1)


def _critical_span(crop: Crop) -> tuple[float, float] | None:
    """Book days of the crop's most sensitive window; None where the book has none."""
    if not crop.windows:
        return None
    window = max(crop.windows, key=lambda w: w.ky)
    ends = np.concatenate([[0.0], np.cumsum(crop.stage_days)])
    start, end = (float(np.interp(x, np.arange(5), ends)) for x in (window.start, window.end))
    return start, end


def _critical(g: Gathered) -> tuple[np.ndarray, np.ndarray]:
    """Whether each block is in its most sensitive window today, or soon will be."""
    spans = [_critical_span(s.crop) or (np.inf, np.inf) for s in g.seasons]
    start, end = np.array(spans).T[:, :, None]
    day = g.limits.crop.book_day[:, g.past_days : g.past_days + CRITICAL_NEXT_DAYS + 1]
    inside = (day >= start) & (day < end)
    return inside[:, 0], inside.any(axis=1) & ~inside[:, 0]


def _bears(g: Gathered) -> np.ndarray:
    """Where what the crop bears rules, and not a refill point that a person set."""
    now = g.past_days
    bears: np.ndarray = by_crop(g)[:, now] & ~sensors_lead(g)
    return bears


def _at_hours(daily: Floats, hours: Floats) -> Floats:
    """Values of a daily course at hours from now, straight between days; (blocks,)."""
    day = np.clip(hours / 24, 0, daily.shape[1] - 1)
    low = np.minimum(day.astype(int), daily.shape[1] - 2)
    rows = np.arange(daily.shape[0])
    share = day - low
    return daily[rows, low] * (1 - share) + daily[rows, low + 1] * share


def decide(
    blocks: Sequence[BlockInputs], seasons: Sequence[CropSeason], mornings: Sequence[date] = ()
) -> Decisions:
    """Decide for blocks of one farm at one instant.

    Parameters
    ----------
    blocks : sequence of BlockInputs
        All with the same ``now``, a crop and a stated ET.
    seasons : sequence of CropSeason
        Of each block, on the surface of its ET.
    mornings : sequence of date
        At which checkpoints are wanted, beside yesterday's.

    Notes
    -----
    The expected case has the forecast's mean ET0 and the rain that most members bring; its
    refill date is the date. The members, each with its own weather, state and use of water,
    give the range and the chances. The latest start is the expected date or, where it comes
    before, the day by which the chance that is taken (one in five, one in ten in the critical
    stage) is used up; past its sensitive stages with its end in sight a crop waits for the expected
    date, and gets no more than it still lacks. A machine that crosses the block starts earlier by
    its pass.
    """
    g = gather(blocks, seasons)
    state = state_of(g, weather_ahead(g), mornings)
    found, g = state.track, replace(g, zones=state.zones)
    expected = run_expected(g, found)
    ensemble = run_members(g, state)
    usable, members = expected.usable_mm[:, 0], ensemble.usable_mm
    days_left = days_until_refill(usable)
    member_left = days_until_refill(members)
    critical, critical_next = _critical(g)
    planned = np.array([bool(b.planned) for b in g.blocks])
    sigma = found.sigma_mm[:, -1]
    wetting = wetting_mm(g.kc[:, g.past_days], np.array([b.assumed.wetted_share for b in g.blocks]))
    usual = cost_of_set(np.maximum(expected.raw_mm[:, 0, 0], LEAST_DUE_MM), sigma, wetting)
    bears, may_lose = _bears(g), taken_loss(usual.cost, critical)
    by_loss = days_by_loss(ensemble.lost, may_lose, planned)
    by_chance = np.maximum(by_loss, days_until_any_short(members, CAUTION))
    chance = np.where(critical, CRITICAL_CHANCE, TAKEN_CHANCE)
    by_chance = np.where(bears, by_chance, quantile(member_left, chance))
    holds = members_hold(g, state)
    end = to_the_end(g, found, holds)
    waits = np.where(bears, np.minimum(end.may_wait_days, days_left), 0.0)
    by_chance = np.maximum(by_chance, waits)
    taken = (member_left <= np.nan_to_num(by_chance, posinf=0.0)[:, None]).mean(axis=1)
    systems = Systems.of([b.assumed.system for b in blocks])
    worth = days_until_worth(
        expected.depletion_mm[:, 0],
        (found.high_mm - found.depletion_mm)[:, -1],
        systems.smallest_mm * systems.efficiency,
        expected.raw_mm[:, 0, 0],
    )
    by_chance = np.where(bears, np.maximum(by_chance, worth), by_chance)
    needed = np.where(bears, by_chance, np.minimum(days_left, by_chance))
    daily = waters_daily(g)
    needed = np.where(daily, np.minimum(needed, daily_hours(g, expected) / 24), needed)
    # A crop that is over before it would miss the water needs none.
    depletion = expected.raw_mm[:, :, 0] - members[:, :, 0]
    refill_hours = np.where((needed < end.over_days) & ~end.enough, needed, np.inf) * 24
    _, at_refill, _ = amount_at(g, found, expected, refill_hours)
    # The last part has water when the first turn has come round.
    soil = np.maximum(refill_hours - np.where(systems.moves, at_refill.turn_hours, 0.0), 0.0)
    earliest = np.where(daily, refill_hours, _earliest(g, systems, expected))
    moved = [
        around_holds(float(s), float(run), float(first), b.holds)
        for s, run, first, b in zip(soil, at_refill.hours, earliest, blocks, strict=True)
    ]
    start = np.array([m.start_hours for m in moved])
    rain = _likely_rain(ensemble, start)
    due, _, _ = amount_at(g, found, expected, start)
    # What a day used is no more than is missing, however unsure that is.
    unsure = np.where(bears & ~daily, cost_of_set(due, sigma, wetting).left_out_mm, 0.0)
    most = most_net_mm(g, found, expected)
    unused = np.where(np.isfinite(start), np.maximum(due - end.lacking_mm, 0.0), 0.0)
    left_out = np.maximum(np.maximum(rain, unsure), unused)
    beyond = np.where(np.isfinite(start) & (due - left_out > most), due - most, 0.0)
    left_out = np.maximum(left_out, beyond)
    start_deficit, amounts, leaching = amount_at(g, found, expected, start, left_out)
    shown = members[..., : SHOWN_DAYS + 1]
    ordered = np.sort(shown, axis=1)
    return Decisions(
        gathered=g,
        track=found,
        checkpoints=state.checkpoints,
        expected=expected,
        usable_mm=usable,
        expected_et0_mm=et0_ahead(g).mean(axis=0),
        days_left=days_left,
        days_range=_range(member_left, days_left),
        member_depletion_mm=depletion,
        member_usable_mm=members,
        members_hold=holds,
        most_net_mm=most,
        usable_range_mm=ordered[:, rank(RANGE, ordered.shape[1])],
        chance_past=(np.minimum.accumulate(shown, axis=2) < 0).mean(axis=1),
        drained_mm=ensemble.drained_mm.sum(axis=2).mean(axis=1),
        critical=critical,
        critical_next=critical_next,
        taken_chance=taken,
        taken_loss=np.where(bears, may_lose, np.nan),
        set_cost=usual.cost,
        chance_days=by_chance,
        daily=daily,
        soil_hours=soil,
        end=end,
        finished=end.enough | (np.isinf(refill_hours) & (end.over_days <= AHEAD_DAYS)),
        start_hours=start,
        hold=tuple(m.hold for m in moved),
        before_hold=np.array([m.goes_before for m in moved]),
        start_deficit_mm=start_deficit,
        likely_rain_mm=rain,
        beyond_mm=beyond,
        unsure_mm=unsure,
        unused_mm=unused,
        amounts=amounts,
        leaching=leaching,
        earliest_hours=earliest,
        **_waiting(g, members, member_left, start),
    )


def _likely_rain(ensemble: Members, start_hours: Floats) -> Floats:
    """Rain that most members bring within two days of the start: room to leave for it [mm]."""
    first = np.where(np.isfinite(start_hours), start_hours / 24, 0).astype(int)
    last = ensemble.rain_mm.shape[2] - 1
    rows = np.arange(first.size)
    coming = sum(
        ensemble.rain_mm[rows, :, np.minimum(first + k, last)] for k in range(LIKELY_RAIN_DAYS)
    )
    out: Floats = np.median(np.asarray(coming), axis=1)
    return out


def amount_at(
    g: Gathered,
    found: Track,
    expected: Ahead,
    hours: Floats,
    rain_mm: Floats | float = 0.0,
) -> tuple[Floats, Amounts, LeachingOfSet]:
    """Deficit of each block in the expected case at hours from now, the amount for it, and the
    leaching in that.

    ``rain_mm`` is left to the rain, or because the estimate may be off. Where the hours are
    infinite both are nothing.
    """
    finite = np.where(np.isfinite(hours), hours, 0.0)
    deficit = _at_hours(np.maximum(expected.depletion_mm[:, 0], 0), finite)
    due = np.where(np.isfinite(hours), deficit, 0.0)
    systems = Systems.of([b.assumed.system for b in g.blocks])
    # Room kept anyway takes the likely rain in; only what it does not hold is left on top.
    room = np.maximum(np.array([b.assumed.rain_room_mm for b in g.blocks]), rain_mm)
    wanted = np.maximum(due - room, 0.0)
    leaching = leaching_of_set(g.blocks, found, wanted)
    return due, irrigation_amounts(due, systems, room, leaching.share), leaching


def _range(member_left: Floats, expected: Floats) -> Floats:
    """The members' 10, 50 and 90 percent, which the expected case never lies outside of."""
    ordered = np.sort(member_left, axis=1)[:, rank(RANGE, member_left.shape[1])]
    low, middle, high = ordered.T
    return np.stack([np.minimum(low, expected), middle, np.maximum(high, expected)], axis=1)


def _earliest(g: Gathered, systems: Systems, expected: Ahead) -> Floats:
    """Hours until a set is worth giving; infinity where it is not within the outlook."""
    deficit = expected.depletion_mm[:, 0]
    room = np.array([b.assumed.rain_room_mm for b in g.blocks])
    net = systems.smallest_mm * systems.efficiency
    worth = np.where(systems.smallest_mm > 0, net, WORTH_SHARE * expected.raw_mm[:, 0, 0])
    missing = (worth + room)[:, None] - deficit
    return days_until_refill(missing) * 24


def _waiting(
    g: Gathered, members: Floats, member_left: Floats, start_hours: Floats
) -> dict[str, Floats]:
    """What waiting for rain is worth: its chance, and what is short on average if it stays away.

    NaN without a forecast, and where water is planned: what comes then is not rain's alone.
    """
    blocks = start_hours.size
    if g.forecast.known_days == 0:
        return {"rain_chance": np.full(blocks, np.nan), "wait_mm": np.full(blocks, np.nan)}
    start = np.where(np.isfinite(start_hours), start_hours / 24, 0.0)
    covered = member_left > (start + RAIN_WAIT_DAYS)[:, None]
    then = np.minimum(np.ceil(start).astype(int) + RAIN_WAIT_DAYS, AHEAD_DAYS)
    short = np.maximum(-members[np.arange(blocks), :, then], 0.0).mean(axis=1)
    sight = np.isfinite(start_hours) & ~np.array([bool(b.planned) for b in g.blocks])
    return {
        "rain_chance": np.where(sight, covered.mean(axis=1), np.nan),
        "wait_mm": np.where(sight, short, np.nan),
    }
