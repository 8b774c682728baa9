"""The use that a crop has shown, made the Kc of the block's season."""

from core.learned.use_factor import UseFit
from core.sentence import sentence
from server.advice.refill_seen import block_refill
from server.advice.similar_blocks import borrowed_from
from server.base.errors import Problem, RequestError
from server.blocks.as_seen import name_as_seen
from server.blocks.crop import book_key, season_crop, season_under_way
from server.blocks.models import Block
from server.crops.models import FarmCrop
from server.crops.own import own_key, with_values
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action

MID = 1  # of the three Kc of a crop
# A crop's name has 80 letters; some are left for a number.
NAME_ROOM = 72


@acting(Action.SET_UP_GROUND)
def adopt_use(
    access: Access, block: Block, reason: str, similar_block_id: int | None = None
) -> FarmCrop:
    """Give the season a crop of the farm's own whose Kc of mid season is as was seen; undone by
    choosing the season's crop again.

    A block without a site may borrow what a similar block has shown.

    Raises
    ------
    RequestError
    """
    seen_on = block if similar_block_id is None else borrowed_from(access, block, similar_block_id)
    found = block_refill(access.farm, seen_on)
    season = season_under_way(block, access.now().date())
    use = found.use if found else None
    if use is None or use.fit is not UseFit.DIFFERS or season is None:
        raise RequestError(
            sentence("Nothing was changed."),
            (
                Problem(
                    field="use",
                    message=sentence("No use has been seen that differs from the stated one."),
                ),
            ),
        )
    grown = season_crop(season)
    values = dict(season.farm_crop.values) if season.farm_crop else {}
    for name, stated in (("kc", grown.kc), ("kcb", grown.kcb)):
        if stated is not None:
            values[name] = [
                round(kc * use.share, 3) if k == MID else kc for k, kc in enumerate(stated)
            ]
    taken = FarmCrop.objects.for_farm(access.farm).values_list("name", flat=True)
    row = FarmCrop(
        farm=access.farm,
        name=name_as_seen(grown.name, seen_on.name, taken, NAME_ROOM),
        book_key=book_key(season),
        values=values,
        reason=reason.strip(),
    )
    with_values(row.book_key, values, own_key(row), row.name, "the farm's own")
    row.save()
    record(access, Done.CROP_ADDED, row.name)
    season.crop_key, season.farm_crop = "", row
    season.save()
    record(access, Done.SEASON_CHANGED, block.name, block=block.pk)
    return row
