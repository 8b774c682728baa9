"""The checklist of a farm that is being set up."""

from django.http import HttpRequest
from ninja import Router

from server.base.error_schema import ERRORS
from server.base.signed_in import person
from server.checklist.models import SetupStep
from server.checklist.steps import SetupStepOut, SkipIn, skip_step, steps_of
from server.farms.access import enter

router = Router(tags=["farms"])


@router.get(
    "/farms/{slug}/checklist",
    response={200: list[SetupStepOut], **ERRORS},
    operation_id="checklist",
)
def get_checklist(request: HttpRequest, slug: str) -> list[SetupStepOut]:
    """How far the farm is set up, step by step."""
    return steps_of(enter(person(request), slug).farm)


@router.put(
    "/farms/{slug}/checklist/{step}",
    response={200: list[SetupStepOut], **ERRORS},
    operation_id="skip_step",
)
def put_step(request: HttpRequest, slug: str, step: SetupStep, data: SkipIn) -> list[SetupStepOut]:
    """Whether a step is not needed."""
    access = enter(person(request), slug)
    skip_step(access, step, data.skipped)
    return steps_of(access.farm)
