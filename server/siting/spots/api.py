"""Chosen spots: exported, taken along, installed, checked by hand, kept or moved."""

from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Status

from core.instrument.kinds import InstrumentKind
from server.base.error_schema import ERRORS
from server.base.schema import DoneOut
from server.base.signed_in import person
from server.farms.access import enter
from server.siting.answer import chosen_out
from server.siting.spots.checks import add_check, remove_check
from server.siting.spots.chosen import choose_spot, chosen_spots, find_spot, remove_spot
from server.siting.spots.core import record_core
from server.siting.spots.decisions import decide_on_spot
from server.siting.spots.export import as_geojson, as_gpx
from server.siting.spots.install import install_at, sheet_of
from server.siting.spots.record import spot_record
from server.siting.spots.schemas import (
    ProbeSpotIn,
    ProbeSpotOut,
    SpotCheckIn,
    SpotCoreIn,
    SpotDecisionIn,
    SpotInstrumentIn,
    SpotRecord,
    SpotSheet,
)

router = Router(tags=["siting"])


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
    spots = chosen_spots(access)
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
