"""The answer for blocks: state, date, amount, hours, confidence, reasons, and the working."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

import numpy as np

from core.advice.answer import Assessment, Outlook, Weighed
from core.advice.decide import Decisions, decide
from core.advice.explain_days import balance_rows, day_rows
from core.advice.explain_layers import layer_rows
from core.advice.explain_steps import last_heard, steps
from core.advice.history import History, Known, history
from core.advice.inputs import BlockInputs
from core.advice.judge import confidence, is_held, is_known, past_refill_hours, reasons, state_of
from core.advice.other_schools import school_answers, variants, weighing_answers
from core.advice.vocabulary import Confidence, Reason, State
from core.crop.reference import SurfacesDiffer
from core.crop.season import STAGE_ORDER, CropSeason, Stage
from core.limits.in_force import LimitsInForce
from core.limits.root_zone import RootZoneLimits
from core.state.filter import KNOWN_SHARE, WEIGHINGS, Weighing


def assess(inputs: BlockInputs) -> Assessment:
    """Answer for one block with its working; see `assess_blocks`."""
    season = _season(inputs)
    if not isinstance(season, CropSeason):
        return Assessment(State.NO_WORD, (season,), Confidence.NONE)
    asked = variants(inputs)
    d = decide(asked, [season] * len(asked))
    answer = _answer(d, 0)
    return _explained(d, answer) if answer.limits is not None else answer


def assess_blocks(blocks: Sequence[BlockInputs], past: bool = True) -> tuple[Assessment, ...]:
    """Answers for blocks of one farm at one instant, computed together, without their working.

    Parameters
    ----------
    blocks : sequence of BlockInputs
        All with the same ``now`` and forecast.
    past : bool
        Whether the past days' ribbon is wanted.

    Returns
    -------
    tuple of Assessment
        State `NO_WORD` with its reasons where instruments, balance, crop or ET leave nothing
        to go by; such an answer gives no figure that it does not have.
    """
    seasons = [_season(b) for b in blocks]
    grown = [(b, s) for b, s in zip(blocks, seasons, strict=True) if isinstance(s, CropSeason)]
    found: dict[int, Assessment] = {}
    if grown:
        d = decide([b for b, _ in grown], [s for _, s in grown])
        for row, (b, _) in enumerate(grown):
            answer = _answer(d, row)
            if past and answer.limits is not None:
                answer = _with_past(d, row, answer)
            found[id(b)] = answer
    return tuple(
        found[id(b)]
        if isinstance(s, CropSeason)
        else Assessment(State.NO_WORD, (s,), Confidence.NONE)
        for b, s in zip(blocks, seasons, strict=True)
    )


def block_past(inputs: BlockInputs, days: float) -> tuple[LimitsInForce, History] | None:
    """A block's limits and its state over the past days, as the balance and sensors had it.

    None where it has no crop or no ET.
    """
    season = _season(inputs)
    if not isinstance(season, CropSeason):
        return None
    d = decide([inputs], [season])
    limits = LimitsInForce.of(
        inputs.ground(season), inputs.now, inputs.stated_et.expected, past_days=int(days) + 1
    )
    return limits, _ribbon(d, 0, limits, is_known(d, 0), days)


def _season(inputs: BlockInputs) -> CropSeason | Reason:
    """The crop on the surface of the ET at hand, or why there is none."""
    try:
        season = inputs.season_for_et()
    except SurfacesDiffer:
        return Reason.SURFACES_DIFFER
    if season is None:
        return Reason.NO_CROP_IN_SEASON if inputs.season is None else Reason.NO_ET
    return season


def _answer(d: Decisions, row: int) -> Assessment:
    """One block's answer as figures, without its past."""
    g, now = d.gathered, d.gathered.past_days
    inputs = g.blocks[row]
    stage = Stage(STAGE_ORDER[int(g.limits.crop.stage_index[row, now])])
    if stage in (Stage.BEFORE, Stage.OVER):
        return Assessment(State.NO_WORD, (Reason.NO_CROP_IN_SEASON,), Confidence.NONE, stage=stage)
    taw, raw = float(g.zones.taw_mm[row, now]), float(g.zones.raw_mm[row, now])
    share = inputs.root_share
    full, wilt = (float(x[row, now]) * share for x in (g.limits.full_mm, g.limits.wilt_mm))
    here = RootZoneLimits(*(np.array(x) for x in (full, full - raw, wilt, taw, raw)))
    common = Assessment(
        State.NO_WORD,
        (Reason.NO_TRUSTED_READING if inputs.sites else Reason.NO_INSTRUMENT,),
        Confidence.NONE,
        stage=stage,
        root_mm=float(g.limits.root_mm[row, now]),
        limits=here,
        etc_mm_day=float(g.kc[row, now]) * inputs.stated_et.expected,
    )
    if not is_known(d, row):
        return common
    depletion = float(d.track.depletion_mm[row, -1])
    deficit = max(depletion, 0.0)
    observed = float(np.nan_to_num(g.observed.surplus_mm[row, -1]))
    surplus = max(observed, -depletion, 0.0)
    usable = raw - deficit
    start = float(d.start_hours[row])
    state = state_of(surplus, deficit, usable, float(d.soil_hours[row]), is_held(d, row))
    hold = d.hold[row]
    days_left = float(d.days_left[row])
    return replace(
        common,
        state=state,
        reasons=reasons(d, row, state),
        confidence=confidence(d, row),
        deficit_mm=deficit,
        surplus_mm=surplus,
        sigma_mm=float(d.track.sigma_mm[row, -1]),
        used_share=deficit / taw,
        weighed=_weighed(d, row),
        outlook=_outlook(d, row),
        refill_at=_instant(inputs.now, days_left * 24),
        start_at=_whole_hour(inputs.now, start),
        earliest_at=_whole_hour(inputs.now, float(d.earliest_hours[row])),
        hold=hold.kind if hold else None,
        hold_until=_instant(inputs.now, hold.end_hours) if hold else None,
        taken_chance=float(d.taken_chance[row]),
        rain_chance=_or_none(float(d.rain_chance[row])),
        wait_mm=_or_none(float(d.wait_mm[row])),
        amount=d.amounts.of(row) if np.isfinite(start) else None,
    )


