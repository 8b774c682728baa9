"""Siting: layer files imported, layers cleaned, zones and spots of a block."""

from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import File, Form, Router, Status, UploadedFile

from core.instrument.kinds import InstrumentKind
from server.base.error_schema import ERRORS
from server.base.schema import DoneOut
from server.base.signed_in import person
from server.blocks.models import Block
from server.farms.access import Access, enter
from server.files.confined import content_of
from server.siting.analysis import BlockSiting
from server.siting.answer import chosen_out, siting_out
from server.siting.cover import cover_of
from server.siting.export import as_geojson, as_gpx
from server.siting.files import (
    change_reading,
    delete_layer_file,
    find_layer_file,
    layer_files,
    store_layer,
    upload_layer,
)
from server.siting.first_look import LayerLook
from server.siting.install import install_at, sheet_of
from server.siting.layers import change_layer, delete_layer
from server.siting.models import LayerFile, LayerFileState, ProbeSpot, SitingSettings
from server.siting.points import tried_points
from server.siting.reading import LayerReading
from server.siting.schemas import (
    CoverOut,
    InstrumentChoiceIn,
    InstrumentChoiceOut,
    LayerChange,
    LayerFileDetail,
    LayerFileOut,
    LayerFileReport,
    LayerPointsOut,
    LayerTrial,
    ProbeSpotIn,
    ProbeSpotOut,
    RainFileOut,
    RainYearOut,
    RainYearsIn,
    SitingOut,
    SitingSettingsIn,
    SitingSpotOut,
    SpotCheckIn,
    SpotCoreIn,
    SpotDecisionIn,
    SpotInstrumentIn,
    SpotRecord,
    SpotSheet,
)
from server.siting.season_rain import import_rain_years, put_rain_years, rain_years
from server.siting.spot_record import (
    add_check,
    decide_on_spot,
    record_core,
    remove_check,
    spot_record,
)
from server.siting.spots import (
    change_siting,
    choose_spot,
    find_spot,
    looked_at,
    remove_spot,
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


def _chosen(access: Access) -> list[ProbeSpot]:
    rows = ProbeSpot.objects.for_farm(access.farm).select_related("block", "made_by")
    return list(rows.order_by("block__name", "made_at", "pk"))


def _siting(access: Access, block_id: int) -> SitingOut:
    return _out(access, *looked_at(access, block_id))


def _out(access: Access, block: Block, siting: BlockSiting, settings: SitingSettings) -> SitingOut:
    chosen = [s for s in _chosen(access) if s.block_id == block.pk]
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


@router.post(
    "/farms/{slug}/blocks/{block_id}/siting/spots",
    response={201: ProbeSpotOut, **ERRORS},
    operation_id="choose_spot",
)
def post_spot(
    request: HttpRequest, slug: str, block_id: int, data: ProbeSpotIn
) -> Status[ProbeSpotOut]:
    return Status(201, chosen_out(choose_spot(enter(person(request), slug), block_id, data)))


@router.get(
    "/farms/{slug}/probe-spots/export",
    response={**ERRORS},
    operation_id="export_spots",
)
def export_spots(
    request: HttpRequest, slug: str, form: Literal["gpx", "geojson"] = "gpx"
) -> HttpResponse:
    """The farm's chosen spots, for a receiver or a map."""
    access = enter(person(request), slug)
    spots = _chosen(access)
    body = as_gpx(spots) if form == "gpx" else as_geojson(spots)
    kind = "application/gpx+xml" if form == "gpx" else "application/geo+json"
    answer = HttpResponse(body, content_type=kind)
    answer["Content-Disposition"] = f'attachment; filename="{access.farm.slug}-spots.{form}"'
    return answer


@router.get(
    "/farms/{slug}/probe-spots/{spot_id}",
    response={200: SpotSheet, **ERRORS},
    operation_id="spot_sheet",
)
def get_spot_sheet(
    request: HttpRequest,
    slug: str,
    spot_id: int,
    kind: InstrumentKind = InstrumentKind.CAPACITANCE_PROBE,
) -> SpotSheet:
    """What to take along to a chosen spot."""
    return sheet_of(find_spot(enter(person(request), slug), spot_id), kind)


@router.post(
    "/farms/{slug}/probe-spots/{spot_id}/instrument",
    response={201: ProbeSpotOut, **ERRORS},
    operation_id="install_at_spot",
)
def post_instrument(
    request: HttpRequest, slug: str, spot_id: int, data: SpotInstrumentIn
) -> Status[ProbeSpotOut]:
    access = enter(person(request), slug)
    return Status(201, chosen_out(install_at(access, spot_id, data)))


@router.get(
    "/farms/{slug}/probe-spots/{spot_id}/record",
    response={200: SpotRecord, **ERRORS},
    operation_id="spot_record",
)
def get_spot_record(request: HttpRequest, slug: str, spot_id: int) -> SpotRecord:
    """Its core, its instrument, checks by hand, and how it lies to the farm's other probes."""
    return spot_record(enter(person(request), slug), spot_id)


@router.put(
    "/farms/{slug}/probe-spots/{spot_id}/core",
    response={200: SpotRecord, **ERRORS},
    operation_id="record_spot_core",
)
def put_core(request: HttpRequest, slug: str, spot_id: int, data: SpotCoreIn) -> SpotRecord:
    access = enter(person(request), slug)
    record_core(access, spot_id, data)
    return spot_record(access, spot_id)


@router.post(
    "/farms/{slug}/probe-spots/{spot_id}/checks",
    response={201: SpotRecord, **ERRORS},
    operation_id="add_spot_check",
)
def post_check(
    request: HttpRequest, slug: str, spot_id: int, data: SpotCheckIn
) -> Status[SpotRecord]:
    access = enter(person(request), slug)
    add_check(access, spot_id, data)
    return Status(201, spot_record(access, spot_id))


@router.delete(
    "/farms/{slug}/spot-checks/{check_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="remove_spot_check",
)
def delete_check(request: HttpRequest, slug: str, check_id: int) -> DoneOut:
    remove_check(enter(person(request), slug), check_id)
    return DoneOut()


@router.post(
    "/farms/{slug}/probe-spots/{spot_id}/decisions",
    response={201: SpotRecord, **ERRORS},
    operation_id="decide_on_spot",
)
def post_decision(
    request: HttpRequest, slug: str, spot_id: int, data: SpotDecisionIn
) -> Status[SpotRecord]:
    access = enter(person(request), slug)
    decide_on_spot(access, spot_id, data)
    return Status(201, spot_record(access, spot_id))


@router.delete(
    "/farms/{slug}/probe-spots/{spot_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="remove_spot",
)
def delete_spot(request: HttpRequest, slug: str, spot_id: int) -> DoneOut:
    remove_spot(enter(person(request), slug), spot_id)
    return DoneOut()
