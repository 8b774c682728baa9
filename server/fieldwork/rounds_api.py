"""Rounds for the phone, and visits back from it."""

from collections.abc import Sequence

from django.http import HttpRequest
from ninja import Router, Status

from server.base.error_schema import ERRORS
from server.base.errors import RequestError
from server.base.moment import by_the_phone
from server.base.schema import DoneOut
from server.base.signed_in import person
from server.farms.access import Access, enter
from server.farms.acting import acting
from server.farms.rules import Action
from server.fieldwork.rounds import delete_round, find_round, rounds_of, save_round
from server.fieldwork.schemas import (
    RoundIn,
    RoundOut,
    RoundsOut,
    VisitIn,
    VisitOut,
    VisitProblem,
    VisitsIn,
)
from server.fieldwork.visits import ValueRead, VisitSent, take_visit

router = Router(tags=["rounds"])


def _one(access: Access, round_id: int) -> RoundOut:
    return next(r for r in rounds_of(access.farm) if r.id == round_id)


@router.get("/farms/{slug}/rounds", response={200: RoundsOut, **ERRORS}, operation_id="rounds")
def get_rounds(request: HttpRequest, slug: str) -> RoundsOut:
    """All that the phone takes along where there is no signal."""
    farm = enter(person(request), slug).farm
    return RoundsOut(now=farm.now(), time_zone=farm.time_zone, rounds=rounds_of(farm))


@router.post("/farms/{slug}/rounds", response={201: RoundOut, **ERRORS}, operation_id="add_round")
def post_round(request: HttpRequest, slug: str, data: RoundIn) -> Status[RoundOut]:
    access = enter(person(request), slug)
    return Status(201, _one(access, save_round(access, data).pk))


@router.put(
    "/farms/{slug}/rounds/{round_id}",
    response={200: RoundOut, **ERRORS},
    operation_id="change_round",
)
def put_round(request: HttpRequest, slug: str, round_id: int, data: RoundIn) -> RoundOut:
    access = enter(person(request), slug)
    return _one(access, save_round(access, data, find_round(access, round_id)).pk)


@router.delete(
    "/farms/{slug}/rounds/{round_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="delete_round",
)
def remove_round(request: HttpRequest, slug: str, round_id: int) -> DoneOut:
    delete_round(enter(person(request), slug), round_id)
    return DoneOut()


def _sent(access: Access, data: VisitIn) -> VisitSent:
    return VisitSent(
        key=data.key,
        instrument_id=data.instrument_id,
        round_id=data.round_id,
        at=by_the_phone(access.now(), data.at, data.age_seconds),
        unit=data.unit,
        values=tuple(ValueRead(v.channel_id, v.value) for v in data.values),
        done=tuple(data.done),
        skipped=data.skipped,
        note=data.note,
    )


@router.post(
    "/farms/{slug}/visits",
    response={200: list[VisitOut], **ERRORS},
    operation_id="record_visits",
)
def post_visits(request: HttpRequest, slug: str, data: VisitsIn) -> list[VisitOut]:
    """Visits from a phone, each taken or refused by itself; sent again, each is taken once."""
    return _take_each(enter(person(request), slug), data.visits)


# Each is whole by itself: one that can't be taken keeps no other out.
@acting(Action.RECORD_READINGS, whole=False)
def _take_each(access: Access, visits: Sequence[VisitIn]) -> list[VisitOut]:
    return [_taken(access, visit) for visit in visits]


def _taken(access: Access, visit: VisitIn) -> VisitOut:
    try:
        done = take_visit(access, _sent(access, visit))
    except RequestError as refused:
        return VisitOut(
            key=visit.key,
            taken=False,
            repeated=False,
            message=refused.message,
            problems=[VisitProblem(field=p.field, message=p.message) for p in refused.problems],
        )
    return VisitOut(key=done.key, taken=True, repeated=done.repeated, message="", problems=[])
