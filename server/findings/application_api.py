"""The amount of applied water that sensors found, for the limits page."""

from django.http import HttpRequest
from ninja import Router, Status

from core.diagnosis.application_seen import ApplicationFit
from core.diagnosis.cause import cause_words
from server.base.error_schema import ERRORS
from server.base.language import Translated
from server.base.schema import Body, DoneOut, Schema
from server.base.signed_in import person
from server.blocks.services import find_block
from server.farms.access import enter
from server.findings.application import (
    ApplicationFigure,
    adopt_application,
    block_application,
    efficiency_as_seen,
    rate_as_seen,
)

router = Router(tags=["limits"])


class ApplicationSeenOut(Schema):
    """Water that came over the net water on record [-] with its middle 80 percent, and how it goes
    with the record; ``cause`` is the name of what else explains it, null where nothing does.

    ``rate_mm_h`` or ``flow_m3_h``, whichever the block states, and ``efficiency`` [-] in use; those
    ``_seen`` would have brought what was found, null where they can't be adopted.
    """

    irrigations: int
    sites: int
    share: float
    low: float
    high: float
    fit: ApplicationFit
    cause: Translated | None
    rate_mm_h: float | None
    flow_m3_h: float | None
    rate_mm_h_seen: float | None
    flow_m3_h_seen: float | None
    efficiency: float
    efficiency_seen: float | None


class AdoptApplicationIn(Body):
    figure: ApplicationFigure


@router.get(
    "/farms/{slug}/blocks/{block_id}/application",
    response={200: ApplicationSeenOut | None, **ERRORS},
    operation_id="application_seen",
)
def application_seen(request: HttpRequest, slug: str, block_id: int) -> ApplicationSeenOut | None:
    """What sensors found of the water that was applied; null where too few irrigations tell it."""
    access = enter(person(request), slug)
    block = find_block(access, block_id)
    seen = block_application(access.farm, block)
    if seen is None:
        return None
    rate = rate_as_seen(block, seen.share)
    by_flow = block.flow_m3_h is not None
    return ApplicationSeenOut(
        irrigations=seen.irrigations,
        sites=seen.sites,
        share=seen.share,
        low=seen.low,
        high=seen.high,
        fit=seen.fit,
        cause=None if seen.cause is None else cause_words()[seen.cause].name,
        rate_mm_h=block.rate_mm_h,
        flow_m3_h=block.flow_m3_h,
        rate_mm_h_seen=None if by_flow else rate,
        flow_m3_h_seen=rate if by_flow else None,
        efficiency=block.efficiency,
        efficiency_seen=efficiency_as_seen(block, seen.share),
    )


@router.post(
    "/farms/{slug}/blocks/{block_id}/application",
    response={201: DoneOut, **ERRORS},
    operation_id="adopt_application",
)
def post_application(
    request: HttpRequest, slug: str, block_id: int, data: AdoptApplicationIn
) -> Status[DoneOut]:
    """Make what was found the block's application rate or its efficiency."""
    access = enter(person(request), slug)
    adopt_application(access, find_block(access, block_id), data.figure)
    return Status(201, DoneOut())
