"""Judgements on decisions, for all blocks at once: state, reasons, confidence."""

from functools import cached_property

import numpy as np

from core.advice.bounds import drains_on, drier_than_read, refill_out_of_reach
from core.advice.decide import LIKELY_RAIN, Decisions
from core.advice.gather import AHEAD_DAYS
from core.advice.history import FRESH_HOURS, History
from core.advice.questions import NEWS_DAYS, NEWS_MM
from core.advice.run_of_set import run_of_set
from core.advice.vocabulary import Confidence, Reason, State
from core.arrays import Bools, Floats
from core.irrigation.amount import BOUNDS, Bound
from core.soil.water_table import root_bound_mm
from core.state.estimate_from import ESTIMATES_FROM, EstimateFrom

SOON_HOURS = 72.0
NOW_HOURS = 24.0
MIN_SURPLUS_MM = 2.0
# A water table feeds a crop where so much of its use rises; a surplus that takes longer than this
# through the layers below drains slowly [-, days] (working assumptions, no source).
FEEDS_SHARE, SLOW_DAYS = 0.1, 4.0
# Spread over RAW below which an answer is good or fair; working assumptions, no source.
GOOD_SPREAD, FAIR_SPREAD = 0.3, 0.6
# And by how much refill may come before it is expected [days, share of the days left].
GOOD_DAYS, GOOD_SHARE, FAIR_DAYS, FAIR_SHARE = 2.0, 0.5, 4.0, 0.8
# When a correction of the crop's use is news; working assumptions, no source: it lies this many
# spreads and this share off the book.
NEWS_SPREADS, NEWS_SHARE = 1.5, 0.1
APART_SPREADS = 3.0  # readings so far from what was expected contradict the balance
HEAT_SHARE = 1.2
HEAT_DAYS = 5
LATELY_DAYS = 14
DRAINAGE_MM = 5.0
USE_DAYS = 7
# From when on a start before the refill point, and a pass, are said to need a reason [days, h].
EARLY_DAYS, LONG_PASS_HOURS = 2.0, 12.0
# In the order in which they are tried: the first that holds is the state.
STATES = (
    State.FINISHED,
    State.BELOW_REFILL,
    State.ABOVE_FULL,
    State.ON_HOLD,
    State.IRRIGATE_NOW,
    State.IRRIGATE_SOON,
)


