"""Siting: layer files imported, layers cleaned, zones and spots of a block."""

from django.http import HttpRequest
from ninja import File, Form, Router, Status, UploadedFile

from server.base.error_schema import ERRORS
from server.base.schema import DoneOut
from server.base.signed_in import person
from server.blocks.models import Block
from server.farms.access import Access, enter
from server.files.confined import content_of
from server.siting.analysis import BlockSiting
from server.siting.answer import siting_out
from server.siting.choice_schemas import InstrumentChoiceIn, InstrumentChoiceOut
from server.siting.cover import cover_of
from server.siting.cover_schemas import CoverOut
from server.siting.layer_files.first_look import LayerLook
from server.siting.layer_files.reading import LayerReading
from server.siting.layer_files.services import (
    change_reading,
    delete_layer_file,
    find_layer_file,
    layer_files,
    store_layer,
    upload_layer,
)
from server.siting.layer_schemas import (
    LayerChange,
    LayerFileDetail,
    LayerFileOut,
    LayerFileReport,
    LayerPointsOut,
    LayerTrial,
)
from server.siting.layers import change_layer, delete_layer
from server.siting.models import LayerFile, LayerFileState, SitingSettings
from server.siting.points import tried_points
from server.siting.rain_schemas import RainFileOut, RainYearOut, RainYearsIn
from server.siting.schemas import SitingOut, SitingSettingsIn, SitingSpotOut
from server.siting.season_rain import import_rain_years, put_rain_years, rain_years
from server.siting.spots.chosen import (
    change_siting,
    chosen_spots,
    looked_at,
    spot_at,
)
from server.siting.suits import what_suits

router = Router(tags=["siting"])
LISTED = 50


def _summary(row: LayerFile) -> LayerFileOut:
    return LayerFileOut(
        id=row.pk,
        file_name=row.file_name,
        size=row.size,
        state=LayerFileState(row.state),
        made_at=row.made_at,
        made_by=row.made_by.name if row.made_by else "",
        done=row.done,
        total=row.total,
        problem=row.problem,
        report=LayerFileReport.model_validate(row.report) if row.report else None,
    )


def _siting(access: Access, block_id: int) -> SitingOut:
    return _out(access, *looked_at(access, block_id))


def _out(access: Access, block: Block, siting: BlockSiting, settings: SitingSettings) -> SitingOut:
    chosen = [s for s in chosen_spots(access) if s.block_id == block.pk]
    return siting_out(block, siting, settings, chosen)


@router.get("/farms/{slug}/siting", response={200: CoverOut, **ERRORS}, operation_id="farm_siting")
def get_cover(request: HttpRequest, slug: str) -> CoverOut:
    """Kinds of block and the sites that stand for them."""
    return cover_of(enter(person(request), slug))


@router.post(
    "/farms/{slug}/blocks/{block_id}/instrument-choice",
    response={200: InstrumentChoiceOut, **ERRORS},
    operation_id="instrument_choice",
)
def post_instrument_choice(
    request: HttpRequest, slug: str, block_id: int, data: InstrumentChoiceIn
) -> InstrumentChoiceOut:
    """Which kind of instrument suits the block; nothing is stored."""
    return what_suits(enter(person(request), slug), block_id, data)


@router.get(
    "/farms/{slug}/rain-years",
    response={200: list[RainYearOut], **ERRORS},
    operation_id="rain_years",
)
def get_rain_years(request: HttpRequest, slug: str) -> list[RainYearOut]:
    """Rain of the years of layers, as entered and by the farm's weather."""
    return rain_years(enter(person(request), slug))


@router.put(
    "/farms/{slug}/rain-years",
    response={200: list[RainYearOut], **ERRORS},
    operation_id="put_rain_years",
)
def put_years(request: HttpRequest, slug: str, data: RainYearsIn) -> list[RainYearOut]:
    access = enter(person(request), slug)
    put_rain_years(access, data.years)
    return rain_years(access)


@router.post(
    "/farms/{slug}/rain-years/file",
    response={200: RainFileOut, **ERRORS},
    operation_id="import_rain_years",
)
def post_rain_file(
    request: HttpRequest, slug: str, file: File[UploadedFile], dry_run: Form[bool] = True
) -> RainFileOut:
    """Years of a table; added to the farm's only when asked."""
    access = enter(person(request), slug)
    return RainFileOut(
        years=import_rain_years(access, content_of(file), dry_run), saved=not dry_run
    )


