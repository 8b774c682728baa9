"""What would be if: a block's answer under other assumptions, nothing stored."""

from dataclasses import replace
from datetime import date, datetime
from typing import Annotated

import numpy as np
from ninja import Field

from core.advice.assumptions import Assumptions
from core.advice.inputs import BlockInputs, PlannedSet
from core.advice.stated_et import StatedEt
from core.crop.growth_stages import book_day, growth_stages
from core.crop.season import StageSeen
from core.limits.by_day import DatedSoil
from core.limits.refill_method import LimitRule, RefillMethod, RuleProblem, check_rule
from core.outlook.forecast import Forecast
from core.regime.assess import assess_blocks
from core.sentence import sentence
from core.state.estimate_from import EstimateFrom
from server.advice.answers import load, load_whole
from server.advice.present import ahead_points, answer_out
from server.advice.schemas import AheadPoint, AnswerOut
from server.base.errors import Problem, RequestError
from server.base.schema import Body, Name, Schema
from server.blocks.crop import book_key, season_under_way
from server.blocks.models import Block
from server.events.adopt import adopted_horizons
from server.farms.access import Access
from server.soils.convert import typed_profile

DAYS = 10


class WhatIfIn(Body):
    """What to assume instead; null leaves it as it is.

    A set by its start from now [h] and its length [h] or depth [mm gross], in place of those
    that are planned; rain [mm] of each day from today in place of the forecast's; ``et_factor``
    on the reference ET of the days ahead; a stage of the crop seen today; horizons, by their place
    from 0, whose full points are those that sensors have shown.
    """

    set_start_hours: float | None = Field(None, ge=0, le=24 * DAYS)
    set_hours: float | None = Field(None, ge=1 / 60, le=240)
    set_gross_mm: float | None = Field(None, gt=0, le=500)
    no_set: bool = False
    rain_mm: list[Annotated[float, Field(ge=0, le=500)]] | None = Field(None, max_length=DAYS)
    et_factor: float = Field(1, ge=0.3, le=2)
    stage_key: Name | None = None
    p: float | None = Field(None, ge=0.1, le=0.8)
    refill_method: RefillMethod | None = None
    estimate_from: EstimateFrom | None = None
    rain_room_mm: float | None = Field(None, ge=0, le=200)
    full_horizons: list[int] | None = Field(None, min_length=1, max_length=40)


class WhatIfOut(Schema):
    now: datetime
    time_zone: str
    answer: AnswerOut
    ahead: list[AheadPoint]
    raw_mm: float | None
    taw_mm: float | None


def _planned(inputs: BlockInputs, data: WhatIfIn) -> tuple[PlannedSet, ...]:
    if data.no_set:
        return ()
    if data.set_start_hours is None:
        return inputs.planned
    system = inputs.assumed.system
    rate = system.application_rate_mm_h
    if data.set_hours is not None:
        hours, gross = data.set_hours, data.set_hours * rate
    elif data.set_gross_mm is not None:
        hours, gross = data.set_gross_mm / rate, data.set_gross_mm
    else:
        raise RequestError(
            sentence("This case can't be calculated."),
            (Problem(field="set_hours", message=sentence("Enter how long the irrigation runs.")),),
        )
    start = data.set_start_hours
    return (PlannedSet(start, start + hours, gross * system.efficiency),)


def _weather(assumed: Assumptions, data: WhatIfIn) -> Assumptions:
    """Forecast and stated ET as asked."""
    forecast, et = assumed.forecast, assumed.et
    if et is not None and data.et_factor != 1:
        f = data.et_factor
        et = StatedEt(et.low * f, et.expected * f, et.high * f, "what if", et.surface)
    if forecast is None and data.rain_mm and et is not None:
        stated = Forecast.stated(et.low, et.expected, et.high, DAYS)
        forecast = Forecast.of(stated.et0_mm, stated.rain_mm, DAYS)
    elif forecast is not None and data.et_factor != 1:
        forecast = replace(forecast, et0_mm=forecast.et0_mm * data.et_factor)
    if forecast is not None and data.rain_mm is not None:
        rain = np.zeros_like(forecast.rain_mm)
        days = min(len(data.rain_mm), rain.shape[1])
        rain[:, :days] = data.rain_mm[:days]
        forecast = replace(forecast, rain_mm=rain)
    return replace(assumed, et=et, forecast=forecast)


