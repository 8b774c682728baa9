"""Spots that people choose, and how they are looked for."""

from typing import Any

import numpy as np
from django.db import IntegrityError, transaction

from core.sentence import sentence
from core.siting.problem import SitingProblem
from server.base.errors import NotFound, Problem, RequestError
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.siting.analysis import BlockSiting, block_siting, settings_of, zones_key
from server.siting.answer import spot_out
from server.siting.models import ProbeSpot, SitingLayer, SitingSettings
from server.siting.schemas import Position, ProbeSpotIn, SitingSettingsIn, SitingSpotOut


def outlined_block(access: Access, block_id: int) -> Block:
    """A block of the farm that has an outline.

    Raises
    ------
    NotFound, RequestError
    """
    block: Block | None = Block.objects.for_farm(access.farm).filter(pk=block_id).first()
    if block is None:
        raise NotFound(sentence("There is no such block on this farm."))
    if not block.outline:
        raise RequestError(
            sentence(
                "{block} has no outline. Draw it on the map, or import it; layers and spots lie "
                "within.",
                block=block.name,
            )
        )
    return block


def looked_at(access: Access, block_id: int) -> tuple[Block, BlockSiting, SitingSettings]:
    """A block, what its layers tell, and its settings.

    Raises
    ------
    NotFound, RequestError
    """
    block = outlined_block(access, block_id)
    settings = settings_of(block)
    try:
        return block, block_siting(block, settings), settings
    except SitingProblem as problem:
        raise RequestError(problem.message) from None


def spot_at(siting: BlockSiting, position: Position) -> SitingSpotOut:
    """What is known of any position in the block.

    Raises
    ------
    RequestError
        When it lies outside.
    """
    cell = _cell(siting, position)
    found = spot_out(siting, cell)
    found.position = position
    return found


def _cell(siting: BlockSiting, position: Position) -> int:
    x, y = siting.raster.frame.metres([position[0]], [position[1]])
    cell = int(siting.raster.cell_at(np.asarray(x), np.asarray(y))[0])
    if cell < 0:
        raise RequestError(sentence("This position lies outside the block. Move the flag into it."))
    return cell


def find_spot(access: Access, spot_id: int) -> ProbeSpot:
    """A chosen spot of the farm.

    Raises
    ------
    NotFound
    """
    rows = ProbeSpot.objects.for_farm(access.farm).select_related("block", "made_by")
    row: ProbeSpot | None = rows.filter(pk=spot_id).first()
    if row is None:
        raise NotFound(sentence("There is no such spot on this farm."))
    return row


@acting(Action.SET_UP_GROUND)
def change_siting(access: Access, block_id: int, data: SitingSettingsIn) -> SitingSettings:
    """Change how spots of a block are looked for.

    Names and merges hold for the zones that the person saw; of another number of zones they are
    forgotten.
    """
    block = outlined_block(access, block_id)
    settings = settings_of(block)
    changed = settings.zone_count != data.zone_count
    values: dict[str, Any] = data.model_dump(mode="json")
    if changed:
        values |= {"zone_names": [], "merged": {}, "zone": None}
    for name, value in values.items():
        setattr(settings, name, value)
    rows = SitingLayer.objects.for_farm(access.farm).filter(block=block).defer("points", "grid")
    settings.zones_of = "" if changed else zones_key(list(rows), settings)
    settings.save()
    record(access, Done.SITING_CHANGED, block.name, block=block.pk)
    return settings


@acting(Action.SET_UP_GROUND)
def choose_spot(access: Access, block_id: int, data: ProbeSpotIn) -> ProbeSpot:
    """Decide for a spot, with the reason.

    Raises
    ------
    RequestError
        When it lies outside the block, or its name is taken.
    """
    block, siting, settings = looked_at(access, block_id)
    position = (data.longitude, data.latitude)
    found = spot_at(siting, position)
    row = ProbeSpot(
        block=block,
        name=data.name.strip(),
        position=list(position),
        purpose=settings.purpose,
        score=found.score,
        found=found.model_dump(mode="json", exclude={"position"}),
        why=data.why.strip(),
        made_at=access.now(),
        made_by=access.user,
    )
    try:
        with transaction.atomic():
            row.save()
    except IntegrityError:
        raise RequestError(
            sentence("The spot was not saved."),
            (
                Problem(
                    field="name",
                    message=sentence(
                        "{block} has a spot {name} already.", block=block.name, name=row.name
                    ),
                ),
            ),
        ) from None
    record(access, Done.SPOT_CHOSEN, f"{block.name}, {row.name}", block=block.pk)
    return row


@acting(Action.SET_UP_GROUND)
def remove_spot(access: Access, spot_id: int) -> None:
    """Take a chosen spot away.

    Raises
    ------
    NotFound
    """
    row = find_spot(access, spot_id)
    record(access, Done.SPOT_REMOVED, f"{row.block.name}, {row.name}", block=row.block_id)
    row.delete()
