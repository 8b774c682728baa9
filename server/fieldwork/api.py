"""Instruments at work: how they do, all of one, and its log."""

from django.http import HttpRequest, HttpResponse
from ninja import Router, Status

from core.instrument.cautions import cautions
from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.life import LogKind, tasks_due
from core.instrument.reading_units import units_of
from server.base.error_schema import ERRORS
from server.base.json_out import json_answer
from server.base.schema import DoneOut
from server.base.signed_in import person
from server.blocks.services import find_block
from server.farms.access import Access, enter
from server.fieldwork.health import health_of, task_out
from server.fieldwork.log import add_event, remove_event
from server.fieldwork.schemas import (
    CautionOut,
    HealthOut,
    InstallStep,
    InstrumentDetail,
    LogEntryIn,
    LogEntryOut,
    NoteOut,
)
from server.instruments.api import channels_out, photo_out, user_name, written_quantity
from server.instruments.calibrate import curves_out
from server.instruments.models import Instrument, InstrumentEvent
from server.instruments.schemas import InstrumentChange
from server.instruments.services import change_instrument, find_instrument
from server.water.passes import moves_on

router = Router(tags=["fieldwork"])

# More of one block nobody looks through.
NOTES_SHOWN = 200


def event_out(event: InstrumentEvent) -> LogEntryOut:
    """An entry of the log."""
    return LogEntryOut(
        id=event.pk,
        kind=LogKind(event.kind),
        at=event.at,
        note=event.note,
        done=event.done,
        proof=event.proof,
        passed=event.passed,
        depth_mm=event.depth_mm,
        made_by=user_name(event.made_by),
    )


def _detail(access: Access, instrument_id: int) -> InstrumentDetail:
    farm, now = access.farm, access.now()
    find_instrument(access, instrument_id)
    row = (
        Instrument.objects.for_farm(farm)
        .select_related("block")
        .prefetch_related(
            "channels__calibrations__made_by",
            "channels__calibrations__undone_by",
            "events__made_by",
        )
        .get(pk=instrument_id)
    )
    facts = kinds()[InstrumentKind(row.kind)]
    log = [e.entry for e in row.events.all()]
    quantity = written_quantity(row)
    return InstrumentDetail(
        health=health_of(farm, row.pk)[0],
        now=now,
        time_zone=farm.time_zone,
        quantity=quantity,
        units=units_of(quantity),
        channels=channels_out(row),
        position=row.position,
        pass_place=row.pass_place,
        passed=moves_on(row.block),
        constants=row.constants,
        lies=facts.lies,
        install=[InstallStep(key=step, text=step) for step in facts.install],
        proof=facts.proof,
        proof_low=facts.proof_low,
        proof_high=facts.proof_high,
        proof_unit=units_of(facts.quantity)[0],
        settles_days=facts.settles_days,
        tasks=[task_out(d, now) for d in tasks_due(facts.tasks, log, now)],
        cautions=[
            CautionOut(title=cautions()[k].title, text=cautions()[k].text) for k in facts.cautions
        ],
        events=[event_out(e) for e in reversed(row.events.all())],
        curves=curves_out(row),
        photos=[
            photo_out(p)
            for p in row.photos.defer("image").select_related("made_by").order_by("-taken_at")
        ],
    )


@router.get(
    "/farms/{slug}/instruments",
    response={200: list[HealthOut], **ERRORS},
    operation_id="instruments",
)
def get_instruments(request: HttpRequest, slug: str) -> HttpResponse:
    """Every instrument at a glance."""
    farm = enter(person(request), slug).farm
    return json_answer(request, health_of(farm))


@router.get(
    "/farms/{slug}/instruments/{instrument_id}",
    response={200: InstrumentDetail, **ERRORS},
    operation_id="instrument",
)
def get_instrument(request: HttpRequest, slug: str, instrument_id: int) -> InstrumentDetail:
    return _detail(enter(person(request), slug), instrument_id)


@router.patch(
    "/farms/{slug}/instruments/{instrument_id}",
    response={200: InstrumentDetail, **ERRORS},
    operation_id="change_instrument",
)
def patch_instrument(
    request: HttpRequest, slug: str, instrument_id: int, data: InstrumentChange
) -> InstrumentDetail:
    access = enter(person(request), slug)
    change_instrument(access, instrument_id, data)
    return _detail(access, instrument_id)


@router.get(
    "/farms/{slug}/blocks/{block_id}/notes",
    response={200: list[NoteOut], **ERRORS},
    operation_id="notes",
)
def get_notes(request: HttpRequest, slug: str, block_id: int) -> list[NoteOut]:
    """Notes in the logs of a block's instruments, the newest first."""
    access = enter(person(request), slug)
    block = find_block(access, block_id)
    rows = (
        InstrumentEvent.objects.for_farm(access.farm)
        .filter(instrument__block=block, kind=str(LogKind.NOTE))
        .select_related("instrument", "made_by")
        .order_by("-at", "-pk")[:NOTES_SHOWN]
    )
    return [
        NoteOut(
            id=row.pk,
            instrument_id=row.instrument_id,
            instrument=row.instrument.label,
            at=row.at,
            depth_mm=row.depth_mm,
            note=row.note,
            made_by=user_name(row.made_by),
        )
        for row in rows
    ]


@router.post(
    "/farms/{slug}/instruments/{instrument_id}/events",
    response={201: LogEntryOut, **ERRORS},
    operation_id="add_instrument_event",
)
def post_event(
    request: HttpRequest, slug: str, instrument_id: int, data: LogEntryIn
) -> Status[LogEntryOut]:
    access = enter(person(request), slug)
    return Status(201, event_out(add_event(access, instrument_id, data)))


@router.delete(
    "/farms/{slug}/instruments/{instrument_id}/events/{event_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="remove_instrument_event",
)
def delete_event(request: HttpRequest, slug: str, instrument_id: int, event_id: int) -> DoneOut:
    remove_event(enter(person(request), slug), instrument_id, event_id)
    return DoneOut()
