"""Crops: the book, the farm's own, and what they differ in."""

from typing import Any

import numpy as np
from django.db.models import Count
from django.http import HttpRequest
from ninja import Router, Status

from core.crop.catalogue import Crop, crops
from core.crop.growth_stages import growth_stages
from core.crop.season import crop_days
from server.base.error_schema import ERRORS
from server.base.schema import DoneOut
from server.base.signed_in import person
from server.blocks.models import CropSeason
from server.crops.models import FarmCrop
from server.crops.own import own_crop, own_key, plain_value
from server.crops.schemas import (
    CropIn,
    CropOut,
    CropRef,
    CropRow,
    CropValue,
    CuttingOut,
    Difference,
    StageOut,
    WindowOut,
)
from server.crops.services import (
    crop_by_key,
    delete_own,
    find_own,
    own_crops,
    save_own,
    with_seasons,
)
from server.farms.access import Access, enter

router = Router(tags=["crops"])


def _common(grown: Crop, book_key: str, blocks: int) -> dict[str, Any]:
    return {
        "key": grown.key,
        "name": grown.name,
        "group": grown.group,
        "own": grown.key != book_key,
        "book_key": book_key,
        "calendar": grown.calendar,
        "perennial": grown.perennial,
        "surface": grown.surface,
        "kc": list(grown.kc),
        "stage_days": list(grown.stage_days),
        "root_initial_mm": grown.root_initial_mm,
        "root_schedule_mm": grown.root_schedule_mm,
        "root_deep_mm": grown.root_deep_mm,
        "p": grown.p,
        "tension_kpa": grown.tension_kpa,
        "counts_warmth": grown.degree_days is not None,
        "scales_with_cover": grown.canopy is not None,
        "is_cut": grown.cutting is not None,
        "blocks": blocks,
        "sources": grown.sources,
    }


def _as_text(value: Any) -> str:
    if value is None:
        return "none"
    if isinstance(value, dict):
        return ", ".join(f"{k.replace('_', ' ')} {_as_text(v)}" for k, v in value.items())
    if isinstance(value, list):
        return " / ".join(_as_text(v) for v in value)
    return f"{value:g}" if isinstance(value, int | float) else str(value)


def _differences(own: FarmCrop) -> list[Difference]:
    book = crops()[own.book_key]
    return [
        Difference(
            value=CropValue(name), own=_as_text(value), book=_as_text(plain_value(book, name))
        )
        for name, value in own.values.items()
    ]


def _cutting(grown: Crop) -> CuttingOut | None:
    cycle = grown.cutting
    if cycle is None:
        return None
    kcb = list(cycle.kcb) if cycle.kcb else None
    return CuttingOut(days=list(cycle.days), kc=list(cycle.kc), kcb=kcb)


def _crop_out(access: Access, key: str) -> CropOut:
    grown = crop_by_key(access, key)
    own = find_own(access, key) if key not in crops() else None
    book_key = own.book_key if own else key
    curve = crop_days(grown, np.arange(sum(grown.stage_days) + 1))
    return CropOut(
        **_common(grown, book_key, own.seasons.count() if own else 0),
        reason=own.reason if own else "",
        height_m=grown.height_m,
        kcb=plain_value(grown, "kcb"),
        ky_season=grown.ky_season,
        windows=[WindowOut.model_validate(w, from_attributes=True) for w in grown.windows],
        salt=plain_value(grown, "salt"),
        degree_days=plain_value(grown, "degree_days"),
        canopy=plain_value(grown, "canopy"),
        cutting=_cutting(grown),
        stages=[StageOut.model_validate(s, from_attributes=True) for s in growth_stages(book_key)],
        differences=_differences(own) if own else [],
        curve_kc=[round(float(x), 4) for x in curve.kc],
        curve_root_mm=[round(float(x), 1) for x in curve.root_mm],
    )


@router.get("/farms/{slug}/crops", response={200: list[CropRow], **ERRORS}, operation_id="crops")
def list_crops(request: HttpRequest, slug: str) -> list[CropRow]:
    """The farm's own crops, then the book's."""
    access = enter(person(request), slug)
    grown = (
        CropSeason.objects.for_farm(access.farm)
        .filter(farm_crop__isnull=True)
        .values("crop_key")
        .annotate(n=Count("pk"))
    )
    count = {row["crop_key"]: row["n"] for row in grown}
    own = [_common(own_crop(c), c.book_key, n) for c, n in with_seasons(own_crops(access))]
    book = [_common(c, c.key, count.get(c.key, 0)) for c in crops().values()]
    return [CropRow(**row) for row in own + book]


@router.get("/farms/{slug}/crops/{key}", response={200: CropOut, **ERRORS}, operation_id="crop")
def one_crop(request: HttpRequest, slug: str, key: str) -> CropOut:
    return _crop_out(enter(person(request), slug), key)


@router.post("/farms/{slug}/crops", response={201: CropRef, **ERRORS}, operation_id="add_crop")
def add_crop(request: HttpRequest, slug: str, data: CropIn) -> Status[CropRef]:
    row = save_own(enter(person(request), slug), data)
    return Status(201, CropRef(key=own_key(row), name=row.name))


@router.put(
    "/farms/{slug}/crops/{key}", response={200: CropRef, **ERRORS}, operation_id="change_crop"
)
def change_crop(request: HttpRequest, slug: str, key: str, data: CropIn) -> CropRef:
    row = save_own(enter(person(request), slug), data, key)
    return CropRef(key=own_key(row), name=row.name)


@router.delete(
    "/farms/{slug}/crops/{key}", response={200: DoneOut, **ERRORS}, operation_id="delete_crop"
)
def remove_crop(request: HttpRequest, slug: str, key: str) -> DoneOut:
    delete_own(enter(person(request), slug), key)
    return DoneOut()
