"""Blocks whose soil store is kept in a band of its own: of the leaf, or of a plan of less water.

The store itself, its outlook and what it is made of are those of `core.advice.decide`; a rule says
between which depletions it is kept.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np

from core.advice.answer import Assessment, Outlook
from core.advice.assess import answers_of, season_or_why, with_past, with_state
from core.advice.assess import assess as soil_answer
from core.advice.assess import block_learned as soil_learned
from core.advice.assess import block_past as soil_past
from core.advice.at_risk import starting_at
from core.advice.decide import (
    LIKELY_RAIN,
    RAIN_WAIT_DAYS,
    RANGE,
    SHOWN_DAYS,
    Decisions,
    decide,
)
from core.advice.explain_days import day_rows
from core.advice.gather import AHEAD_DAYS
from core.advice.history import History
from core.advice.inputs import BlockInputs
from core.advice.instants import instant, whole_hour
from core.advice.judge import EARLY_DAYS, LONG_PASS_HOURS, NOW_HOURS, SOON_HOURS, below_refill_hours
from core.advice.learned import Learned
from core.advice.needs_ahead import NeedsAhead, needs_of
from core.advice.season_course import SeasonCourse
from core.advice.season_course import season_course as soil_course
from core.advice.vocabulary import Confidence, Reason, State
from core.advice.working import DayRow
from core.crop.season import IN_SEASON, CropSeason, Stage
from core.irrigation.amount import Bound
from core.limits.in_force import LimitsInForce
from core.limits.root_zone import RootZoneLimits
from core.outlook.ahead import rank
from core.regime.store_band import LEAST_ROOM_MM, BandDecision, StoreBand, decide_band

# What the soil's own rule says of its timing; a band says it anew, or does not have it.
ABOUT_TIMING = frozenset(
    {
        Reason.RAIN_MAY_COVER,
        Reason.GO_BEFORE_HOLD,
        Reason.ON_HOLD,
        Reason.PLANNED_IN_TIME,
        Reason.PLANNED_TOO_LATE,
        Reason.MAXIMUM_APPLICATION,
        Reason.MINIMUM_APPLICATION,
        Reason.LEACHING_ADDED,
        Reason.SALT_CARRIED_OFF,
        Reason.DUE_EARLY,
        Reason.MACHINE_TAKES_LONG,
        Reason.NOT_WORTH_IRRIGATING_YET,
        Reason.SURPLUS_DRAINING,
        Reason.REFILL_OUT_OF_REACH,
        Reason.WOULD_RUN_OFF,
    }
)


@dataclass(frozen=True)
class Ruling:
    """What a rule makes of one block.

    band : None where the soil's own rule holds
    said : adds what only this rule says
    added : reasons that the rule has
    """

    band: StoreBand | None
    said: Callable[[Assessment], Assessment]
    added: frozenset[Reason] = frozenset()


class SoilRule(Protocol):
    """Says in which band a block's store is kept."""

    def watered(self, inputs: BlockInputs) -> BlockInputs:
        """The block as it is watered, such as through half of its lines."""
        ...

    def on(self, d: Decisions, row: int, past: bool) -> Ruling:
        """What the rule makes of a block of decisions whose state is known; with ``past`` what is
        drawn is wanted too."""
        ...


def _state(d: Decisions, row: int, band: StoreBand, made: BandDecision) -> State:
    start = made.soil_hours
    tests = (
        (bool(d.finished[row]), State.FINISHED),
        (float(band.expected_mm[0]) < 0, State.BELOW_REFILL),
        (made.held and start <= SOON_HOURS, State.ON_HOLD),
        (start <= NOW_HOURS, State.IRRIGATE_NOW),
        (start <= SOON_HOURS, State.IRRIGATE_SOON),
    )
    return next((state for holds, state in tests if holds), State.OK)


