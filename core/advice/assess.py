"""The answer for one block: state, date, amount, hours, confidence, reasons and working."""

from datetime import datetime

import numpy as np

from core.advice.answer import Assessment, Outlook, SchoolAnswer
from core.advice.estimate import Estimate, deficit_by_depth, estimate
from core.advice.explain_layers import layer_rows
from core.advice.explain_steps import day_rows, steps
from core.advice.history import history
from core.advice.inputs import BlockInputs, StatedEt
from core.advice.judge import confidence, past_refill_hours, reasons, state_of
from core.advice.vocabulary import Confidence, Reason, State
from core.arrays import Floats
from core.crop.reference import SurfacesDiffer
from core.crop.season import Stage
from core.irrigation.amount import Amount, irrigation_amount
from core.limits.in_force import LimitsInForce
from core.limits.school import School
from core.outlook.forward import Forward, days_until_refill, run_forward

OUTLOOK_DAYS = 30
OUTLOOK_HOURS = np.arange(OUTLOOK_DAYS + 1) * 24.0
Z_10_90 = 1.2816  # half-width of the 10-90 % range of a normal spread


def _forward(limits: LimitsInForce, now: Estimate, et: StatedEt, reached: Floats) -> Forward:
    """Cases dry, expected, wet over the outlook; ``reached`` is the deficit by root depth."""
    hours = OUTLOOK_HOURS
    et0 = np.array([et.high, et.expected, et.low])[:, None]
    kc = limits.crop_at(hours).kc
    start = now.deficit_mm + np.array([1, 0, -1]) * Z_10_90 * now.sigma_mm
    return run_forward(
        start_deficit_mm=np.maximum(start, 0),
        new_soil_deficit_mm=np.diff(reached),
        taw_mm=limits.at(hours).taw_mm,
        p=limits.p_at(hours, et0),
        etc_mm=et0 * kc[:-1],
    )


def _amount_at(
    inputs: BlockInputs, deficit_mm: Floats, days_left: float
) -> tuple[float, float, Amount]:
    """Hours from now to the latest start, the deficit then, and the amount."""
    day = np.arange(deficit_mm.size)

    def deficit_in(hours: float) -> float:
        return float(np.interp(hours / 24, day, deficit_mm))

    refill_hours = days_left * 24
    amount = irrigation_amount(deficit_in(refill_hours), inputs.system, inputs.rain_room_mm)
    # A machine that passes over the block must start so that its last part is in time.
    start = max(refill_hours - (amount.hours if inputs.system.moves else 0.0), 0.0)
    deficit = deficit_in(start)
    return start, deficit, irrigation_amount(deficit, inputs.system, inputs.rain_room_mm)


