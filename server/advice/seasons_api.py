"""A block's seasons, to be laid over each other."""

from django.http import HttpRequest
from ninja import Router

from server.advice.season_courses import SeasonCourseOut, block_season
from server.base.error_schema import ERRORS
from server.base.signed_in import person
from server.blocks.seasons import find_season
from server.blocks.services import find_block
from server.farms.access import enter

router = Router(tags=["blocks"])


@router.get(
    "/farms/{slug}/blocks/{block_id}/seasons/{season_id}/course",
    response={200: SeasonCourseOut, **ERRORS},
    operation_id="season_course",
)
def get_course(request: HttpRequest, slug: str, block_id: int, season_id: int) -> SeasonCourseOut:
    """A season day by day with its sums: the store, what was used and what was lost."""
    access = enter(person(request), slug)
    block = find_block(access, block_id)
    return block_season(access.farm, block, find_season(block, season_id))
