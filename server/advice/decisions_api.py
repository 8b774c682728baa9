"""Deciding on advice, trying what would be, and looking back."""

from django.http import HttpRequest
from ninja import Field, Query, Router, Status

from server.advice.decisions import Decided, accept_many, decide_on, undo_decision
from server.advice.history import (
    HistoryOut,
    HistoryStretch,
    PastAdviceOut,
    block_history,
    past_advice,
)
from server.advice.models import Decision
from server.advice.present import decision_out
from server.advice.schemas import DecisionOut
from server.advice.what_if import WhatIfIn, WhatIfOut, what_if
from server.base.error_schema import ERRORS
from server.base.moment import Moment
from server.base.schema import Body, DoneOut, Keys, Schema
from server.base.signed_in import person
from server.blocks.services import find_block
from server.farms.access import enter

router = Router(tags=["decisions"])


class DecisionIn(Body):
    """Times without an offset are farm-local; hours or depth of the set wanted instead."""

    kind: Decision.Kind
    start_at: Moment | None = None
    hours: float | None = Field(None, gt=0, le=240)
    gross_mm: float | None = Field(None, gt=0, le=1000)
    why: Decision.Why | None = None
    reason: str = Field("", max_length=300)


class AcceptIn(Body):
    block_ids: Keys = Field(min_length=1)


class AcceptedOut(Schema):
    accepted: int


def _out(row: Decision) -> DecisionOut:
    made = decision_out(row)
    assert made is not None  # noqa: S101 - a decision that is there has its words
    return made


@router.post(
    "/farms/{slug}/blocks/{block_id}/decisions",
    response={201: DecisionOut, **ERRORS},
    operation_id="decide",
)
def decide(request: HttpRequest, slug: str, block_id: int, data: DecisionIn) -> Status[DecisionOut]:
    """Accept today's advice, change its start, hours or depth, or decline it with a reason."""
    decided = Decided(
        kind=data.kind,
        start_at=data.start_at,
        hours=data.hours,
        gross_mm=data.gross_mm,
        why=data.why or "",
        reason=data.reason,
    )
    return Status(201, _out(decide_on(enter(person(request), slug), block_id, decided)))


@router.post(
    "/farms/{slug}/decisions/accept",
    response={201: AcceptedOut, **ERRORS},
    operation_id="accept_many",
)
def accept(request: HttpRequest, slug: str, data: AcceptIn) -> Status[AcceptedOut]:
    """Accept the advice of several blocks; all or none."""
    done = accept_many(enter(person(request), slug), data.block_ids)
    return Status(201, AcceptedOut(accepted=len(done)))


@router.delete(
    "/farms/{slug}/decisions/{decision_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="undo_decision",
)
def undo(request: HttpRequest, slug: str, decision_id: int) -> DoneOut:
    undo_decision(enter(person(request), slug), decision_id)
    return DoneOut()


@router.post(
    "/farms/{slug}/blocks/{block_id}/what-if",
    response={200: WhatIfOut, **ERRORS},
    operation_id="what_if",
)
def try_out(request: HttpRequest, slug: str, block_id: int, data: WhatIfIn) -> WhatIfOut:
    """The block's answer if things were as decided; nothing is saved."""
    access = enter(person(request), slug)
    return what_if(access, find_block(access, block_id), access.now(), data)


@router.get(
    "/farms/{slug}/blocks/{block_id}/advice",
    response={200: HistoryOut, **ERRORS},
    operation_id="advice_history",
)
def history(
    request: HttpRequest, slug: str, block_id: int, stretch: Query[HistoryStretch]
) -> HistoryOut:
    """What was advised day by day, what was decided, and what came of it."""
    access = enter(person(request), slug)
    return block_history(access, find_block(access, block_id), stretch.days)


@router.get(
    "/farms/{slug}/blocks/{block_id}/advice/{advice_id}",
    response={200: PastAdviceOut, **ERRORS},
    operation_id="past_advice",
)
def one(request: HttpRequest, slug: str, block_id: int, advice_id: int) -> PastAdviceOut:
    access = enter(person(request), slug)
    return past_advice(access, find_block(access, block_id), advice_id)