def _covered(d: Decisions, row: int, band: StoreBand, made: BandDecision) -> tuple[float, float]:
    """The chance that rain makes the irrigation needless for three days, and what is short then
    [-, mm]; NaN without a forecast, or where water is planned."""
    start = made.moved.start_hours
    planned = bool(d.gathered.blocks[row].planned)
    if d.gathered.forecast.known_days == 0 or planned or not np.isfinite(start):
        return float("nan"), float("nan")
    until = start / 24 + RAIN_WAIT_DAYS
    then = min(int(np.ceil(until)), AHEAD_DAYS)
    short = np.maximum(-band.usable_mm[:, then], 0.0)
    return float((made.member_left > until).mean()), float(short.mean())


def _reasons(
    d: Decisions,
    row: int,
    base: Assessment,
    band: StoreBand,
    made: BandDecision,
    rain: float,
) -> tuple[Reason, ...]:
    """What a person should know: of the soil what still holds, and of the band's timing."""
    inputs = d.gathered.blocks[row]
    kept = [r for r in base.reasons if r not in ABOUT_TIMING and r not in band.dropped]
    first = min((p.start_hours for p in inputs.planned), default=np.nan)
    soon = made.soil_hours <= SOON_HOURS
    bound = made.amount.bound if made.amount else Bound.DEFICIT
    system = inputs.assumed.system
    turn = made.amount.turn_hours if made.amount else 0.0
    timing = {
        Reason.RAIN_MAY_COVER: soon and rain >= LIKELY_RAIN,
        Reason.GO_BEFORE_HOLD: made.moved.goes_before,
        Reason.ON_HOLD: made.held,
        Reason.PLANNED_IN_TIME: bool(made.soil_hours >= first),
        Reason.PLANNED_TOO_LATE: bool(made.soil_hours < first),
        Reason.MAXIMUM_APPLICATION: bound is Bound.MAXIMUM_APPLICATION,
        Reason.MINIMUM_APPLICATION: bound is Bound.MINIMUM_APPLICATION,
        Reason.DUE_EARLY: soon and made.chance_days + EARLY_DAYS <= made.days_left,
        Reason.MACHINE_TAKES_LONG: system.moves and turn >= LONG_PASS_HOURS,
    }
    found = {*kept, *(r for r, on in timing.items() if on)}
    return tuple(r for r in Reason if r in found)


def _outlook(d: Decisions, row: int, band: StoreBand, made: BandDecision) -> Outlook:
    ordered = np.sort(np.minimum(band.usable_mm, band.room_mm), axis=0)
    dry, _, wet = ordered[rank(RANGE, ordered.shape[0])][:, : SHOWN_DAYS + 1]
    low, _, high = np.sort(made.member_left)[rank(RANGE, made.member_left.size)]
    shown = band.usable_mm[:, : SHOWN_DAYS + 1]
    return Outlook(
        usable_dry_mm=dry,
        usable_mm=np.minimum(band.expected_mm, band.room_mm),
        usable_wet_mm=wet,
        raw_mm=band.room_mm,
        days_left_dry=float(min(low, made.days_left)),
        days_left=made.days_left,
        days_left_wet=float(max(high, made.days_left)),
        chance_past=(np.minimum.accumulate(shown, axis=1) < 0).mean(axis=0),
        drained_mm=float(d.drained_mm[row]),
    )


