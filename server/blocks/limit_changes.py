"""Dated changes of what limits are made of: put in force, listed, undone."""

from collections.abc import Iterable, Sequence
from datetime import date

from core.crop.season import Stage
from core.limits.by_day import DatedSoil
from core.limits.school import LimitRule, RuleProblem, School, check_rule
from core.soil.profile import Profile
from server.base.errors import NotFound, Problem, RequestError
from server.blocks.crop import season_crop
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.rules import Action
from server.limits.models import BlockSoil, RefillRule
from server.soils.models import SoilProfile


def put_in_force(
    access: Access,
    block_ids: Sequence[int],
    soil: SoilProfile,
    from_on: date | None,
    reason: str,
) -> None:
    """The soil under blocks from a date; the caller has checked that they are the farm's."""
    BlockSoil.unscoped.bulk_create(
        BlockSoil(
            block_id=block_id,
            soil=soil,
            from_on=from_on,
            reason=reason.strip(),
            made_at=access.farm.now(),
            made_by=access.user,
        )
        for block_id in block_ids
    )


def timeline(rows: Iterable[BlockSoil]) -> list[BlockSoil]:
    """Soils of one block as they follow each other; what was said last holds from its date on."""
    out: list[BlockSoil] = []
    for row in sorted((r for r in rows if r.undone_at is None), key=lambda r: r.pk):
        start = row.from_on or date.min
        out = [r for r in out if (r.from_on or date.min) < start]
        out.append(row)
    return out


def dated_soils(
    rows: Iterable[BlockSoil], today: date, profiles: dict[int, Profile]
) -> tuple[DatedSoil, ...]:
    """The soils of a block up to today as the core takes them, the one in force last."""
    line = timeline(rows)
    begun = [r for r in line if r.from_on is None or r.from_on <= today] or line[:1]
    return tuple(
        DatedSoil(None if i == 0 else r.from_on, profiles[r.soil_id]) for i, r in enumerate(begun)
    )


def limit_rules(rows: Iterable[RefillRule]) -> tuple[LimitRule, ...]:
    """The refill rules of a block in the order they were made, as the core takes them."""
    return tuple(
        LimitRule(School(r.school), r.value, r.from_on, Stage(r.stage) if r.stage else None)
        for r in sorted(rows, key=lambda r: r.pk)
        if r.undone_at is None
    )


@acting(Action.SET_UP_GROUND)
def set_refill_rule(access: Access, blocks: Sequence[Block], rule: LimitRule, reason: str) -> None:
    """Put a refill rule in force in blocks; refused whole where it fits one of them not."""
    for block in blocks:
        seasons = sorted(block.seasons.all(), key=lambda s: s.planted_on)
        try:
            check_rule(rule, season_crop(seasons[-1]) if seasons else None)
        except RuleProblem as problem:
            raise RequestError(
                "The limits were not changed.",
                (Problem(field=problem.field, message=f"{block.name}: {problem.message}"),),
            ) from None
    RefillRule.unscoped.bulk_create(
        RefillRule(
            block=block,
            school=str(rule.school),
            stage=str(rule.stage or ""),
            value=rule.value,
            from_on=rule.from_on,
            reason=reason.strip(),
            made_at=access.farm.now(),
            made_by=access.user,
        )
        for block in blocks
    )


@acting(Action.SET_UP_GROUND)
def undo(access: Access, block: Block, kind: str, change_id: int) -> None:
    """Take a change of a block's limits back; it stays on record with who took it back.

    Raises
    ------
    NotFound
    RequestError
        When the block would be left without a soil.
    """
    model = {"soil": BlockSoil, "refill": RefillRule}.get(kind)
    row = None
    if model is not None:
        row = model.objects.for_farm(access.farm).filter(block=block, pk=change_id).first()
    if row is None or row.undone_at is not None:
        raise NotFound("There is no such change, or it was undone already.")
    if isinstance(row, BlockSoil):
        others = [s for s in block.soils.all() if s.undone_at is None and s.pk != row.pk]
        if not others:
            raise RequestError("A block needs a soil; choose another before undoing this one.")
    row.undone_at, row.undone_by = access.farm.now(), access.user
    row.save()