@router.get(
    "/farms/{slug}/layer-files",
    response={200: list[LayerFileOut], **ERRORS},
    operation_id="layer_files",
)
def get_layer_files(request: HttpRequest, slug: str) -> list[LayerFileOut]:
    return [_summary(r) for r in layer_files(enter(person(request), slug))[:LISTED]]


@router.post(
    "/farms/{slug}/layer-files",
    response={202: LayerFileOut, **ERRORS},
    operation_id="upload_layer_file",
)
def post_layer_file(
    request: HttpRequest, slug: str, file: File[UploadedFile]
) -> Status[LayerFileOut]:
    """A file of points or a grid. It is looked at next, and nothing is stored yet."""
    access = enter(person(request), slug)
    row = upload_layer(access, file.name or "", file.size or 0, file.chunks())
    return Status(202, _summary(row))


@router.get(
    "/farms/{slug}/layer-files/{file_id}",
    response={200: LayerFileDetail, **ERRORS},
    operation_id="layer_file",
)
def get_layer_file(request: HttpRequest, slug: str, file_id: int) -> LayerFileDetail:
    row = find_layer_file(enter(person(request), slug), file_id)
    return LayerFileDetail(
        summary=_summary(row),
        look=LayerLook.model_validate(row.look) if row.look else None,
        reading=LayerReading.model_validate(row.reading) if row.reading else None,
    )


@router.put(
    "/farms/{slug}/layer-files/{file_id}/reading",
    response={200: LayerFileOut, **ERRORS},
    operation_id="change_layer_reading",
)
def put_reading(request: HttpRequest, slug: str, file_id: int, data: LayerReading) -> LayerFileOut:
    return _summary(change_reading(enter(person(request), slug), file_id, data))


@router.post(
    "/farms/{slug}/layer-files/{file_id}/store",
    response={202: LayerFileOut, **ERRORS},
    operation_id="store_layer_file",
)
def post_store(request: HttpRequest, slug: str, file_id: int) -> Status[LayerFileOut]:
    return Status(202, _summary(store_layer(enter(person(request), slug), file_id)))


@router.delete(
    "/farms/{slug}/layer-files/{file_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="delete_layer_file",
)
def remove_layer_file(request: HttpRequest, slug: str, file_id: int) -> DoneOut:
    delete_layer_file(enter(person(request), slug), file_id)
    return DoneOut()


@router.put(
    "/farms/{slug}/siting-layers/{layer_id}",
    response={200: SitingOut, **ERRORS},
    operation_id="change_siting_layer",
)
def put_layer(request: HttpRequest, slug: str, layer_id: int, data: LayerChange) -> SitingOut:
    access = enter(person(request), slug)
    return _siting(access, change_layer(access, layer_id, data).block_id)


@router.post(
    "/farms/{slug}/siting-layers/{layer_id}/points",
    response={200: LayerPointsOut, **ERRORS},
    operation_id="siting_layer_points",
)
def post_points(request: HttpRequest, slug: str, layer_id: int, data: LayerTrial) -> LayerPointsOut:
    """What becomes of a layer's points under rules that are tried; nothing is stored."""
    return tried_points(enter(person(request), slug), layer_id, data)


@router.delete(
    "/farms/{slug}/siting-layers/{layer_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="delete_siting_layer",
)
def remove_layer(request: HttpRequest, slug: str, layer_id: int) -> DoneOut:
    delete_layer(enter(person(request), slug), layer_id)
    return DoneOut()


@router.get(
    "/farms/{slug}/blocks/{block_id}/siting",
    response={200: SitingOut, **ERRORS},
    operation_id="block_siting",
)
def get_siting(request: HttpRequest, slug: str, block_id: int) -> SitingOut:
    return _siting(enter(person(request), slug), block_id)


@router.put(
    "/farms/{slug}/blocks/{block_id}/siting",
    response={200: SitingOut, **ERRORS},
    operation_id="change_siting",
)
def put_siting(request: HttpRequest, slug: str, block_id: int, data: SitingSettingsIn) -> SitingOut:
    access = enter(person(request), slug)
    return _out(access, *change_siting(access, block_id, data))


@router.get(
    "/farms/{slug}/blocks/{block_id}/siting/spot",
    response={200: SitingSpotOut, **ERRORS},
    operation_id="siting_spot",
)
def get_spot(
    request: HttpRequest, slug: str, block_id: int, longitude: float, latitude: float
) -> SitingSpotOut:
    """What is known of any position in the block."""
    _, siting, _ = looked_at(enter(person(request), slug), block_id)
    return spot_at(siting, (longitude, latitude))
