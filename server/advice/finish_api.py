"""A block's last irrigations."""

from collections.abc import Callable
from datetime import date, timedelta
from typing import Annotated

from django.http import HttpRequest
from ninja import Query, Router

from core.finish.last_irrigation import Finish, ReserveMethod
from core.plan.price_of_set import price_of_set
from core.units import M2_PER_HECTARE, MM_M2_PER_M3
from server.advice.answers import load
from server.advice.finish import BlockFinish, FinishStatus, block_finish
from server.base.error_schema import ERRORS
from server.base.schema import Schema
from server.base.signed_in import person
from server.blocks.services import find_block
from server.farms.access import enter
from server.supply.describe import network_in_force
from server.supply.document import network_of
from server.weather.years_back import weather_record

router = Router(tags=["advice"])


class LastIrrigation(Schema):
    """An irrigation that is still needed [mm], due between two days; its price is null where the
    farm has no prices for water, power or labour."""

    net_mm: float
    gross_mm: float
    price: float | None
    first_on: date
    last_on: date


class FinishOutcome(Schema):
    """How the season ends: depths [mm], net; see `core.finish.last_irrigation.Finish`. The losses
    are shares of the yield, in the mean of the years; null where a reserve is left."""

    finished: bool
    need_mm: float
    usable_mm: float
    rain_mm: float
    planned_mm: float
    spare_mm: float
    more: list[LastIrrigation]
    short: float
    short_mm: float
    short_loss: float | None
    short_after: float
    short_after_mm: float
    short_after_loss: float | None


class ToMaturityRow(Schema):
    """Days and crop use [mm] to maturity by a table of the trade."""

    days: float
    use_mm: float


class FinishOut(Schema):
    """``available_mm`` is the mean; of ``taw_mm`` ``reserve_mm`` is to be left. Null where nothing
    can be said; ``table`` where the crop has none, ``value`` of the block's whole yield where
    nobody said what it is worth."""

    status: FinishStatus
    method: ReserveMethod
    chance: float
    ripe_on: date | None
    days: int | None
    available_mm: float | None
    taw_mm: float | None
    reserve_mm: float | None
    outcome: FinishOutcome | None
    if_later: FinishOutcome | None
    if_earlier: FinishOutcome | None
    table: ToMaturityRow | None
    currency: str
    value: float | None


@router.get(
    "/farms/{slug}/blocks/{block_id}/finish",
    response={200: FinishOut, **ERRORS},
    operation_id="block_finish",
)
def finish_of_block(
    request: HttpRequest,
    slug: str,
    block_id: int,
    method: ReserveMethod = ReserveMethod.ALL,
    chance: Annotated[float, Query(ge=0.5, le=0.98)] = 0.9,
) -> FinishOut:
    """Whether a block's crop still needs water before it is ripe; if so how much, and when."""
    access = enter(person(request), slug)
    block, now = find_block(access, block_id), access.now()
    inputs = load(access.farm, [block], now).inputs[block.pk]
    # Near its end a block was loaded with it.
    record = inputs.years or weather_record(access.farm, now.date())
    found = block_finish(inputs, record, method, chance)
    document = network_in_force(access.farm).document
    value_ha = document.value_ha(found.crop_key)
    network, left = network_of(document), found.left

    def price(gross_mm: float) -> float | None:
        return price_of_set(
            network, block.supply, block.pk, gross_mm * block.area_m2 / MM_M2_PER_M3
        )

    return FinishOut(
        status=found.status,
        method=method,
        chance=chance,
        ripe_on=found.ripe_on,
        days=None if found.ripe_on is None else (found.ripe_on - found.on).days,
        available_mm=None if left is None else round(float(left.available_mm.mean()), 1),
        taw_mm=None if left is None else round(float(left.taw_mm.mean()), 1),
        reserve_mm=None if left is None else round(left.reserve_mm, 1),
        outcome=_outcome(found, found.found, price),
        if_later=_outcome(found, found.if_later, price),
        if_earlier=_outcome(found, found.if_earlier, price),
        table=None
        if found.table is None
        else ToMaturityRow(days=round(found.table.days, 1), use_mm=round(found.table.use_mm, 1)),
        currency=document.currency,
        value=None if value_ha is None else round(value_ha * block.area_m2 / M2_PER_HECTARE, 2),
    )


def _outcome(
    of: BlockFinish, found: Finish | None, price: Callable[[float], float | None]
) -> FinishOutcome | None:
    if found is None:
        return None
    return FinishOutcome(
        finished=found.finished,
        need_mm=round(found.need_mm, 1),
        usable_mm=round(found.usable_mm, 1),
        rain_mm=round(found.rain_mm, 1),
        planned_mm=round(found.planned_mm, 1),
        spare_mm=round(found.spare_mm, 1),
        more=[
            LastIrrigation(
                net_mm=round(m.net_mm, 1),
                gross_mm=round(m.net_mm / of.efficiency, 1),
                price=_money(price(m.net_mm / of.efficiency)),
                first_on=of.on + timedelta(days=m.first_day),
                last_on=of.on + timedelta(days=m.last_day),
            )
            for m in found.more
        ],
        short=round(found.short, 3),
        short_mm=round(found.short_mm, 1),
        short_loss=_loss(of, found.short_mm),
        short_after=round(found.short_after, 3),
        short_after_mm=round(found.short_after_mm, 1),
        short_after_loss=_loss(of, found.short_after_mm),
    )


def _money(value: float | None) -> float | None:
    return None if value is None else round(value, 2)


def _loss(of: BlockFinish, short_mm: float) -> float | None:
    return None if of.loss_per_mm is None else round(min(short_mm * of.loss_per_mm, 1.0), 4)
