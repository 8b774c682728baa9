"""A run sheet as it stands, however it came about: what it costs, and which rules it breaks."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

import numpy as np

from core.plan.make_plan import PlannedSet
from core.plan.pattern_cost import changed, followed, refilling
from core.plan.plan_block import PlanBlock
from core.plan.pulses import brought_in
from core.plan.reasons import SharedKind, planned_patterns, row_names
from core.plan.rows import MONEY_UNITS, Rows, rows_of
from core.plan.shared import PlanSource, Shared
from core.plan.slots import SLOT_H, SLOTS, SLOTS_PER_DAY
from core.plan.smallest_flow import slots_below
from core.plan.taking import Taken, peak_money, taken_by

# Depths are entered with a decimal [mm].
ROUNDED_MM = 0.05


class SheetRule(StrEnum):
    """Rules of one block's own irrigations."""

    OUTSIDE = "outside"
    NOT_ALLOWED = "not allowed"
    WIND = "wind"
    OVERLAP = "overlap"
    TOO_SMALL = "too small"
    TOO_LARGE = "too large"
    TOO_SHORT = "too short"


@dataclass(frozen=True)
class Broken:
    """A rule that a run sheet breaks.

    name : of the source, main or machine; empty for people and rules of one block
    slots : when; empty for a season's licence
    blocks : whose irrigations do
    """

    rule: SheetRule | SharedKind
    name: str
    slots: tuple[int, ...]
    blocks: tuple[int, ...]


def broken_rules(
    shared: Shared, blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet]
) -> tuple[Broken, ...]:
    """Every rule that irrigations break, those of single blocks first."""
    return (*_of_blocks(blocks, sets), *_of_shared(shared, blocks, sets))


def _of_blocks(blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet]) -> Iterator[Broken]:
    for b, block in enumerate(blocks):
        own = sorted((s for s in sets if s.block == b), key=lambda s: s.start)
        for s in own:
            slots = tuple(range(s.start, s.start + s.slots))
            if s.start < 0 or s.start + s.slots > SLOTS:
                yield Broken(SheetRule.OUTSIDE, "", slots, (b,))
                continue
            blown = tuple(t for t in slots if block.windy is not None and block.windy[t])
            held = tuple(t for t in slots if not block.allowed[t] and t not in blown)
            if held:
                yield Broken(SheetRule.NOT_ALLOWED, "", held, (b,))
            if blown:
                yield Broken(SheetRule.WIND, "", blown, (b,))
            if s.net_mm < block.smallest_mm - ROUNDED_MM:
                yield Broken(SheetRule.TOO_SMALL, "", slots, (b,))
            if s.net_mm > block.largest_mm + ROUNDED_MM:
                yield Broken(SheetRule.TOO_LARGE, "", slots, (b,))
            if s.net_mm > brought_in(s.slots * SLOT_H, block.net_mm_h, block.pulses) + ROUNDED_MM:
                yield Broken(SheetRule.TOO_SHORT, "", slots, (b,))
        busy = [(s.start, s.start + s.slots) for s in own]
        busy += [(f.start, f.start + f.slots) for f in block.fixed]
        for one, two in pairwise(sorted(busy)):
            if two[0] < one[1]:
                yield Broken(SheetRule.OVERLAP, "", tuple(range(two[0], min(one[1], two[1]))), (b,))


def _of_shared(
    shared: Shared, blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet]
) -> Iterator[Broken]:
    inside = [s for s in sets if s.start >= 0 and s.start + s.slots <= SLOTS]
    rows, taken = _taken_by(shared, blocks, inside)
    for r, (kind, name) in enumerate(row_names(shared)):
        over = np.flatnonzero(taken.rows[r] > rows.capacity[r])
        if over.size:
            users = [
                s.block
                for s in inside
                for j in np.flatnonzero(rows.row[s.block] == r).tolist()
                if _takes_any(s, over, int(rows.lead[s.block, j]), bool(rows.begins[s.block, j]))
            ]
            yield Broken(kind, name, tuple(over.tolist()), tuple(sorted(set(users))))
    for k, source in enumerate(shared.sources):
        own = tuple(sorted({s.block for s in inside if blocks[s.block].source == k}))
        below = slots_below(k, rows, taken)
        if below.size:
            users = [s.block for s in inside if s.block in own and _takes_any(s, below, 0, False)]
            yield Broken(
                SharedKind.SMALLEST_FLOW,
                source.name,
                tuple(below.tolist()),
                tuple(sorted(set(users))),
            )
        for day in np.flatnonzero(taken.days[k] > rows.day_volume[k]).tolist():
            slots = tuple(range(day * SLOTS_PER_DAY, (day + 1) * SLOTS_PER_DAY))
            yield Broken(SharedKind.DAY_LICENCE, source.name, slots, own)
        if taken.total[k] > rows.total_volume[k]:
            yield Broken(SharedKind.SEASON_LICENCE, source.name, (), own)


def _takes_any(s: PlannedSet, slots: np.ndarray, before: int, begins: bool) -> bool:
    end = s.start + 1 if begins else s.start + s.slots
    return bool(((slots >= s.start - before) & (slots < end)).any())


def _taken_by(
    shared: Shared, blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet]
) -> tuple[Rows, Taken]:
    """A farm's rows, and what irrigations take of them with what stands."""
    rows, planned = rows_of(shared, blocks), planned_patterns(blocks, sets)
    return rows, taken_by(np.arange(len(blocks)), planned, rows)


@dataclass(frozen=True)
class BlockMoney:
    """What one block's irrigations cost, in money but for ``lacking_mm`` [mm], the mean of the
    members; ``later`` is for bringing what is missing at the end, ``changes`` for what people were
    told otherwise."""

    lacking_mm: float
    lost: float
    power: float
    water: float
    labour: float
    later: float
    changes: float

    @property
    def total(self) -> float:
        """All of it."""
        return self.lost + self.power + self.water + self.labour + self.later + self.changes


def block_money(block: PlanBlock, source: PlanSource, sets: Sequence[PlannedSet]) -> BlockMoney:
    """Money of one block's irrigations; the month's peak apart, see `peak_of`."""
    alone = [PlannedSet(0, s.start, s.slots, s.net_mm) for s in sets]
    planned = planned_patterns([block], alone)
    lacking, left = (float(x[0]) for x in followed(block, planned, slice(0, 1)))
    power, water = 0.0, 0.0
    for s in alone:
        drawn = s.net_mm * block.gross_m3_mm
        price = float(source.price_kwh[s.start : s.start + s.slots].mean())
        power += drawn * source.kwh_m3 * price
        water += drawn * source.water_price
    by_slot = block.gross_m3_mm * (source.kwh_m3 * source.price_kwh + source.water_price)
    return BlockMoney(
        lacking_mm=lacking,
        lost=lacking * block.loss_per_mm,
        power=power,
        water=water,
        labour=block.labour * len(alone),
        later=refilling(block, by_slot) * left,
        changes=block.change * int(changed(block, planned, slice(0, 1))[0]),
    )


def peak_of(shared: Shared, blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet]) -> float:
    """Money for what irrigations draw above the month's peak so far."""
    rows, taken = _taken_by(shared, blocks, sets)
    return float(peak_money(rows, taken)) / MONEY_UNITS
