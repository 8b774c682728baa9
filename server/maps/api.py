"""The farm's plan: outlines and features, drawn, split, imported, exported."""

import json
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, Status, UploadedFile

from core.land.outline import OutlineProblem, area_m2, outline_of
from server.base.error_schema import ERRORS
from server.base.errors import RequestError
from server.base.schema import DoneOut
from server.base.signed_in import person
from server.blocks.crop import season_crop, season_under_way
from server.blocks.limit_changes import timeline
from server.blocks.loading import blocks_of
from server.blocks.models import Block
from server.blocks.schemas import BlockRef
from server.blocks.services import GROUND_PARTS
from server.farms.access import Access, enter
from server.files.confined import content_of
from server.maps.features import add_feature, delete_feature
from server.maps.importing import FileReading, import_outlines
from server.maps.models import FeatureKind, MapFeature
from server.maps.outlines import (
    outlined,
    refuse_overlaps,
    set_outline,
    split_block,
    stored_outline,
)
from server.maps.schemas import (
    FeatureIn,
    FeatureOut,
    ImportOut,
    MapBlock,
    MapOut,
    MeasureIn,
    MeasureOut,
    OutlineIn,
    SplitIn,
)

router = Router(tags=["map"])


def _map_block(block: Block, access: Access) -> MapBlock:
    season = season_under_way(block, access.now().date())
    return MapBlock(
        id=block.pk,
        name=block.name,
        area_m2=block.area_m2,
        outline_m2=block.outline_m2,
        crop=season_crop(season).name if season else None,
        soil=timeline(block.soils.all())[-1].soil.name,
        geometry=block.outline["geometry"] if block.outline else None,
    )


def _feature_out(row: MapFeature) -> FeatureOut:
    return FeatureOut(
        id=row.pk,
        kind=FeatureKind(row.kind),
        name=row.name,
        geometry=row.geometry,
        soil=row.soil.name if row.soil else "",
        surveyed=row.survey_id is not None,
    )


@router.get("/farms/{slug}/map", response={200: MapOut, **ERRORS}, operation_id="farm_map")
def farm_map(request: HttpRequest, slug: str) -> MapOut:
    access = enter(person(request), slug)
    return MapOut(
        blocks=[_map_block(b, access) for b in blocks_of(access.farm, GROUND_PARTS, outlines=True)],
        features=[
            _feature_out(f) for f in MapFeature.objects.for_farm(access.farm).select_related("soil")
        ],
    )


@router.get("/farms/{slug}/map/export", response={**ERRORS}, operation_id="export_map")
def export_map(request: HttpRequest, slug: str) -> HttpResponse:
    """The blocks' outlines as GeoJSON; what was imported goes out as it came in."""
    access = enter(person(request), slug)
    features: list[Any] = [b.outline for b in outlined(access)]
    body = json.dumps({"type": "FeatureCollection", "features": features}, ensure_ascii=False)
    answer = HttpResponse(body, content_type="application/geo+json")
    answer["Content-Disposition"] = f'attachment; filename="{access.farm.slug}-blocks.geojson"'
    return answer


@router.post(
    "/farms/{slug}/map/measure",
    response={200: MeasureOut, **ERRORS},
    operation_id="measure_outline",
)
def measure(request: HttpRequest, slug: str, data: MeasureIn) -> MeasureOut:
    """Area of an outline as it is drawn, and what stands against it."""
    access = enter(person(request), slug)
    try:
        outline = outline_of(data.geometry)
    except OutlineProblem as problem:
        return MeasureOut(area_m2=0.0, problem=str(problem))
    others = outlined(access, [data.block_id] if data.block_id else [])
    problem_text = ""
    try:
        refuse_overlaps(
            ["It", *(b.name for b in others)], [outline, *(stored_outline(b) for b in others)]
        )
    except RequestError as refused:
        overlaps = [p.message for p in refused.problems if p.message.startswith("It and")]
        problem_text = " ".join(overlaps)
    return MeasureOut(area_m2=area_m2(outline), problem=problem_text)


@router.put(
    "/farms/{slug}/blocks/{block_id}/outline",
    response={200: BlockRef, **ERRORS},
    operation_id="set_outline",
)
def put_outline(request: HttpRequest, slug: str, block_id: int, data: OutlineIn) -> Block:
    access = enter(person(request), slug)
    return set_outline(access, block_id, data.geometry, data.take_area)


@router.post(
    "/farms/{slug}/blocks/{block_id}/split",
    response={201: BlockRef, **ERRORS},
    operation_id="split_block",
)
def split(request: HttpRequest, slug: str, block_id: int, data: SplitIn) -> Status[Block]:
    access = enter(person(request), slug)
    return Status(201, split_block(access, block_id, data.line, data.name))


@router.post(
    "/farms/{slug}/map/import", response={200: ImportOut, **ERRORS}, operation_id="import_map"
)
def import_map(
    request: HttpRequest,
    slug: str,
    file: File[UploadedFile],
    projection: Form[str] = "",
    latitude_first: Form[bool] = False,
    name_property: Form[str] = "",
    like_block_id: Form[int | None] = None,
    take_area: Form[bool] = False,
    dry_run: Form[bool] = True,
) -> ImportOut:
    """Outlines of a file; saved only when asked, and then all or none."""
    reading = FileReading(content_of(file), file.name or "", projection, latitude_first)
    access = enter(person(request), slug)
    return import_outlines(access, reading, name_property, like_block_id, take_area, dry_run)


@router.post(
    "/farms/{slug}/map/features",
    response={201: FeatureOut, **ERRORS},
    operation_id="add_feature",
)
def post_feature(request: HttpRequest, slug: str, data: FeatureIn) -> Status[FeatureOut]:
    return Status(201, _feature_out(add_feature(enter(person(request), slug), data)))


@router.delete(
    "/farms/{slug}/map/features/{feature_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="delete_feature",
)
def remove_feature(request: HttpRequest, slug: str, feature_id: int) -> DoneOut:
    delete_feature(enter(person(request), slug), feature_id)
    return DoneOut()