class Judgement:
    """What is held of the decisions of blocks; arrays (blocks,)."""

    def __init__(self, decisions: Decisions) -> None:
        self.d = decisions
        self.g = decisions.gathered
        self._now = self.g.past_days
        self._leads = self.g.estimate_from == ESTIMATES_FROM.index(EstimateFrom.SENSORS)
        self._by_balance = self.g.estimate_from == ESTIMATES_FROM.index(EstimateFrom.BALANCE)
        self._has_sites = np.array([bool(b.sites) for b in self.g.blocks])
        self._ahead = np.isfinite(decisions.start_hours)

    @cached_property
    def known(self) -> Bools:
        """Whether anything may be said: the state is no mere guess, and who leads has a word."""
        believed = np.array([any(s.believed.any() for s in b.sites) for b in self.g.blocks])
        # Neither a probe nor a logged set: nobody told what the block was given.
        by_reason = self._has_sites | self.g.tended
        return np.where(self._leads, believed, by_reason & self.d.track.known[:, -1])

    @cached_property
    def deficit_mm(self) -> Floats:
        """Water missing to full."""
        return np.maximum(self.d.track.depletion_mm[:, -1], 0.0)

    @cached_property
    def surplus_mm(self) -> Floats:
        """Water above full, as the sensors saw it or the balance has it."""
        seen = np.nan_to_num(self.g.observed.surplus_mm[:, -1])
        return np.maximum(np.maximum(seen, -self.d.track.depletion_mm[:, -1]), 0.0)

    @cached_property
    def usable_mm(self) -> Floats:
        """Water above refill; below zero past it."""
        return self.g.zones.raw_mm[:, self._now] - self.deficit_mm

    @cached_property
    def held(self) -> Bools:
        """Whether the set that the soil asks for has to wait for a hold to end."""
        return np.array([h is not None for h in self.d.hold]) & ~self.d.before_hold

    @cached_property
    def states(self) -> list[State]:
        """The state of each block; `Judgement.known` says whether it means anything."""
        surplus, start = self.surplus_mm, self.d.soil_hours
        tests = (
            self.d.finished,
            self.usable_mm < 0,
            (surplus >= MIN_SURPLUS_MM) & (surplus > self.deficit_mm),
            self.held & (start <= SOON_HOURS),
            start <= NOW_HOURS,
            start <= SOON_HOURS,
        )
        index = np.select(tests, range(len(STATES)), len(STATES))
        return [(*STATES, State.OK)[i] for i in index.tolist()]

    @cached_property
    def confidences(self) -> list[Confidence]:
        """How sure each answer is: from the spread of what is left over RAW, how much sooner than
        expected refill may come, the soil out of sight, and whether readings and balance agree."""
        spread = self.d.track.usable_sigma_mm[:, -1] / self.g.zones.raw_mm[:, self._now]
        unseen = np.nan_to_num(self.g.observed.unseen_mm[:, -1])
        share = unseen / self.g.limits.root_mm[:, self._now]
        left = np.minimum(self.d.days_left, AHEAD_DAYS)
        early = left - np.minimum(self.d.days_range[:, 0], AHEAD_DAYS)
        good = (spread <= GOOD_SPREAD) & (share <= 0.1) & ~self._disagree
        good &= ~drier_than_read(self.g.blocks)
        good &= early <= np.maximum(GOOD_DAYS, GOOD_SHARE * left)
        fair = (spread <= FAIR_SPREAD) & (share <= 1 / 3)
        fair &= early <= np.maximum(FAIR_DAYS, FAIR_SHARE * left)
        index = np.select([good, fair], [0, 1], 2)
        return [(Confidence.GOOD, Confidence.FAIR, Confidence.LOW)[i] for i in index.tolist()]

    @cached_property
    def _crossing(self) -> Bools:
        """Where water passes sensors at a time that nobody knows."""
        return np.array([b.crossing for b in self.g.blocks])

    @cached_property
    def _came(self) -> Bools:
        """Whether readings asked lately for water that nobody told of."""
        lately = self.d.track.unlogged_mm[:, -NEWS_DAYS:]
        return (lately.sum(axis=1) > NEWS_MM) & ~self._crossing

    @cached_property
    def _short(self) -> Bools:
        """Whether they did not find water that was logged lately."""
        lately = self.d.track.missing_mm[:, -NEWS_DAYS:]
        return (lately.sum(axis=1) > NEWS_MM) & ~self._crossing

    @cached_property
    def _disagree(self) -> Bools:
        """Whether readings and balance contradict each other."""
        apart = np.nan_to_num(np.abs(self.d.track.surprise)) > APART_SPREADS
        return self._came | self._short | apart

    @cached_property
    def reasons(self) -> list[tuple[Reason, ...]]:
        """What a person should know about each answer, in a fixed vocabulary."""
        by_reason = {
            **self._of_balance(),
            **self._of_instruments(),
            **self._of_days_ahead(),
            **self._of_plans(),
            **self._of_ground(),
            Reason.SURPLUS_DRAINING: np.array([s is State.ABOVE_FULL for s in self.states]),
        }
        names = tuple(by_reason)
        table = np.stack(list(by_reason.values()), axis=1).tolist()
        return [tuple(r for r, on in zip(names, row, strict=True) if on) for row in table]

    def _of_instruments(self) -> dict[Reason, Bools]:
        """What the instruments leave open."""
        g, now = self.g, self._now
        doubted = np.array([any(not s.believed.all() for s in b.sites) for b in g.blocks])
        heard = ~np.isnan(g.observed.depletion_mm[:, -1])
        age = np.zeros(len(g.blocks))
        if g.seen.block.size:
            np.maximum.at(age, g.seen.block, np.nan_to_num(g.seen.age_hours[:, -1]))
        alone = self._by_balance | ~self._has_sites
        root = g.limits.root_mm[:, now]
        limit = np.array([b.assumed.profile.root_limit_mm for b in g.blocks])
        wanted = np.array([s.crop.root_schedule_mm for s in g.seasons])
        return {
            Reason.SENSOR_EXCLUDED: doubted,
            Reason.BY_BALANCE_ALONE: alone,
            Reason.CARRIED_FROM_READING: ~alone & (~heard | (age > FRESH_HOURS)),
            Reason.UNSEEN_BELOW_SENSORS: heard & (g.observed.unseen_mm[:, -1] > 0),
            Reason.SITES_DISAGREE: g.observed.disagree,
            Reason.PROFILE_STOPS_ROOTS: (wanted > limit) & (root >= limit),
            Reason.DRIER_THAN_SENSOR_READS: drier_than_read(g.blocks),
            Reason.REFILL_OUT_OF_REACH: refill_out_of_reach(
                g, g.zones.raw_mm[:, now] / np.maximum(g.zones.taw_mm[:, now], 1e-9)
            ),
        }

    @cached_property
    def _would_run_off(self) -> Bools:
        """Whether more falls at one go than the soil takes in."""
        raw = self.g.zones.raw_mm[:, self._now]
        out = np.zeros(len(self.g.blocks), bool)
        for i in np.flatnonzero(self._ahead):
            run = run_of_set(self.g.blocks[i], float(self.d.amounts.gross_mm[i]), float(raw[i]))
            out[i] = run is not None and run.runs_off
        return out

    def _of_ground(self) -> dict[Reason, Bools]:
        """What lies below the roots."""
        g, now = self.g, self._now
        tables = [b.assumed.water_table for b in g.blocks]
        table = root_bound_mm(tables, g.blocks[0].now.date(), 1)[:, 0]
        wanted = np.array([s.crop.root_schedule_mm for s in g.seasons])
        hard = np.array([b.assumed.profile.root_limit_mm for b in g.blocks])
        use = g.kc[:, now] * np.array([b.assumed.stated_et.expected for b in g.blocks])
        surplus = np.maximum(self.surplus_mm - g.zones.held_mm[:, now], 0.0)
        return {
            Reason.WATER_TABLE_FEEDS: np.isfinite(table) & (g.rise_mm[:, now] >= FEEDS_SHARE * use),
            Reason.WATER_TABLE_IN_ROOTS: table < np.minimum(wanted, hard),
            Reason.WOULD_RUN_OFF: self._would_run_off,
            Reason.DRAINS_SLOWLY: surplus > SLOW_DAYS * g.zones.most_drained_mm[:, now],
        }

    def _of_balance(self) -> dict[Reason, Bools]:
        """Where balance and sensors keep contradicting each other, and the likely cause."""
        g, t = self.g, self.d.track
        runs = np.array([b.past is not None for b in g.blocks])
        recorded = g.recorded[:, -min(NEWS_DAYS, g.past_days) :].all(axis=1)
        factor = t.use_factor[:, -1]
        off = np.abs(factor - 1) > np.maximum(NEWS_SPREADS * t.use_sigma[:, -1], NEWS_SHARE)
        return {
            Reason.WATER_NOT_LOGGED: runs & self._came,
            Reason.IRRIGATION_FELL_SHORT: runs & self._short,
            Reason.BALANCE_SET_BACK: runs
            & self._disagree
            & ~self._came
            & ~self._short
            & ~self._crossing,
            Reason.PLACE_NOT_KNOWN: runs & self._crossing,
            Reason.MORE_APPLIED_THAN_USED: runs & (self.d.beyond_mm > 0),
            Reason.DRAINS_ON: runs & drains_on(g, t),
            Reason.ET_NOT_RECORDED: runs & ~recorded,
            Reason.USE_ABOVE_PUBLISHED: runs & off & (factor > 1),
            Reason.USE_BELOW_PUBLISHED: runs & off & (factor <= 1),
        }

    def _of_days_ahead(self) -> dict[Reason, Bools]:
        """What hurries the set, and what lets it wait."""
        d, g = self.d, self.g
        forecast = g.forecast.known_days > 0
        next_days = float(g.forecast.expected_et0_mm[:HEAT_DAYS].mean())
        recorded = g.recorded[:, -LATELY_DAYS:]
        count = recorded.sum(axis=1)
        lately = np.where(recorded, g.et0_past_mm[:, -LATELY_DAYS:], 0.0).sum(axis=1)
        hot = (count > 0) & (next_days * count > HEAT_SHARE * lately)
        use = d.expected.et_mm[:, 0, :USE_DAYS].mean(axis=1)
        systems = [b.assumed.system for b in g.blocks]
        gives = np.array([s.application_rate_mm_h * 24 * s.efficiency for s in systems])
        due = self._ahead & (d.start_hours <= SOON_HOURS)
        late = np.array([s is State.BELOW_REFILL for s in self.states])
        bound = d.amounts.bound_index
        salts = np.array([b.assumed.leaching_share > 0 for b in g.blocks])
        leaches = d.leaching.due_mm > 0
        salt = [b.assumed.leaching for b in g.blocks]
        short = np.array([x is not None and x.falls_short for x in salt])
        moves, turn = np.array([s.moves for s in systems]), d.amounts.turn_hours
        return {
            Reason.CRITICAL_STAGE: d.critical,
            Reason.CRITICAL_STAGE_NEXT: ~d.critical & d.critical_next,
            Reason.HEAT_AHEAD: forecast & hot,
            Reason.CANT_CATCH_UP: gives < use,
            Reason.RAIN_MAY_COVER: due & (np.nan_to_num(d.rain_chance) >= LIKELY_RAIN),
            Reason.NOT_WORTH_IRRIGATING_YET: due & ~late & (d.earliest_hours > d.start_hours),
            Reason.DRAINAGE_AHEAD: forecast & (d.drained_mm >= DRAINAGE_MM),
            Reason.MAXIMUM_APPLICATION: self._ahead
            & (bound == BOUNDS.index(Bound.MAXIMUM_APPLICATION)),
            Reason.MINIMUM_APPLICATION: self._ahead
            & (bound == BOUNDS.index(Bound.MINIMUM_APPLICATION)),
            Reason.LEACHING_ADDED: self._ahead & leaches,
            Reason.SALT_CARRIED_OFF: self._ahead & salts & ~leaches,
            Reason.LEACHING_FALLS_SHORT: short,
            Reason.SALT_LOWERS_USE: np.array([s.salt is not None for s in self.g.seasons]),
            Reason.DUE_EARLY: due & (d.chance_days + EARLY_DAYS <= d.days_left),
            Reason.MACHINE_TAKES_LONG: self._ahead & moves & (turn >= LONG_PASS_HOURS),
        }

    def _of_plans(self) -> dict[Reason, Bools]:
        """What people decided for the blocks: sets to come, and stretches without water."""
        d = self.d
        first = np.array(
            [min((p.start_hours for p in b.planned), default=np.nan) for b in self.g.blocks]
        )
        return {
            Reason.PLANNED_IN_TIME: d.soil_hours >= first,
            Reason.PLANNED_TOO_LATE: d.soil_hours < first,
            Reason.GO_BEFORE_HOLD: d.before_hold,
            Reason.ON_HOLD: self.held,
            Reason.ENOUGH_TO_FINISH: d.finished,
            Reason.MAY_BE_THE_LAST: d.unused_mm > 0,
        }


def below_refill_hours(past: History, usable_now: float) -> float | None:
    """For how long the block has been below refill; None when it is not."""
    if usable_now >= 0:
        return None
    known = ~np.isnan(past.usable_mm)
    held = np.flatnonzero(known & (past.usable_mm >= 0))
    since = past.hours[held[-1]] if held.size else past.hours[0]
    return float(-since)
