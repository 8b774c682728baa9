"""From the core's answer to the wire: arrays to lists, unknown to null."""

import math
from collections.abc import Sequence
from datetime import datetime

from core.advice.answer import Assessment
from core.advice.history import History
from core.advice.inputs import BlockInputs
from core.advice.questions import QuestionKind
from core.advice.run_of_set import run_of_set
from core.advice.vocabulary import BY_WEIGHT
from core.arrays import Floats
from core.irrigation.system import SystemKind
from core.leaf.answer import LeafAnswer
from server.advice.board_schemas import BoardRow
from server.advice.models import Decision
from server.advice.regime_schemas import (
    DeficitOut,
    HarvestsOut,
    LeafPoint,
    LeafSaidOut,
    LevelPoint,
    LikelyOut,
    PondedOut,
)
from server.advice.risk_schemas import AtRiskOut
from server.advice.schemas import (
    AheadPoint,
    AmountOut,
    AnswerOut,
    DaysLeft,
    DecisionOut,
    EstimateOut,
    GivenSet,
    LimitsOut,
    PastPoint,
    ProfileHorizon,
    QuestionOut,
    RefillMethodOut,
    RunOut,
    StatedEtOut,
)
from server.base.json_out import known
from server.blocks.models import Block
from server.water.models import Irrigation
from server.weather.recorded import FarmWeather

AHEAD_DAYS = 10


def past_points(past: History | None) -> list[PastPoint]:
    """The ribbon behind now."""
    if past is None:
        return []
    return [
        PastPoint.model_construct(
            hours=round(h, 2), usable_mm=known(u, 2), surplus_mm=known(s, 2), raw_mm=round(r, 2)
        )
        for h, u, s, r in zip(
            past.hours.tolist(),
            past.usable_mm.tolist(),
            past.surplus_mm.tolist(),
            past.raw_mm.tolist(),
            strict=True,
        )
    ]


def ahead_points(answer: Assessment) -> list[AheadPoint]:
    """The ribbon ahead of now, by day."""
    out = answer.outlook
    if out is None:
        return []
    return [
        AheadPoint.model_construct(
            day=d,
            dry_mm=round(float(out.usable_dry_mm[d]), 2),
            usable_mm=round(float(out.usable_mm[d]), 2),
            wet_mm=round(float(out.usable_wet_mm[d]), 2),
            raw_mm=round(float(out.raw_mm[d]), 2),
            chance_past=round(float(out.chance_past[d]), 3),
        )
        for d in range(AHEAD_DAYS + 1)
    ]


def level_points(answer: Assessment) -> list[LevelPoint]:
    """A ponded field's level behind now and ahead of it, where the past was asked for."""
    said = answer.ponded
    if said is None or said.past_mm is None or said.ahead_mm is None:
        return []
    behind = zip(_list(said.past_hours), _list(said.past_mm), strict=True)
    ahead = zip(
        *map(
            _list,
            (said.ahead_hours, said.ahead_mm, said.dry_mm, said.wet_mm, said.lower_ahead_mm),
        ),
        strict=True,
    )
    return [
        *(
            LevelPoint(hours=h, level_mm=known(x, 1), dry_mm=None, wet_mm=None, lower_mm=None)
            for h, x in behind
        ),
        *(
            LevelPoint(
                hours=h,
                level_mm=known(x, 1),
                dry_mm=known(dry, 1),
                wet_mm=known(wet, 1),
                lower_mm=known(low, 1),
            )
            for h, x, dry, wet, low in ahead
        ),
    ]


def _list(values: Floats | None) -> list[float]:
    return [] if values is None else values.tolist()


def given_sets(sets: Sequence[Irrigation], now: datetime) -> list[GivenSet]:
    """Sets by their hours from now."""
    return [
        GivenSet(
            id=s.pk,
            status=Irrigation.Status(s.status),
            starts_at=s.started_at,
            ends_at=s.ended_at,
            start_hours=(s.started_at - now).total_seconds() / 3600,
            end_hours=(s.ended_at - now).total_seconds() / 3600,
            gross_mm=s.gross_mm,
        )
        for s in sets
    ]