def assess(inputs: BlockInputs) -> Assessment:
    """Answer for one block.

    Parameters
    ----------
    inputs : BlockInputs

    Returns
    -------
    Assessment
        State `NO_WORD` with its reasons when the instruments, the crop or the ET leave
        nothing to go by; such an answer gives no figure that it does not have.
    """
    et = inputs.et
    try:
        season = inputs.season_for_et()
    except SurfacesDiffer:
        return Assessment(State.NO_WORD, (Reason.SURFACES_DIFFER,), Confidence.NONE)
    if season is None or et is None:
        why = Reason.NO_CROP_IN_SEASON if inputs.season is None else Reason.NO_ET
        return Assessment(State.NO_WORD, (why,), Confidence.NONE)
    limits = LimitsInForce.of(inputs.ground(season), inputs.now, et.expected)
    today = limits.crop_at(np.zeros(1))
    stage = Stage(str(today.stage[0]))
    if stage in (Stage.BEFORE, Stage.OVER):
        return Assessment(State.NO_WORD, (Reason.NO_CROP_IN_SEASON,), Confidence.NONE, stage=stage)
    root = float(limits.root_mm_at(np.zeros(1))[0])
    etc = float(today.kc[0]) * et.expected
    here = limits.at(np.zeros(()))
    past = history(inputs, limits)
    now = estimate(inputs, root, etc)
    if now is None:
        why = Reason.NO_TRUSTED_READING if inputs.sites else Reason.NO_INSTRUMENT
        return Assessment(
            State.NO_WORD,
            (why,),
            Confidence.NONE,
            stage=stage,
            root_mm=root,
            limits=here,
            etc_mm_day=etc,
            past=past,
            layers=layer_rows(inputs, root),
        )

    reached = deficit_by_depth(inputs.profile, now, limits.root_mm_at(OUTLOOK_HOURS))
    ahead = _forward(limits, now, et, reached)
    left = days_until_refill(ahead.usable_mm)
    expected = ahead.deficit_mm[1]
    days_left = float(left[1])
    start = _amount_at(inputs, expected, days_left) if np.isfinite(days_left) else None
    start_hours, _, amount = start or (float("inf"), 0.0, None)
    usable = float(ahead.usable_mm[1, 0])
    state = state_of(now, usable, start_hours)
    return Assessment(
        state=state,
        reasons=reasons(inputs, season, now, root, amount, state),
        confidence=confidence(now, float(here.raw_mm), root),
        stage=stage,
        root_mm=root,
        limits=here,
        deficit_mm=now.deficit_mm,
        surplus_mm=now.surplus_mm,
        sigma_mm=now.sigma_mm,
        used_share=now.deficit_mm / float(here.taw_mm),
        etc_mm_day=etc,
        outlook=Outlook(
            usable_dry_mm=ahead.usable_mm[0],
            usable_mm=ahead.usable_mm[1],
            usable_wet_mm=ahead.usable_mm[2],
            raw_mm=ahead.raw_mm[1],
            days_left_dry=float(left[0]),
            days_left=days_left,
            days_left_wet=float(left[2]),
        ),
        past=past,
        past_refill_hours=past_refill_hours(past, usable),
        refill_at=_instant(inputs.now, days_left * 24),
        start_at=_whole_hour(inputs.now, start_hours),
        amount=amount,
        schools=_schools(inputs, limits, now, et, reached, ahead),
        layers=layer_rows(inputs, root),
        steps=steps(inputs, limits, et, now, ahead, days_left, start),
        days=day_rows(limits, ahead, et, days_left),
    )


def _schools(
    inputs: BlockInputs,
    in_force: LimitsInForce,
    now: Estimate,
    et: StatedEt,
    reached: Floats,
    run: Forward,
) -> tuple[SchoolAnswer, ...]:
    """The answer by every school, for the expected case; the one in force is run already."""
    answers = []
    for school in School:
        ours = school is in_force.school_now
        limits = in_force if ours else in_force.under(school)
        p = float(limits.p_at(np.zeros(())))
        if np.isnan(p):
            answers.append(SchoolAnswer(school, ours, p=None, days_left=float("inf"), net_mm=None))
            continue
        ahead = run if ours else _forward(limits, now, et, reached)
        left = float(days_until_refill(ahead.usable_mm)[1])
        net = None
        if np.isfinite(left):
            _, _, amount = _amount_at(inputs, ahead.deficit_mm[1], left)
            net = amount.net_mm
        answers.append(SchoolAnswer(school, ours, p=p, days_left=left, net_mm=net))
    return tuple(answers)


def _instant(now: datetime, hours: float) -> datetime | None:
    """An hour from now as an instant; arithmetic in UTC so that clock changes don't shift it."""
    if not np.isfinite(hours):
        return None
    moved = now.timestamp() + hours * 3600
    return datetime.fromtimestamp(moved, tz=now.tzinfo)


def _whole_hour(now: datetime, hours: float) -> datetime | None:
    """The whole hour at or before an instant, but never before now."""
    instant = _instant(now, hours)
    if instant is None:
        return None
    floored = instant.replace(minute=0, second=0, microsecond=0)
    return max(floored, now.replace(second=0, microsecond=0))
