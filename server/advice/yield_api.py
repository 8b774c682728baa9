"""What the yield of a block is worth, by the prices among the farm's water supply."""

from django.http import HttpRequest
from ninja import Router

from core.units import M2_PER_HECTARE
from server.base.error_schema import ERRORS
from server.base.schema import Schema
from server.base.signed_in import person
from server.blocks.crop import season_under_way
from server.blocks.services import find_block
from server.farms.access import enter
from server.supply.describe import network_in_force

router = Router(tags=["advice"])


class YieldValueOut(Schema):
    """Money for all of a block's yield; null where nobody priced it, or there is no crop."""

    value: float | None
    currency: str


@router.get(
    "/farms/{slug}/blocks/{block_id}/yield-value",
    response={200: YieldValueOut, **ERRORS},
    operation_id="yield_value",
)
def yield_value(request: HttpRequest, slug: str, block_id: int) -> YieldValueOut:
    """What the block's yield is worth."""
    access = enter(person(request), slug)
    block = find_block(access, block_id)
    season = season_under_way(block, access.now().date())
    document = network_in_force(access.farm).document
    value_ha = document.value_ha(season.crop_key) if season else None
    worth = None if value_ha is None else value_ha * block.area_m2 / M2_PER_HECTARE
    return YieldValueOut(value=worth, currency=document.currency)
