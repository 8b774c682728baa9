"""Spots that people choose, and how they are looked for."""

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
from server.siting.analysis import BlockSiting, block_siting, settings_of, siting_on
from server.siting.answer import spot_out
from server.siting.ground import block_ground, with_distances
from server.siting.models import ProbeSpot, SitingSettings
from server.siting.schemas import SitingSettingsIn, SitingSpotOut
from server.siting.spots.schemas import Position, ProbeSpotIn
from server.siting.zoning import keep_zones, plain_zones


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
    raster = siting.ground.raster
    x, y = raster.frame.metres([position[0]], [position[1]])
    cell = int(raster.cell_at(np.asarray(x), np.asarray(y))[0])
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


def chosen_spots(access: Access) -> list[ProbeSpot]:
    """The farm's chosen spots, by their blocks."""
    rows = ProbeSpot.objects.for_farm(access.farm).select_related("block", "made_by")
    return list(rows.order_by("block__name", "made_at", "pk"))


def spot_name(row: ProbeSpot) -> str:
    """A spot's name with that of its block."""
    return f"{row.block.name}, {row.name}"


@acting(Action.SET_UP_GROUND)
def change_siting(
    access: Access, block_id: int, data: SitingSettingsIn
) -> tuple[Block, BlockSiting, SitingSettings]:
    """Change how spots of a block are looked for.

    What is said of zones is of those that the person saw. Where another number of them is asked
    for, or zones of something else, their names go with those that are the same ones.

    Raises
    ------
    NotFound, RequestError
    """
    block = outlined_block(access, block_id)
    settings = settings_of(block)
    try:
        ground = block_ground(block, settings)
        seen = plain_zones(ground, settings)
        asked = (settings.zone_count, settings.zones_from)
        for name, value in data.model_dump(mode="json").items():
            setattr(settings, name, value)
        again = asked != (settings.zone_count, settings.zones_from)
        if again:
            settings.merged, settings.zone_edits = {}, []
        for edit in settings.zone_edits:
            if edit["ring"][0] != edit["ring"][-1]:
                edit["ring"].append(edit["ring"][0])
        keep_zones(settings, seen)
        ground = with_distances(ground, block, settings)
        plain = plain_zones(ground, settings) if again else seen
        siting = siting_on(ground, settings, plain)
    except SitingProblem as problem:
        raise RequestError(problem.message) from None
    found = siting.zoned
    if found is not None:
        for name, value in found.told.as_stored().items():
            setattr(settings, name, value)
        keep_zones(settings, found.plain)
    settings.save()
    record(access, Done.SITING_CHANGED, block.name, block=block.pk)
    return block, siting, settings


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
    record(access, Done.SPOT_CHOSEN, spot_name(row), block=block.pk)
    return row


@acting(Action.SET_UP_GROUND)
def remove_spot(access: Access, spot_id: int) -> None:
    """Take a chosen spot away.

    Raises
    ------
    NotFound
    """
    row = find_spot(access, spot_id)
    record(access, Done.SPOT_REMOVED, spot_name(row), block=row.block_id)
    row.delete()
