"""Outlines of blocks: measured, drawn, split; each kept as the GeoJSON feature it came as."""

from collections.abc import Sequence
from typing import Any

from shapely.geometry import MultiPolygon, Polygon

from core.land.outline import OutlineProblem, area_m2, outline_of, overlaps, split_outline
from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.blocks.limit_changes import timeline
from server.blocks.models import Block, CropSeason, SeasonEvent
from server.blocks.services import find_block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.limits.models import BlockSoil, RefillRule


def give_outline(block: Block, feature: dict[str, Any] | None) -> None:
    """Set a block's outline and its area; the caller has checked it, and saves."""
    block.outline = feature
    block.outline_m2 = area_m2(outline_of(feature["geometry"])) if feature else None


def stored_outline(block: Block) -> Polygon | MultiPolygon:
    """The outline of a block that has one."""
    return outline_of((block.outline or {}).get("geometry"))


def check_outline(geometry: Any, field: str = "geometry") -> Polygon | MultiPolygon:
    """A geometry as an outline.

    Raises
    ------
    RequestError
    """
    try:
        return outline_of(geometry)
    except OutlineProblem as problem:
        raise RequestError(
            sentence("The outline can't be used."), (Problem(field=field, message=problem.message),)
        ) from None


def drawn(geometry: dict[str, Any]) -> dict[str, Any]:
    """A geometry that was checked, without whatever else came with it."""
    return {"type": geometry["type"], "coordinates": geometry["coordinates"]}


def refuse_overlaps(names: Sequence[str], outlines: Sequence[Polygon | MultiPolygon]) -> None:
    """Refuse outlines that lie on the same ground.

    Raises
    ------
    RequestError
        With a problem for each pair.
    """
    found = overlaps(outlines)
    if found:
        raise RequestError(
            sentence("Blocks can't overlap."),
            tuple(
                Problem(
                    field="geometry",
                    message=sentence(
                        "{one} and {other} share {area_m2:.2f} ha. Move the border of one of them.",
                        one=names[o.first],
                        other=names[o.second],
                        area_m2=o.area_m2 / 10000,
                    ),
                )
                for o in found[:20]
            ),
        )


def outlined(access: Access, but: Sequence[int] = ()) -> list[Block]:
    """The farm's blocks that have an outline, apart from some."""
    rows = Block.objects.for_farm(access.farm).filter(outline__isnull=False)
    return list(rows.exclude(pk__in=but).order_by("name"))


@acting(Action.SET_UP_GROUND)
def set_outline(access: Access, block_id: int, geometry: Any, take_area: bool) -> Block:
    """Give a block its outline, or take it away with None; its area too where asked."""
    block = find_block(access, block_id)
    record(access, Done.OUTLINE_CHANGED, block.name, block=block.pk)
    if geometry is None:
        give_outline(block, None)
        block.save()
        return block
    outline = check_outline(geometry)
    others = outlined(access, [block.pk])
    refuse_overlaps(
        [block.name, *(b.name for b in others)], [outline, *(stored_outline(b) for b in others)]
    )
    feature = dict(block.outline or {"type": "Feature", "properties": {"name": block.name}})
    give_outline(block, {**feature, "geometry": drawn(geometry)})
    if take_area:
        block.area_m2 = area_m2(outline)
    block.save()
    return block


def _copy_ground(block: Block, made: Block, access: Access) -> None:
    """The other block's soil, rules and crops, with what was seen of them."""
    for soil in timeline(block.soils.all()):
        BlockSoil(
            block=made,
            soil=soil.soil,
            from_on=soil.from_on,
            reason=f"as {block.name}",
            made_at=soil.made_at,
            made_by=access.user,
        ).save()
    for rule in block.refill_rules.all():
        if rule.undone_at is None:
            RefillRule(
                block=made,
                refill_method=rule.refill_method,
                stage=rule.stage,
                value=rule.value,
                from_on=rule.from_on,
                reason=f"as {block.name}",
                made_at=rule.made_at,
                made_by=access.user,
            ).save()
    for season in block.seasons.all():
        copy = CropSeason(
            block=made,
            crop_key=season.crop_key,
            farm_crop=season.farm_crop,
            planted_on=season.planted_on,
            clock=season.clock,
        )
        copy.save()
        for event in season.events.all():
            SeasonEvent(
                season=copy,
                kind=event.kind,
                on=event.on,
                stage_key=event.stage_key,
                cover=event.cover,
                height_m=event.height_m,
            ).save()


def block_like(access: Access, block: Block, name: str, area: float, outline: Any) -> Block:
    """A new block with another's soil, rules, crops and equipment; the caller has checked."""
    made = Block(
        farm=access.farm,
        name=name,
        area_m2=area,
        **{
            column: getattr(block, column)
            for column in (
                "system_kind", "design", "rate_mm_h", "flow_m3_h", "efficiency", "smallest_mm",
                "largest_mm", "rain_room_mm", "slope_percent",
            )
        },
    )  # fmt: skip
    give_outline(made, outline)
    made.save()
    _copy_ground(block, made, access)
    return made


@acting(Action.SET_UP_GROUND)
def split_block(access: Access, block_id: int, line: Any, name: str) -> Block:
    """Cut a block in two along a line; the smaller part becomes a block of its own.

    The stated area is shared in proportion; flow, where that is how the equipment is known, is
    not: each part is watered with the whole of it. Instruments stay with the larger part.
    """
    block = find_block(access, block_id)
    name = name.strip()
    if block.outline is None:
        raise RequestError(sentence("The block has no outline to split. Draw it first."))
    if not name or Block.objects.for_farm(access.farm).filter(name__iexact=name).exists():
        wrong = (
            sentence("{name} exists already. Choose another.", name=name)
            if name
            else sentence("Name the new block.")
        )
        raise RequestError(
            sentence("The block was not split."), (Problem(field="name", message=wrong),)
        )
    try:
        large, small = split_outline(stored_outline(block), line)
    except OutlineProblem as problem:
        raise RequestError(
            sentence("The block was not split."), (Problem(field="line", message=problem.message),)
        ) from None
    parts = [area_m2(outline_of(g)) for g in (large, small)]
    share = parts[1] / sum(parts)
    feature = {"type": "Feature", "properties": {"name": name}, "geometry": small}
    made = block_like(access, block, name, block.area_m2 * share, feature)
    give_outline(block, {**block.outline, "geometry": large})
    block.area_m2 *= 1 - share
    block.save()
    record(access, Done.BLOCK_SPLIT, f"{block.name}, {made.name}", block=block.pk)
    return made
