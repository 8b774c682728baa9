"""Money of a run sheet's blocks, as it is stored with each edit."""

from collections.abc import Iterable, Mapping, Sequence

from core.plan.make_plan import PlannedSet
from core.plan.plan_block import PlanBlock
from core.plan.shared import Shared
from core.plan.sheet import block_money
from server.base.schema import Schema
from server.plan.models import BlockAhead, RunSheet
from server.plan.sheet_sets import SheetSet, planned_sets
from server.plan.stored import StoredAhead, StoredInputs, plan_block_of

DIGITS = 2


class BlockMoneyOut(Schema):
    """See `core.plan.sheet.BlockMoney`; ``energy_kwh`` and ``drawn_m3`` of its irrigations."""

    lacking_mm: float
    lost: float
    power: float
    water: float
    labour: float
    later: float
    changes: float
    total: float
    energy_kwh: float
    drawn_m3: float


def money_of(block: PlanBlock, shared: Shared, sets: Sequence[PlannedSet]) -> BlockMoneyOut:
    """Money of one block's irrigations."""
    source = shared.sources[block.source]
    found = block_money(block, source, sets)
    drawn = sum(s.net_mm for s in sets) * block.gross_m3_mm
    figures = {
        name: getattr(found, name) for name in BlockMoneyOut.model_fields if hasattr(found, name)
    }
    figures |= {"energy_kwh": drawn * source.kwh_m3, "drawn_m3": drawn}
    return BlockMoneyOut(**{k: round(v, DIGITS) for k, v in figures.items()})


def money_by_block(
    shared: Shared, blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet]
) -> list[BlockMoneyOut]:
    """Money of each block, in their order."""
    own: dict[int, list[PlannedSet]] = {b: [] for b in range(len(blocks))}
    for s in sets:
        own[s.block].append(s)
    return [money_of(block, shared, own[b]) for b, block in enumerate(blocks)]


def whole_blocks(
    sheet: RunSheet, inputs: StoredInputs, block_ids: Iterable[int]
) -> dict[int, PlanBlock]:
    """Some of a sheet's blocks with their days ahead, by number."""
    wanted = {b.block_id: b for b in inputs.blocks if b.block_id in set(block_ids)}
    rows = BlockAhead.unscoped.filter(sheet=sheet, block__in=wanted)
    return {
        row.block_id: plan_block_of(wanted[row.block_id], StoredAhead.model_validate(row.ahead))
        for row in rows
    }


def money_after(
    sheet: RunSheet,
    inputs: StoredInputs,
    shared: Shared,
    before: Mapping[str, object],
    sets: Sequence[SheetSet],
    changed: Iterable[int],
) -> dict[str, object]:
    """Money of each block after some of them were changed, by number."""
    out = dict(before)
    for number, block in whole_blocks(sheet, inputs, changed).items():
        own = planned_sets(inputs, [s for s in sets if s.block_id == number])
        out[str(number)] = money_of(block, shared, own).model_dump()
    return out
