"""Blocks: set up, mend, and the limits of a soil while it is being described."""

import numpy as np
from django.http import HttpRequest
from ninja import Router, Status

from core.advice.vocabulary import School
from core.crop.catalogue import crops
from core.crop.depletion import adjusted_p
from core.crop.season import Stage, crop_days
from core.irrigation.system import MOVING, SystemKind
from core.soil.horizon import Horizon, HorizonLimits, LimitMethod, horizon_limits
from core.soil.texture import TextureClass
from core.store.limits import root_zone_limits
from server.blocks.models import Block
from server.blocks.schemas import (
    BlockIn,
    BlockRef,
    BlockSetupOut,
    CatalogueOut,
    CropOut,
    HorizonIn,
    HorizonOut,
    SoilPreviewIn,
    SoilPreviewOut,
    SystemIn,
)
from server.blocks.services import find_block, save_block, to_profile
from server.farms.access import enter
from server.farms.rules import Action
from server.refusal_schema import REFUSALS
from server.signed_in import person

router = Router(tags=["blocks"])


@router.get("/catalogue", response={200: CatalogueOut, **REFUSALS}, operation_id="catalogue")
def catalogue(request: HttpRequest) -> CatalogueOut:
    return CatalogueOut(
        crops=[CropOut.model_validate(c, from_attributes=True) for c in crops().values()],
        textures=list(TextureClass),
        system_kinds=list(SystemKind),
        moving_kinds=sorted(MOVING),
    )


@router.post(
    "/farms/{slug}/blocks", response={201: BlockRef, **REFUSALS}, operation_id="make_block"
)
def make_block(request: HttpRequest, slug: str, data: BlockIn) -> Status[Block]:
    return Status(201, save_block(enter(person(request), slug, Action.SET_UP_GROUND), data))


@router.put(
    "/farms/{slug}/blocks/{block_id}/setup",
    response={200: BlockRef, **REFUSALS},
    operation_id="change_block",
)
def change_block(request: HttpRequest, slug: str, block_id: int, data: BlockIn) -> Block:
    return save_block(enter(person(request), slug, Action.SET_UP_GROUND), data, block_id)


@router.get(
    "/farms/{slug}/blocks/{block_id}/setup",
    response={200: BlockSetupOut, **REFUSALS},
    operation_id="block_setup",
)
def block_setup(request: HttpRequest, slug: str, block_id: int) -> BlockSetupOut:
    block = find_block(enter(person(request), slug), block_id)
    season = block.seasons.order_by("-planted_on").first()
    return BlockSetupOut(
        id=block.pk,
        name=block.name,
        area_m2=block.area_m2,
        soil_name=block.soil_profile.name,
        horizons=[
            HorizonIn(
                top_mm=h.top_mm,
                bottom_mm=h.bottom_mm,
                sand=h.sand,
                silt=h.silt,
                clay=h.clay,
                texture=TextureClass(h.texture) if h.texture else None,
                organic_matter=h.organic_matter,
                gravel=h.gravel,
                method=LimitMethod(h.method),
                theta_full=h.theta_full,
                theta_wilt=h.theta_wilt,
            )
            for h in block.soil_profile.horizons.all()
        ],
        crop_key=season.crop_key if season else None,
        planted_on=season.planted_on if season else None,
        system=SystemIn(
            kind=SystemKind(block.system_kind),
            rate_mm_h=block.rate_mm_h,
            flow_m3_h=block.flow_m3_h,
            efficiency=block.efficiency,
            smallest_mm=block.smallest_mm,
            largest_mm=block.largest_mm,
        ),
        rain_room_mm=block.rain_room_mm,
        school=School(block.school),
    )


def _per_metre(limits: HorizonLimits) -> float:
    return (limits.theta_full - limits.theta_wilt) * 1000


def _horizon_out(given: HorizonIn, limits: HorizonLimits) -> HorizonOut:
    def by(method: LimitMethod) -> float:
        return _per_metre(horizon_limits(Horizon(**{**given.model_dump(), "method": method})))

    return HorizonOut(
        texture=limits.texture,
        sand=limits.sand,
        clay=limits.clay,
        theta_full=limits.theta_full,
        theta_wilt=limits.theta_wilt,
        theta_sat=limits.theta_sat,
        full_tension_kpa=limits.full_tension_kpa,
        source=limits.source,
        clamped=limits.clamped,
        available_mm_per_m=_per_metre(limits),
        regression_mm_per_m=by(LimitMethod.REGRESSION),
        book_mm_per_m=by(LimitMethod.BOOK),
    )


@router.post(
    "/farms/{slug}/soil-preview",
    response={200: SoilPreviewOut, **REFUSALS},
    operation_id="soil_preview",
)
def soil_preview(request: HttpRequest, slug: str, data: SoilPreviewIn) -> SoilPreviewOut:
    """Limits of a soil as it is being typed, at today's roots of the crop."""
    access = enter(person(request), slug)
    profile = to_profile(data.horizons)
    horizons = [_horizon_out(g, x) for g, x in zip(data.horizons, profile.limits, strict=True)]
    root = taw = raw = stage = None
    if data.crop_key in crops() and data.planted_on is not None:
        crop = crops()[data.crop_key or ""]
        day = (access.farm.now().date() - data.planted_on).days
        today = crop_days(crop, np.array([float(day)]))
        stage = str(today.stage[0])
        if stage not in (Stage.BEFORE, Stage.OVER):
            root = min(float(today.root_mm[0]), profile.depth_mm)
            limits = root_zone_limits(profile, root, adjusted_p(crop.p, 5.0))
            taw, raw = float(limits.taw_mm), float(limits.raw_mm)
    return SoilPreviewOut(horizons=horizons, root_mm=root, taw_mm=taw, raw_mm=raw, stage=stage)
