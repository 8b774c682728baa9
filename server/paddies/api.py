"""The bunded rice field of a block: described, and no longer one."""

from datetime import date

from django.http import HttpRequest
from ninja import Router

from core.ponded.field import Started
from server.base.error_schema import ERRORS
from server.base.moment import Day
from server.base.schema import Body, DoneOut, Schema
from server.base.signed_in import person
from server.blocks.services import find_block
from server.farms.access import enter
from server.paddies.models import Paddy, paddy_of
from server.paddies.settings import PaddyIn, log_nitrogen, remove_paddy, save_paddy

router = Router(tags=["rice"])


class PaddyOut(Schema):
    """A bunded field as it is described; levels [mm], below zero under the ground."""

    bund_mm: float
    started: Started
    threshold_mm: float
    threshold_since: date | None
    refill_to_mm: float
    keep_ponded_until: date | None
    drying_from: date | None
    percolation_mm_day: float | None
    porosity: float | None
    nitrogen: list[date]
    nitrogen_done: list[date]


class PaddyAnswer(Schema):
    """``paddy`` is null where the block is not described as a rice field."""

    paddy: PaddyOut | None


class DressingIn(Body):
    on: Day


def _out(row: Paddy) -> PaddyOut:
    return PaddyOut.model_validate(row)


@router.get(
    "/farms/{slug}/blocks/{block_id}/paddy",
    response={200: PaddyAnswer, **ERRORS},
    operation_id="paddy",
)
def paddy(request: HttpRequest, slug: str, block_id: int) -> PaddyAnswer:
    """How the block is described as a rice field."""
    row = paddy_of(find_block(enter(person(request), slug), block_id))
    return PaddyAnswer(paddy=_out(row) if row else None)


@router.put(
    "/farms/{slug}/blocks/{block_id}/paddy",
    response={200: PaddyOut, **ERRORS},
    operation_id="save_paddy",
)
def save(request: HttpRequest, slug: str, block_id: int, data: PaddyIn) -> PaddyOut:
    """Describe the block as a rice field; it is then watered as ponded rice."""
    return _out(save_paddy(enter(person(request), slug), block_id, data))


@router.delete(
    "/farms/{slug}/blocks/{block_id}/paddy",
    response={200: DoneOut, **ERRORS},
    operation_id="remove_paddy",
)
def remove(request: HttpRequest, slug: str, block_id: int) -> DoneOut:
    """The block is no longer watered as ponded rice."""
    remove_paddy(enter(person(request), slug), block_id)
    return DoneOut()


@router.post(
    "/farms/{slug}/blocks/{block_id}/paddy/nitrogen",
    response={200: PaddyOut, **ERRORS},
    operation_id="log_nitrogen",
)
def nitrogen(request: HttpRequest, slug: str, block_id: int, data: DressingIn) -> PaddyOut:
    """A planned dressing of nitrogen is done."""
    return _out(log_nitrogen(enter(person(request), slug), block_id, data.on))