def _answered(
    d: Decisions, row: int, base: Assessment, band: StoreBand, made: BandDecision
) -> Assessment:
    """The soil's answer with state, dates and amount by the band."""
    inputs, limits = d.gathered.blocks[row], base.limits
    if limits is None:
        return base
    lowest = float(band.lowest_past_mm[-1])
    rain, wait = _covered(d, row, band, made)
    start, hold = made.moved.start_hours, made.moved.hold
    taken = np.nan_to_num(made.by_days, posinf=0.0)
    worse = {Confidence.GOOD: Confidence.FAIR}
    confidence = worse.get(base.confidence, base.confidence) if band.worse else base.confidence
    return replace(
        base,
        state=_state(d, row, band, made),
        reasons=_reasons(d, row, base, band, made, np.nan_to_num(rain)),
        confidence=confidence,
        limits=RootZoneLimits(
            limits.full_mm,
            limits.full_mm - lowest,
            limits.wilt_mm,
            limits.taw_mm,
            np.asarray(lowest),
        ),
        outlook=_outlook(d, row, band, made),
        refill_at=instant(inputs.now, 24 * made.days_left),
        start_at=whole_hour(inputs.now, start),
        earliest_at=whole_hour(inputs.now, made.earliest_hours),
        hold=hold.kind if hold else None,
        hold_until=instant(inputs.now, hold.end_hours) if hold else None,
        taken_chance=float((made.member_left <= taken).mean()),
        rain_chance=None if np.isnan(rain) else rain,
        wait_mm=None if np.isnan(wait) else wait,
        amount=made.amount,
        at_risk=starting_at(base.at_risk, d, row, start) if base.at_risk else None,
    )


def _banded(d: Decisions, past: History, band: StoreBand, *, to_full: bool) -> History:
    """The past by the band: above its lowest point, up to its upper edge, or up to full."""
    days = np.arange(-d.gathered.past_days, 1) * 24.0
    lowest = np.interp(past.hours, days, band.lowest_past_mm)
    highest = 0.0 if to_full else np.interp(past.hours, days, band.highest_past_mm)
    depletion = np.where(past.deficit_mm > 0, past.deficit_mm, -past.surplus_mm)
    room = np.maximum(lowest - highest, LEAST_ROOM_MM)
    return replace(
        past,
        raw_mm=room,
        usable_mm=np.minimum(lowest - depletion, room),
        surplus_mm=np.maximum(highest - depletion, 0.0),
    )


def _day_rows(d: Decisions, band: StoreBand, made: BandDecision, outlook: Outlook) -> list[DayRow]:
    """The day table with what is left by the band."""
    out = []
    for row in day_rows(d):
        lowest = row.deficit_mm + float(band.expected_mm[row.day])
        chance = float(outlook.chance_past[row.day]) if row.day <= SHOWN_DAYS else None
        out.append(
            replace(
                row,
                p=lowest / row.taw_mm,
                raw_mm=lowest,
                usable_mm=float(band.expected_mm[row.day]),
                chance_past=chance,
            )
        )
    return out


