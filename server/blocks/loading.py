"""A farm's blocks with all their parts, and their soils as the core takes them."""

from collections.abc import Sequence
from datetime import date

from django.db.models import QuerySet

from core.limits.by_day import DatedSoil
from core.soil.profile import Profile
from server.blocks.limit_changes import dated_soils
from server.blocks.models import Block
from server.blocks.services import BLOCK_PARTS
from server.farms.models import Farm
from server.soils.convert import soil_profile


class Ground:
    """The soils of a farm's blocks as the core takes them; a soil shared by many is read once."""

    def __init__(self) -> None:
        self._profiles: dict[int, Profile] = {}

    def under(self, block: Block, today: date) -> tuple[DatedSoil, ...]:
        """The soils of a block up to today, the one in force last; they should be prefetched."""
        rows = block.soils.all()
        for row in rows:
            if row.undone_at is None and row.soil_id not in self._profiles:
                self._profiles[row.soil_id] = soil_profile(row.soil)
        return dated_soils(rows, today, self._profiles)


def blocks_of(
    farm: Farm, parts: Sequence[str] = BLOCK_PARTS, outlines: bool = False
) -> QuerySet[Block]:
    """A farm's blocks with all that an answer needs, in a fixed number of queries.

    ``parts`` may leave out what a page does not show. Their outlines may be large and are left
    in the database unless asked for.
    """
    rows: QuerySet[Block] = Block.objects.for_farm(farm)
    if not outlines:
        rows = rows.defer("outline")
    return rows.prefetch_related(*parts).order_by("name")
