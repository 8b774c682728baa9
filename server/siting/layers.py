"""A block's layers: used or not, cleaned by other rules, points put back or aside."""

from typing import Any

from core.land.outline import outline_of
from core.sentence import sentence
from core.siting.layer import LayerKind
from core.siting.problem import SitingProblem
from server.base.errors import NotFound, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.siting.layer_schemas import LayerChange, LayerTrial
from server.siting.making import made_layer
from server.siting.models import SitingLayer
from server.siting.packing import unpacked_points


def find_layer(access: Access, layer_id: int) -> SitingLayer:
    """A layer of the farm.

    Raises
    ------
    NotFound
    """
    rows = SitingLayer.objects.for_farm(access.farm).select_related("block", "layer_file")
    row: SitingLayer | None = rows.filter(pk=layer_id).first()
    if row is None:
        raise NotFound(sentence("There is no such layer on this farm."))
    return row


def choices_of(
    row: SitingLayer, data: LayerChange | LayerTrial
) -> tuple[dict[str, Any], list[int], list[int]]:
    """The rules by which a layer is cleaned, and its points put back and put aside by hand."""
    return (
        row.cleaning if data.cleaning is None else data.cleaning.model_dump(exclude_none=True),
        row.put_back if data.put_back is None else data.put_back,
        row.put_aside if data.put_aside is None else data.put_aside,
    )


@acting(Action.SET_UP_GROUND)
def change_layer(access: Access, layer_id: int, data: LayerChange) -> SitingLayer:
    """Change what a layer is called and how it is cleaned; it is made again where that changed.

    Raises
    ------
    RequestError
        When no point would be left.
    """
    row = find_layer(access, layer_id)
    row.used = data.used
    row.rain_mm = data.rain_mm if row.kind == LayerKind.YIELD else None
    outline = outline_of((row.block.outline or {}).get("geometry"))
    stale = row.outline_m2 != row.block.outline_m2
    asked = choices_of(row, data)
    if stale or asked != (row.cleaning, row.put_back, row.put_aside):
        points = unpacked_points(row.points)
        try:
            made = made_layer(points, LayerKind(row.kind), outline, *asked)
        except SitingProblem as problem:
            raise RequestError(problem.message) from None
        row.grid, row.facts = made.grid, made.facts
        row.cleaning, row.put_back, row.put_aside = asked
        row.outline_m2 = row.block.outline_m2 or 0.0
    row.save()
    record(access, Done.LAYER_CHANGED, row.name, block=row.block_id)
    return row


@acting(Action.SET_UP_GROUND)
def delete_layer(access: Access, layer_id: int) -> None:
    """Take one block's layer away."""
    row = find_layer(access, layer_id)
    record(access, Done.LAYER_DELETED, row.name, block=row.block_id)
    row.delete()
