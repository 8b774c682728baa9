"""The rest of the season as the plan in use has it."""

from server.blocks.models import Block
from server.farms.access import Access
from server.plan.in_use import sheet_in_use
from server.plan.schemas import BlockName, SeasonWaterOut
from server.plan.season import StoredSeason
from server.supply.describe import network_in_force


def season_out(access: Access) -> SeasonWaterOut:
    """By when to begin and how a licence is shared, of blocks that are still there."""
    sheet = sheet_in_use(access.farm)
    stored = sheet.season if sheet else None
    season = None if stored is None else StoredSeason.model_validate(stored)
    names = dict(Block.objects.for_farm(access.farm).order_by("name").values_list("pk", "name"))
    for source in season.sources if season else []:
        if source.licence is not None:
            source.licence.shares = [s for s in source.licence.shares if s.block_id in names]
        if source.begin_by is not None:
            source.begin_by.never = [b for b in source.begin_by.never if b in names]
    return SeasonWaterOut(
        made_at=sheet.made_at if sheet else None,
        currency=network_in_force(access.farm).document.currency,
        blocks=[BlockName(id=pk, name=name) for pk, name in names.items()],
        season=season,
    )