def answer_out(
    block: Block, inputs: BlockInputs, answer: Assessment, sets: Sequence[Irrigation] = ()
) -> AnswerOut:
    """The answer without its working."""
    out = answer.outlook
    heard = [s.last_hours for s in inputs.sites]
    heard += [float(t.hours[-1]) for t in inputs.tubes if t.hours.size]
    word = max(heard, default=-math.inf)
    return AnswerOut(
        state=answer.state,
        reasons=sorted(answer.reasons, key=BY_WEIGHT.index),
        confidence=answer.confidence,
        stage=answer.stage,
        usable_mm=float(out.usable_mm[0]) if out else None,
        deficit_mm=answer.deficit_mm,
        surplus_mm=answer.surplus_mm,
        sigma_mm=answer.sigma_mm,
        used_share=answer.used_share,
        days_left=DaysLeft(
            dry=known(out.days_left_dry),
            expected=known(out.days_left),
            wet=known(out.days_left_wet),
        )
        if out
        else None,
        refill_at=answer.refill_at,
        start_at=answer.start_at,
        earliest_at=answer.earliest_at,
        hold=answer.hold,
        hold_until=answer.hold_until,
        taken_chance=answer.taken_chance,
        rain_chance=answer.rain_chance,
        wait_mm=answer.wait_mm,
        drained_mm=out.drained_mm if out else None,
        below_refill_hours=answer.below_refill_hours,
        last_reading_hours=known(word),
        amount=AmountOut.model_validate(answer.amount, from_attributes=True)
        if answer.amount
        else None,
        run=_run_out(inputs, answer),
        question=_question_out(inputs, answer, sets),
        regime=inputs.assumed.regime,
        ponded=PondedOut.model_validate(answer.ponded) if answer.ponded else None,
        leaf=_leaf_out(answer.leaf) if answer.leaf else None,
        deficit=DeficitOut.model_validate(answer.deficit) if answer.deficit else None,
        at_risk=AtRiskOut.model_validate(answer.at_risk) if answer.at_risk else None,
        cutting=HarvestsOut.model_validate(answer.cutting) if answer.cutting else None,
    )


def _leaf_out(said: LeafAnswer) -> LeafSaidOut:
    return LeafSaidOut(
        strategy=said.strategy,
        phase=said.phase,
        band_upper=said.band_upper,
        band_lower=said.band_lower,
        next_phase=said.next_phase,
        next_on=said.next_on,
        now=LikelyOut.model_validate(said.now),
        rounds=said.rounds,
        lower_share=said.lower_share,
        upper_share=said.upper_share,
        latest_mpa=said.latest.mpa if said.latest else None,
        latest_hours=said.latest_hours,
        apart_spreads=said.apart_spreads,
        leaves_wanted=said.leaves_wanted,
        round_on=said.round_on,
        side=said.side,
        side_until=said.side_until,
    )


def leaf_points(said: LeafAnswer | None) -> list[LeafPoint]:
    """The leaf of the past days and of those ahead; empty where it is not drawn."""
    course = said.course if said else None
    if course is None:
        return []
    columns = (
        course.hours,
        course.mpa,
        course.dry_mpa,
        course.wet_mpa,
        course.lower_mpa,
        course.upper_mpa,
    )
    return [
        LeafPoint(
            hours=hours,
            mpa=known(mpa, 3),
            dry_mpa=known(dry, 3),
            wet_mpa=known(wet, 3),
            lower_mpa=lower,
            upper_mpa=upper,
        )
        for hours, mpa, dry, wet, lower, upper in zip(*(c.tolist() for c in columns), strict=True)
    ]


