"""Dated changes of what limits are made of: put in force, listed, undone."""

from collections.abc import Iterable, Sequence
from datetime import date
from typing import TypeVar

from core.crop.season import Stage
from core.limits.by_day import DatedSoil
from core.limits.refill_method import LimitRule, RefillMethod, RuleProblem, check_rule
from core.sentence import sentence
from core.soil.profile import Profile
from server.base.errors import NotFound, Problem, RequestError
from server.blocks.crop import season_crop
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, Entry, record_each
from server.farms.rules import Action
from server.limits.models import BlockSoil, RefillRule
from server.soils.models import SoilProfile

M = TypeVar("M", BlockSoil, RefillRule)


def put_in_force(
    access: Access,
    block_ids: Sequence[int],
    soil: SoilProfile,
    from_on: date | None,
    reason: str,
) -> list[BlockSoil]:
    """The soil under blocks from a date: a part of an act that knows they are the farm's."""
    return BlockSoil.unscoped.bulk_create(
        BlockSoil(
            block_id=block_id,
            soil=soil,
            from_on=from_on,
            reason=reason.strip(),
            made_at=access.now(),
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
        LimitRule(
            RefillMethod(r.refill_method), r.value, r.from_on, Stage(r.stage) if r.stage else None
        )
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
                sentence("The limits were not changed."),
                (
                    Problem(
                        field=problem.field,
                        message=sentence(
                            "{block}: {problem}", block=block.name, problem=problem.message
                        ),
                    ),
                ),
            ) from None
    rows = RefillRule.unscoped.bulk_create(
        RefillRule(
            block=block,
            refill_method=str(rule.refill_method),
            stage=str(rule.stage or ""),
            value=rule.value,
            from_on=rule.from_on,
            reason=reason.strip(),
            made_at=access.now(),
            made_by=access.user,
        )
        for block in blocks
    )
    record_each(access, Done.REFILL_RULE_SET, (Entry(r.block.name, r.pk, r.block.pk) for r in rows))


@acting(Action.SET_UP_GROUND, undoes=(Done.SOIL_ASSIGNED,))
def undo_soil(access: Access, change_id: int) -> None:
    """Take a soil from under a block again; the change stays on record, with who undid it.

    Raises
    ------
    NotFound
    RequestError
        When the block would be left without a soil.
    """
    row: BlockSoil = _in_force(access, BlockSoil, change_id)
    standing = BlockSoil.objects.for_farm(access.farm).filter(block=row.block_id, undone_at=None)
    if not standing.exclude(pk=row.pk).exists():
        raise RequestError(
            sentence("A block needs a soil; choose another before undoing this one.")
        )
    _take_out_of_force(access, row)


@acting(Action.SET_UP_GROUND, undoes=(Done.REFILL_RULE_SET,))
def undo_refill_rule(access: Access, change_id: int) -> None:
    """Take a refill rule out of force; it stays on record, with who undid it.

    Raises
    ------
    NotFound
    """
    _take_out_of_force(access, _in_force(access, RefillRule, change_id))


def _in_force(access: Access, model: type[M], change_id: int) -> M:
    row: M | None = model.objects.for_farm(access.farm).filter(pk=change_id).first()
    if row is None or row.undone_at is not None:
        raise NotFound(sentence("There is no such change, or it was undone already."))
    return row


def _take_out_of_force(access: Access, row: BlockSoil | RefillRule) -> None:
    row.undone_at, row.undone_by = access.now(), access.user
    row.save()