def _seen_today(assumed: Assumptions, block: Block, today: date, key: str) -> Assumptions:
    """As if a stage of the crop had been seen this morning."""
    planted, season = season_under_way(block, today), assumed.season
    if planted is None or season is None:
        return assumed
    places = {s.key: s.place for s in growth_stages(book_key(planted))}
    if key not in places:
        raise RequestError(
            sentence("This case can't be calculated."),
            (Problem(field="stage_key", message=sentence("This crop has no such stage.")),),
        )
    day = (today - season.planted_on).days
    seen = StageSeen(day, book_day(season.crop, places[key]))
    return replace(assumed, season=replace(season, seen=(*season.seen, seen)))


def _refill_rule(assumed: Assumptions, data: WhatIfIn) -> Assumptions:
    """Another refill point in force."""
    if data.refill_method is None and data.p is None:
        return assumed
    refill_method = data.refill_method or RefillMethod.CROP_P
    rule = LimitRule(refill_method, None if refill_method is RefillMethod.TENSION else data.p)
    try:
        check_rule(rule, assumed.season.crop if assumed.season else None)
    except RuleProblem as problem:
        raise RequestError(
            sentence("This case can't be calculated."),
            (Problem(field="refill_method", message=problem.message),),
        ) from None
    return replace(assumed, rules=(*assumed.rules, rule))


def _full_seen(
    inputs: BlockInputs, access: Access, block: Block, horizons: list[int]
) -> BlockInputs:
    """As if full points that were seen were adopted from today on."""
    profile = typed_profile(adopted_horizons(access.farm, block, horizons))
    soils = (*inputs.assumed.dated_soils, DatedSoil(inputs.now.date(), profile))
    return replace(
        inputs,
        assumed=replace(inputs.assumed, profile=profile, soils=soils),
        sites=tuple(site.under(profile) for site in inputs.sites),
    )


def _changed(inputs: BlockInputs, access: Access, block: Block, data: WhatIfIn) -> BlockInputs:
    if data.full_horizons is not None:
        inputs = _full_seen(inputs, access, block, data.full_horizons)
    assumed = _refill_rule(_weather(inputs.assumed, data), data)
    if data.estimate_from is not None:
        assumed = replace(assumed, estimate_from=data.estimate_from)
    if data.rain_room_mm is not None:
        assumed = replace(assumed, rain_room_mm=data.rain_room_mm)
    if data.stage_key is not None:
        assumed = _seen_today(assumed, block, inputs.now.date(), data.stage_key)
    return replace(inputs, planned=_planned(inputs, data), assumed=assumed)


def what_if(access: Access, block: Block, now: datetime, data: WhatIfIn) -> WhatIfOut:
    """The block's answer if things were as said.

    Raises
    ------
    RequestError
        When an assumption can't be.
    """
    # Another stage, soil or method has no mornings kept to go on from.
    anew = (data.estimate_from, data.stage_key, data.full_horizons)
    loads = load if all(x is None for x in anew) else load_whole
    inputs = _changed(loads(access.farm, [block], now).inputs[block.pk], access, block, data)
    answer = assess_blocks([inputs], past=False)[0]
    return WhatIfOut(
        now=now,
        time_zone=access.farm.time_zone,
        answer=answer_out(block, inputs, answer),
        ahead=ahead_points(answer),
        raw_mm=float(answer.limits.raw_mm) if answer.limits else None,
        taw_mm=float(answer.limits.taw_mm) if answer.limits else None,
    )