def _question_out(
    inputs: BlockInputs, answer: Assessment, sets: Sequence[Irrigation]
) -> QuestionOut | None:
    asked = answer.question
    if asked is None:
        return None
    doubted = None
    if asked.kind is QuestionKind.WATER_DID_NOT_COME:
        inside = [s for s in sets if asked.first_at < s.ended_at <= asked.last_at]
        doubted = max(inside, key=lambda s: s.gross_mm, default=None)
    return QuestionOut(
        kind=asked.kind,
        first_at=asked.first_at,
        last_at=asked.last_at,
        net_mm=asked.net_mm,
        gross_mm=asked.net_mm / inputs.assumed.system.efficiency,
        set_id=doubted.pk if doubted else None,
    )


def _run_out(inputs: BlockInputs, answer: Assessment) -> RunOut | None:
    """How the block's equipment gives the amount; None where there is none."""
    if answer.amount is None or answer.outlook is None:
        return None
    raw = float(answer.outlook.raw_mm[0])
    run = run_of_set(inputs, answer.amount.gross_mm, raw)
    return RunOut.model_validate(run, from_attributes=True) if run else None


def decision_out(row: Decision | None) -> DecisionOut | None:
    """Today's decision."""
    if row is None:
        return None
    return DecisionOut(
        id=row.pk,
        kind=Decision.Kind(row.kind),
        why=Decision.Why(row.why) if row.why else None,
        reason=row.reason,
        made_at=row.made_at,
        made_by=row.made_by.name if row.made_by else None,
        set_id=row.given_id,
    )


def crop_name(inputs: BlockInputs) -> str | None:
    """The crop's name."""
    return inputs.assumed.season.crop.name if inputs.assumed.season else None


def board_row(
    block: Block,
    inputs: BlockInputs,
    answer: Assessment,
    sets: Sequence[Irrigation],
    decision: Decision | None,
) -> BoardRow:
    """One furrow of the board; what the core has made is not checked again."""
    return BoardRow.model_construct(
        id=block.pk,
        name=block.name,
        area_m2=block.area_m2,
        crop=crop_name(inputs),
        system=SystemKind(block.system_kind),
        supply=block.supply,
        irrigator=block.irrigator.name if block.irrigator else None,
        decision=decision_out(decision),
        answer=answer_out(block, inputs, answer, sets),
        past=past_points(answer.past),
        ahead=ahead_points(answer),
        sets=given_sets(sets, inputs.now),
    )


def stated_et(weather: FarmWeather) -> StatedEtOut | None:
    """The ET0 that the outlook runs on."""
    if weather.stated is None:
        return None
    return StatedEtOut.model_validate(weather.stated, from_attributes=True)


def limits_out(answer: Assessment) -> LimitsOut | None:
    """Full, refill and wilting today."""
    if answer.limits is None:
        return None
    return LimitsOut.model_validate(answer.limits, from_attributes=True)


def refill_methods_out(inputs: BlockInputs, answer: Assessment) -> list[RefillMethodOut]:
    """What each method says, and which is in force."""
    return [
        RefillMethodOut(
            refill_method=s.refill_method,
            in_force=s.in_force,
            p=s.p,
            days_left=known(s.days_left),
            net_mm=s.net_mm,
        )
        for s in answer.refill_methods
    ]


def estimates_out(answer: Assessment) -> list[EstimateOut]:
    """What it would be if the sensors or the balance led."""
    return [
        EstimateOut(
            estimate_from=w.estimate_from,
            in_force=w.in_force,
            deficit_mm=w.deficit_mm,
            sigma_mm=w.sigma_mm,
            days_left=known(w.days_left),
        )
        for w in answer.estimates
    ]


def horizons_out(inputs: BlockInputs) -> list[ProfileHorizon]:
    """The soil with its limits."""
    profile = inputs.assumed.profile
    return [
        ProfileHorizon(
            top_mm=float(profile.top_mm[i]),
            bottom_mm=float(profile.bottom_mm[i]),
            texture=limit.texture,
            theta_full=limit.theta_full,
            theta_wilt=limit.theta_wilt,
            full_tension_kpa=limit.full_tension_kpa,
            source=limit.source,
        )
        for i, limit in enumerate(profile.limits)
    ]