def _or_none(value: float) -> float | None:
    return value if np.isfinite(value) else None


def _weighed(d: Decisions, row: int) -> Weighed:
    t, seen = d.track, float(d.gathered.observed.depletion_mm[row, -1])
    return Weighed(
        forecast_mm=float(t.forecast_mm[row, -1]),
        forecast_sigma_mm=float(t.forecast_sigma_mm[row, -1]),
        observed_mm=None if np.isnan(seen) else seen,
        gain=float(t.gain[row, -1]),
        correction_mm=float(t.correction_mm[row, -1]),
        offset_mm=float(t.offset_mm[row, -1]),
        use_factor=float(t.use_factor[row, -1]),
        use_sigma=float(t.use_sigma[row, -1]),
    )


def _outlook(d: Decisions, row: int) -> Outlook:
    dry, _, wet = d.days_range[row]
    raw = d.expected.raw_mm[row, 0]
    shown = raw[: d.usable_range_mm.shape[2]]
    # What stands above full is surplus, told apart: it drains and is not the crop's to use.
    return Outlook(
        usable_dry_mm=np.minimum(d.usable_range_mm[row, 0], shown),
        usable_mm=np.minimum(d.usable_mm[row], raw),
        usable_wet_mm=np.minimum(d.usable_range_mm[row, 2], shown),
        raw_mm=raw,
        days_left_dry=float(dry),
        days_left=float(d.days_left[row]),
        days_left_wet=float(wet),
        chance_past=d.chance_past[row],
        drained_mm=float(d.drained_mm[row]),
    )


def _limits(d: Decisions, row: int) -> LimitsInForce:
    """The block's limits as one block's page wants them."""
    inputs, season = d.gathered.blocks[row], d.gathered.seasons[row]
    return LimitsInForce.of(inputs.ground(season), inputs.now, inputs.stated_et.expected)


def _with_past(d: Decisions, row: int, answer: Assessment) -> Assessment:
    """The answer with its past ribbon, and for how long it has been past refill."""
    past = _ribbon(d, row, _limits(d, row), answer.deficit_mm is not None)
    if answer.outlook is None:
        return replace(answer, past=past)
    hours = past_refill_hours(past, float(answer.outlook.usable_mm[0]))
    return replace(answer, past=past, past_refill_hours=hours)


def _ribbon(
    d: Decisions, row: int, limits: LimitsInForce, is_state: bool, days: float = 7.0
) -> History:
    g = d.gathered
    known = None
    leads = g.told.weighing[row] == WEIGHINGS.index(Weighing.SENSORS)
    if is_state and not leads:
        hours = (np.arange(g.past_days + 1) - g.past_days) * 24.0
        sure = d.track.sigma_mm[row] < KNOWN_SHARE * g.zones.taw_mm[row, : g.past_days + 1]
        if sure.any():
            first = int(np.argmax(sure))
            known = Known(hours[first:], d.track.depletion_mm[row, first:])
    return history(g.blocks[row], limits, days, known)


def _explained(d: Decisions, answer: Assessment) -> Assessment:
    """The answer of a lone block with its past, its working and the other schools."""
    inputs, limits = d.gathered.blocks[0], _limits(d, 0)
    root = float(d.gathered.limits.root_mm[0, last_heard(d)])
    told = replace(_with_past(d, 0, answer), layers=layer_rows(inputs, root))
    if answer.deficit_mm is None:
        return told
    return replace(
        told,
        schools=school_answers(d),
        weighings=weighing_answers(d),
        steps=steps(d, limits),
        balance=balance_rows(d),
        days=day_rows(d, limits),
    )


def _instant(now: datetime, hours: float) -> datetime | None:
    """An hour from now as an instant, to the second; arithmetic in UTC so that clock changes
    don't shift it."""
    if not np.isfinite(hours):
        return None
    moved = round(now.timestamp() + hours * 3600)
    return datetime.fromtimestamp(moved, tz=now.tzinfo)


def _whole_hour(now: datetime, hours: float) -> datetime | None:
    """The whole hour at or before an instant, but never before now."""
    instant = _instant(now, hours)
    if instant is None:
        return None
    floored = instant.replace(minute=0, second=0, microsecond=0)
    return max(floored, now.replace(second=0, microsecond=0))
