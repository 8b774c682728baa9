"""Blocks: listed, set up, mended, changed many at a time."""

from django.http import HttpRequest
from ninja import Router, Status

from core.irrigation.system import MOVING, SystemKind
from core.irrigation.usual import usual_performance
from core.soil.texture import TextureClass
from core.state.estimate_from import EstimateFrom
from server.base.error_schema import ERRORS
from server.base.signed_in import person
from server.blocks.crop import season_crop, season_under_way
from server.blocks.limit_changes import limit_rules, timeline
from server.blocks.models import Block
from server.blocks.schemas import (
    BlockIn,
    BlockRef,
    BlockSetupOut,
    BulkIn,
    BulkOut,
    CatalogueOut,
    SystemIn,
    UsualOut,
)
from server.blocks.services import change_many, find_block, save_block
from server.farms.access import enter

router = Router(tags=["blocks"])


@router.get("/catalogue", response={200: CatalogueOut, **ERRORS}, operation_id="catalogue")
def catalogue(request: HttpRequest) -> CatalogueOut:
    return CatalogueOut(
        textures=list(TextureClass),
        usual=[
            UsualOut(
                kind=kind,
                efficiency=list(u.efficiency),
                du_lq=list(u.du_lq),
                source=u.source,
                wetted=u.wetted[0] if u.wetted else None,
                wetted_source=u.wetted[1] if u.wetted else "",
            )
            for kind, u in usual_performance().items()
        ],
        system_kinds=list(SystemKind),
        moving_kinds=sorted(MOVING),
    )


@router.post("/farms/{slug}/blocks", response={201: BlockRef, **ERRORS}, operation_id="add_block")
def add_block(request: HttpRequest, slug: str, data: BlockIn) -> Status[Block]:
    return Status(201, save_block(enter(person(request), slug), data))


@router.post("/farms/{slug}/bulk", response={200: BulkOut, **ERRORS}, operation_id="change_many")
def bulk(request: HttpRequest, slug: str, data: BulkIn) -> BulkOut:
    """The same crop, soil or refill rule for many blocks; all or none."""
    access = enter(person(request), slug)
    return BulkOut(blocks=change_many(access, data))


@router.put(
    "/farms/{slug}/blocks/{block_id}/setup",
    response={200: BlockRef, **ERRORS},
    operation_id="change_block",
)
def change_block(request: HttpRequest, slug: str, block_id: int, data: BlockIn) -> Block:
    return save_block(enter(person(request), slug), data, block_id)


@router.get(
    "/farms/{slug}/blocks/{block_id}/setup",
    response={200: BlockSetupOut, **ERRORS},
    operation_id="block_setup",
)
def block_setup(request: HttpRequest, slug: str, block_id: int) -> BlockSetupOut:
    access = enter(person(request), slug)
    block = find_block(access, block_id)
    season = season_under_way(block, access.now().date())
    soil = timeline(block.soils.all())[-1].soil
    rules = limit_rules(block.refill_rules.all())
    out = BlockSetupOut(
        id=block.pk,
        name=block.name,
        area_m2=block.area_m2,
        soil_id=soil.pk,
        soil_name=soil.name,
        crop_key=season_crop(season).key if season else None,
        planted_on=season.planted_on if season else None,
        system=SystemIn(
            kind=SystemKind(block.system_kind),
            rate_mm_h=block.rate_mm_h,
            flow_m3_h=block.flow_m3_h,
            design=block.design,
            efficiency=block.efficiency,
            smallest_mm=block.smallest_mm,
            largest_mm=block.largest_mm,
        ),
        slope_percent=block.slope_percent,
        rain_room_mm=block.rain_room_mm,
        water_ecw=block.water_ecw,
        estimate_from=EstimateFrom(block.estimate_from),
        dual=block.dual,
        capillary_mm_day=block.capillary_mm_day,
        water_table_mm=block.water_table_mm,
        little_and_often=block.little_and_often,
        supply=block.supply,
        irrigator_id=block.irrigator_id,
        **({"refill_method": rules[-1].refill_method} if rules else {"refill_method": "crop_p"}),
    )
    return out