class SoilBand:
    """A regime over the soil store by a rule, see `core.regime.regime.RegimeOf`.

    The store is followed from its beginning every time: what a round of leaves found weeks ago is
    compared with the store of its day.
    """

    def __init__(self, rule: SoilRule) -> None:
        self.rule = rule

    def _decided(
        self, blocks: Sequence[BlockInputs]
    ) -> tuple[Decisions | None, list[int | Assessment]]:
        """Decisions for the blocks that have a crop, and for each block its row in them, or what
        is said where it has none."""
        rows: list[int | Assessment] = []
        grown: list[tuple[BlockInputs, CropSeason]] = []
        for block in blocks:
            season = season_or_why(block)
            if isinstance(season, CropSeason):
                rows.append(len(grown))
                grown.append((replace(self.rule.watered(block), checkpoint=None), season))
            else:
                rows.append(Assessment(State.NO_RELIABLE_DATA, (season,), Confidence.NONE))
        if not grown:
            return None, rows
        return decide([b for b, _ in grown], [s for _, s in grown]), rows

    def _ruling(self, d: Decisions, row: int, base: Assessment, past: bool) -> Ruling | None:
        """None where the state is not known, or the crop grows nothing to be steered."""
        if base.deficit_mm is None or base.stage not in IN_SEASON - {Stage.DORMANT}:
            return None
        return self.rule.on(d, row, past)

    def answers(self, blocks: Sequence[BlockInputs], past: bool) -> tuple[Assessment, ...]:
        """See `RegimeOf`."""
        d, rows = self._decided(blocks)
        if d is None:
            return tuple(r for r in rows if isinstance(r, Assessment))
        bases = answers_of(d)
        return tuple(
            r if isinstance(r, Assessment) else self._one(d, r, bases[r], past) for r in rows
        )

    def _one(self, d: Decisions, row: int, base: Assessment, past: bool) -> Assessment:
        ruling = self._ruling(d, row, base, past)
        kept = d.checkpoints[row]
        base = replace(base, checkpoint=kept[-1] if kept else None)
        answer = with_past(d, row, base) if past else base
        if ruling is None:
            return answer
        band = ruling.band
        if band is not None:
            answer = _answered(d, row, answer, band, decide_band(d, row, band))
            answer = _with_ribbon(d, answer, band)
        return _told(answer, ruling)

    def answer(self, inputs: BlockInputs) -> Assessment:
        """See `RegimeOf`."""
        d, rows = self._decided([inputs])
        if d is None:
            return next(r for r in rows if isinstance(r, Assessment))
        base = with_state(d, answers_of(d)[0])
        ruling = self._ruling(d, 0, base, True)
        if ruling is None or ruling.band is None:
            usual = soil_answer(self.rule.watered(inputs))
            return usual if ruling is None else _told(usual, ruling)
        made = decide_band(d, 0, ruling.band)
        answer = _with_ribbon(d, _answered(d, 0, base, ruling.band, made), ruling.band)
        if answer.outlook is None:
            return answer
        rows_ahead = tuple(_day_rows(d, ruling.band, made, answer.outlook))
        answer = replace(answer, steps=ruling.band.explained(made), days=rows_ahead)
        return _told(answer, ruling)

    def needs(self, blocks: Sequence[BlockInputs], days: int) -> tuple[NeedsAhead | None, ...]:
        """See `RegimeOf`."""
        d, rows = self._decided(blocks)
        if d is None:
            return (None,) * len(rows)
        bases, found = answers_of(d), needs_of(d, days)
        out: list[NeedsAhead | None] = []
        for r in rows:
            if isinstance(r, Assessment):
                out.append(None)
                continue
            needs = found[r]
            ruling = self._ruling(d, r, bases[r], False) if needs else None
            band = ruling.band if ruling else None
            out.append(band.needs(needs) if band and needs else needs)
        return tuple(out)

    def past(self, inputs: BlockInputs, days: float) -> tuple[LimitsInForce, History] | None:
        """See `RegimeOf`."""
        found = soil_past(inputs, days)
        d, rows = self._decided([inputs])
        if found is None or d is None or isinstance(rows[0], Assessment):
            return found
        ruling = self._ruling(d, 0, answers_of(d)[0], False)
        if ruling is None or ruling.band is None:
            return found
        return found[0], _banded(d, found[1], ruling.band, to_full=True)

    def course(self, inputs: BlockInputs) -> SeasonCourse | None:
        """See `RegimeOf`."""
        return soil_course(inputs)

    def learned(self, inputs: BlockInputs) -> Learned | None:
        """See `RegimeOf`."""
        return soil_learned(inputs)


def _told(answer: Assessment, ruling: Ruling) -> Assessment:
    """The answer with what only the rule says."""
    reasons = tuple(r for r in Reason if r in {*answer.reasons, *ruling.added})
    return ruling.said(replace(answer, reasons=reasons))


def _with_ribbon(d: Decisions, answer: Assessment, band: StoreBand) -> Assessment:
    """The answer with its past by the band, where the past was asked for."""
    if answer.past is None or answer.outlook is None:
        return answer
    past = _banded(d, answer.past, band, to_full=False)
    hours = below_refill_hours(past, float(answer.outlook.usable_mm[0]))
    return replace(answer, past=past, below_refill_hours=hours)
