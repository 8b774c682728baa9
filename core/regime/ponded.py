"""Rice on ponded ground: kept ponded, or dried to a threshold and flooded again."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import date

import numpy as np

from core.advice.answer import Assessment, Outlook
from core.advice.assess import season_or_why
from core.advice.decide import LIKELY_RAIN, RAIN_WAIT_DAYS, SHOWN_DAYS
from core.advice.gather import AHEAD_DAYS
from core.advice.history import FRESH_HOURS, GRID_HOURS, History, between_readings
from core.advice.inputs import BlockInputs
from core.advice.instants import instant, whole_hour
from core.advice.judge import FAIR_SPREAD, GOOD_SPREAD, NOW_HOURS, SOON_HOURS
from core.advice.needs_ahead import NeedsAhead
from core.advice.vocabulary import Confidence, Reason, State
from core.arrays import Floats
from core.crop.season import IN_SEASON, CropSeason
from core.instrument.kinds import InstrumentKind, kinds
from core.irrigation.amount import Bound
from core.outlook.ahead import quantile
from core.outlook.likely import likely_of
from core.ponded.answer import PondedAnswer
from core.ponded.cycles import NotDeeper, cycles_at, dryings, why_not_deeper
from core.ponded.phases import FLOWERING_GUARD_MM, FLOWERING_MM, FLOWERING_MORE_MM, Phase
from core.ponded.tube import APART_MM, READING_SIGMA_MM
from core.ponded.water import store_mm
from core.regime.ponded_ahead import STEPS_A_DAY, PondedAhead, run_ahead
from core.regime.ponded_state import STEP_HOURS, PondedState, ponded_states
from core.regime.ponded_working import ponded_steps

# A dressing goes before the next water where the two lie no further apart [days] (working
# assumption, no source).
NITROGEN_DAYS = 4.0
PAST_DAYS = 7.0


class Ponded:
    """The regime of ponded rice, see `core.regime.regime.RegimeOf`."""

    def answers(self, blocks: Sequence[BlockInputs], past: bool) -> tuple[Assessment, ...]:
        """See `RegimeOf`."""
        return tuple(
            found if isinstance(found, Assessment) else _assessed(found, past)
            for found in _ahead(blocks)
        )

    def answer(self, inputs: BlockInputs) -> Assessment:
        """See `RegimeOf`."""
        found = _ahead([inputs])[0]
        if isinstance(found, Assessment):
            return found
        return replace(_assessed(found, past=True), steps=ponded_steps(found))

    def needs(self, blocks: Sequence[BlockInputs], days: int) -> tuple[NeedsAhead | None, ...]:
        """See `RegimeOf`."""
        return tuple(
            None if isinstance(found, Assessment) else found.needs(days) for found in _ahead(blocks)
        )

    def past(self, inputs: BlockInputs, days: float) -> None:
        """See `RegimeOf`."""

    def course(self, inputs: BlockInputs) -> None:
        """See `RegimeOf`."""

    def learned(self, inputs: BlockInputs) -> None:
        """See `RegimeOf`."""


def _ahead(blocks: Sequence[BlockInputs]) -> list[PondedAhead | Assessment]:
    """The days ahead of each field, or the answer where nothing can be said of them."""
    seasons = [season_or_why(b) for b in blocks]
    grown = [(b, s) for b, s in zip(blocks, seasons, strict=True) if isinstance(s, CropSeason)]
    states = ponded_states([b for b, _ in grown], [s for _, s in grown]) if grown else ()
    said = [_unknown(s) for s in states]
    ran = iter(run_ahead([s for s, why in zip(states, said, strict=True) if why is None]))
    found = iter([next(ran) if why is None else why for why in said])
    return [
        next(found)
        if isinstance(s, CropSeason)
        else Assessment(State.NO_RELIABLE_DATA, (s,), Confidence.NONE)
        for s in seasons
    ]


def _unknown(state: PondedState) -> Assessment | None:
    """What is said of a field out of its season, or without a level; None where it has one."""
    if state.stage not in IN_SEASON:
        why, said = Reason.NO_CROP_IN_SEASON, None
    elif not state.known:
        read = bool(state.inputs.tubes)
        why = Reason.NO_RELIABLE_READING if read else Reason.NO_INSTRUMENT
        said = _said(state)
    else:
        return None
    return Assessment(
        State.NO_RELIABLE_DATA, (why,), Confidence.NONE, stage=state.stage, ponded=said
    )


def _assessed(ahead: PondedAhead, past: bool) -> Assessment:
    """The answer for one field."""
    s, start = ahead.state, ahead.start
    inputs = s.inputs
    phi = s.learned.likely.porosity
    level = float(ahead.expected[0])
    drawn = store_mm(ahead.drawn_lower_mm, phi)
    raw = store_mm(ahead.upper_mm, phi) - drawn
    raw = np.maximum(raw, 1.0)
    full = float(drawn[0] + raw[0])
    held = float(store_mm(level, phi)[0])
    deficit = max(full - held, 0.0)
    usable = np.minimum(store_mm(ahead.expected, phi) - drawn, raw)
    members = store_mm(ahead.levels, s.learned.courses.porosity[:, None])
    left = np.minimum(members - drawn, raw)
    dry, _, wet = ahead.ranged(left)
    due = ahead.member_due
    low_due, _, high_due = ahead.ranged(due)
    by_day = ahead.by_day
    moved, flooding = ahead.moved, ahead.flooding
    sight = np.isfinite(start) and not inputs.planned and inputs.assumed.forecast is not None
    wait = start + 24.0 * RAIN_WAIT_DAYS
    step = min(int(wait // STEP_HOURS), ahead.edges.size - 1) if sight else 0
    hold, behind = moved.hold, _past_levels(ahead) if past else None
    said = _said(s, ahead, behind)
    return Assessment(
        state=_state(ahead, level),
        reasons=_reasons(ahead, said, level),
        confidence=_confidence(ahead),
        stage=s.stage,
        etc_mm_day=float(s.kc[s.today]) * inputs.assumed.stated_et.expected,
        deficit_mm=deficit,
        surplus_mm=max(held - full, 0.0),
        sigma_mm=float(members[:, 0].std()),
        used_share=deficit / float(raw[0]),
        outlook=Outlook(
            usable_dry_mm=by_day(dry, SHOWN_DAYS),
            usable_mm=by_day(usable, AHEAD_DAYS),
            usable_wet_mm=by_day(wet, SHOWN_DAYS),
            raw_mm=by_day(raw, AHEAD_DAYS),
            days_left_dry=float(min(low_due, ahead.due)) / 24,
            days_left=ahead.due / 24,
            days_left_wet=float(max(high_due, ahead.due)) / 24,
            chance_past=np.array([(due <= h).mean() for h in np.arange(SHOWN_DAYS + 1) * 24.0]),
            drained_mm=0.0,
        ),
        past=_history(ahead, *behind) if behind else None,
        below_refill_hours=None,
        refill_at=instant(inputs.now, ahead.due),
        start_at=whole_hour(inputs.now, start),
        hold=hold.kind if hold else None,
        hold_until=instant(inputs.now, hold.end_hours) if hold else None,
        taken_chance=float((due <= ahead.needed).mean()) if np.isfinite(ahead.needed) else None,
        rain_chance=float((due > wait).mean()) if sight else None,
        wait_mm=float(np.maximum(drawn[step] - members[:, step], 0.0).mean()) if sight else None,
        amount=flooding.amount if flooding else None,
        ponded=said,
    )


def _finished(ahead: PondedAhead) -> bool:
    """Whether the field is dry for harvest before it would need water again."""
    drain = (ahead.state.phases.drain_on - ahead.state.inputs.now.date()).days
    return drain <= AHEAD_DAYS - 1 and not np.isfinite(ahead.needed)


def _state(ahead: PondedAhead, level: float) -> State:
    start, lower = ahead.start, float(ahead.lower_mm[0])
    tests = (
        (_finished(ahead), State.FINISHED),
        # A reading's error alone does not make a field late.
        (level < lower - READING_SIGMA_MM, State.BELOW_REFILL),
        (_held(ahead) and start <= SOON_HOURS, State.ON_HOLD),
        (start <= NOW_HOURS, State.IRRIGATE_NOW),
        (start <= SOON_HOURS, State.IRRIGATE_SOON),
    )
    return next((state for holds, state in tests if holds), State.OK)


def _held(ahead: PondedAhead) -> bool:
    return ahead.moved.hold is not None and not ahead.moved.goes_before


def _reasons(ahead: PondedAhead, said: PondedAnswer, level: float) -> tuple[Reason, ...]:
    """What a person should know, see `core.advice.judge.Judgement.reasons`."""
    s, start = ahead.state, ahead.start
    inputs, field = s.inputs, s.field
    soon = start <= SOON_HOURS
    first = min((p.start_hours for p in inputs.planned), default=np.nan)
    phase = s.phases.phase(s.today)
    ahead_of = quantile(ahead.member_due, 1 - LIKELY_RAIN) if inputs.assumed.forecast else np.nan
    covered = bool(ahead_of > start + 24.0 * RAIN_WAIT_DAYS) and not inputs.planned
    flooding = ahead.flooding
    ponded = (Phase.ESTABLISHMENT, Phase.WEED_CONTROL)
    held = {
        Reason.FLOWERING_PONDED: Phase.FLOWERING in (phase, ahead.phase_wanting),
        Reason.KEPT_PONDED: phase in ponded,
        Reason.DRAIN_FOR_HARVEST: phase is Phase.DRAINAGE and level > 0,
        Reason.ENOUGH_TO_FINISH: _finished(ahead) and phase is not Phase.DRAINAGE,
        Reason.NITROGEN_BEFORE_WATER: nitrogen_due(ahead) is not None,
        Reason.MAY_DRY_DEEPER: said.not_deeper is None,
        Reason.BUND_TOO_LOW: field.highest_mm
        < FLOWERING_MM + FLOWERING_GUARD_MM + FLOWERING_MORE_MM,
        Reason.SENSOR_EXCLUDED: any(not t.believed.all() for t in inputs.tubes),
        Reason.SITES_DISAGREE: s.apart_mm > APART_MM,
        Reason.CARRIED_FROM_READING: s.heard_hours > FRESH_HOURS,
        Reason.CANT_CATCH_UP: flooding is not None and not flooding.catches_up,
        Reason.MAXIMUM_APPLICATION: flooding is not None
        and flooding.amount.bound is Bound.MAXIMUM_APPLICATION,
        Reason.RAIN_MAY_COVER: soon and covered,
        Reason.GO_BEFORE_HOLD: ahead.moved.goes_before,
        Reason.ON_HOLD: _held(ahead),
        Reason.PLANNED_IN_TIME: bool(ahead.needed >= first),
        Reason.PLANNED_TOO_LATE: bool(ahead.needed < first),
        Reason.CRITICAL_STAGE: phase is Phase.FLOWERING,
    }
    return tuple(r for r, on in held.items() if on)


def nitrogen_due(ahead: PondedAhead) -> float | None:
    """Hours to the planned dressing that goes onto dry soil before the next water; None where
    there is none, or the field is not dry then."""
    if not np.isfinite(ahead.start):
        return None
    level, _ = ahead.rise(ahead.start)
    now = ahead.state.inputs.now
    days = [(d - now.date()).days for d in ahead.state.field.nitrogen_on]
    near = [d for d in days if abs(24.0 * d - ahead.start) <= 24.0 * NITROGEN_DAYS]
    return 24.0 * min(near) if near and level < 0 else None


def _confidence(ahead: PondedAhead) -> Confidence:
    """How sure it is: the spread of the level over what it may fall, and how old the reading is."""
    s = ahead.state
    span = max(float(ahead.upper_mm[0] - ahead.drawn_lower_mm[0]), 1.0)
    spread = float(s.level_mm.std()) / span
    fresh = s.heard_hours <= kinds()[InstrumentKind.RICE_TUBE].max_age_hours
    agree = s.apart_mm <= APART_MM
    if spread <= GOOD_SPREAD / 3 and fresh and agree:
        return Confidence.GOOD
    return Confidence.FAIR if spread <= FAIR_SPREAD / 2 and fresh else Confidence.LOW


def _not_deeper(state: PondedState) -> tuple[int, NotDeeper | None]:
    now = state.inputs.now
    found = dryings(state.inputs.tubes, now.date(), state.hour_of_day)
    cycles = cycles_at(found, state.field.threshold_mm, state.field.threshold_since)
    return cycles, why_not_deeper(state.field, cycles, state.phases, now.date())


def _said(
    s: PondedState,
    ahead: PondedAhead | None = None,
    behind: tuple[Floats, Floats] | None = None,
) -> PondedAnswer:
    """What is said of the water of a field."""
    cycles, why = _not_deeper(s)
    deeper = s.field.next_threshold_mm
    lower, upper = float(s.phases.lower_mm[s.today]), float(s.phases.upper_mm[s.today])
    likely, courses = s.learned.likely, s.learned.courses
    refill = s.field.refill_to_mm
    said = PondedAnswer(
        phase=s.phases.phase(s.today),
        level=None,
        lower_mm=lower if np.isfinite(lower) else None,
        upper_mm=upper,
        threshold_mm=s.field.threshold_mm,
        cycles=cycles,
        deeper_mm=deeper if np.isfinite(deeper) else None,
        not_deeper=why,
        flowering_on=s.phases.flowering_on,
        drain_on=s.phases.drain_on,
        harvest_on=s.phases.harvest_on,
        percolation_mm_day=likely_of(
            courses.percolation_mm_day, float(likely.percolation_mm_day[0])
        ),
        seepage_mm_day=likely_of(
            refill * courses.seepage_per_day, refill * float(likely.seepage_per_day[0])
        ),
        porosity=likely_of(courses.porosity, float(likely.porosity[0])),
        falls=len(s.learned.falls),
    )
    if ahead is None:
        return said
    level = float(ahead.expected[0])
    use = float(s.kc[s.today]) * s.inputs.assumed.stated_et.expected
    said = replace(
        said,
        level=likely_of(s.level_mm, level),
        loss_mm_day=use + float(likely.at(level)[0]),
    )
    hours = nitrogen_due(ahead)
    if hours is not None:
        on = s.inputs.now.date().toordinal() + round(hours / 24)
        said = replace(said, nitrogen_on=date.fromordinal(on))
    if behind is None:
        return said
    dry, _, wet = ahead.ranged(ahead.levels)
    shown = slice(0, SHOWN_DAYS * STEPS_A_DAY + 1)
    return replace(
        said,
        past_hours=behind[0],
        past_mm=behind[1],
        ahead_hours=ahead.edges[shown],
        dry_mm=dry[shown],
        ahead_mm=ahead.expected[shown],
        wet_mm=wet[shown],
        lower_ahead_mm=np.where(np.isfinite(ahead.lower_mm), ahead.lower_mm, np.nan)[shown],
    )


def _past_levels(ahead: PondedAhead) -> tuple[Floats, Floats]:
    """Level of the past days on a regular grid: between readings a straight line, since the newest
    the way to now."""
    s = ahead.state
    grid = np.arange(-PAST_DAYS * 24, GRID_HOURS / 2, GRID_HOURS)
    age = kinds()[InstrumentKind.RICE_TUBE].max_age_hours
    read = [
        between_readings(np.append(hours, 0.0), np.append(level, ahead.expected[0]), grid, age)
        for t in s.inputs.tubes
        for hours, level in [t.good]
        if hours.size
    ]
    table = np.array(read)
    known = ~np.isnan(table)
    count = known.sum(axis=0)
    total = np.where(known, table, 0.0).sum(axis=0)
    return grid, np.where(count > 0, total / np.maximum(count, 1), np.nan)


def _history(ahead: PondedAhead, grid: Floats, level: Floats) -> History:
    """The past as water above the lowest level of each day, for the board."""
    s = ahead.state
    day = s.today + np.floor((grid + s.hour_of_day) / 24).astype(int)
    day = np.maximum(day, 0)
    lower, upper = s.phases.lower_mm[day], s.phases.upper_mm[day]
    lower = np.where(np.isinf(lower), s.field.threshold_mm, lower)
    phi = s.learned.likely.porosity
    held = store_mm(level, phi)
    bottom = store_mm(lower, phi)
    raw = np.maximum(store_mm(upper, phi) - bottom, 1.0)
    return History(
        hours=grid,
        deficit_mm=np.maximum(bottom + raw - held, 0.0),
        surplus_mm=np.maximum(held - bottom - raw, 0.0),
        raw_mm=raw,
        taw_mm=raw,
        usable_mm=np.minimum(held - bottom, raw),
        root_mm=np.zeros(grid.size),
    )
