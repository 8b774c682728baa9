"""Why a block is watered when it is: what it would rather do, and what stands in the way."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np

from core.plan.make_plan import PlannedSet, pattern_sets
from core.plan.pattern_cost import pattern_costs
from core.plan.patterns import Patterns, patterns_of
from core.plan.plan_block import PlanBlock
from core.plan.rows import MONEY_UNITS, VOLUME_UNITS, Rows, rows_of
from core.plan.shared import Shared
from core.plan.slots import SLOTS_PER_DAY
from core.plan.smallest_flow import slots_below
from core.plan.taking import Taken, peak_money, take, taken_by


class SharedKind(StrEnum):
    """What may stand in a block's way."""

    SOURCE = "source"
    MAIN = "main"
    MACHINE = "machine"
    GROUP = "group"
    PEOPLE = "people"
    DAY_LICENCE = "day licence"
    SEASON_LICENCE = "season licence"
    PEAK = "peak"
    SMALLEST_FLOW = "smallest flow"


class WeatherKind(StrEnum):
    """What of the weather may."""

    WIND = "wind"


@dataclass(frozen=True)
class InTheWay:
    """A shared thing of which there is too little, or weather.

    name : str, as people call it; empty for people and weather
    slots : tuple of int, when; empty for a season's licence and a peak
    blocks : tuple of int, which other blocks use it then
    """

    kind: SharedKind | WeatherKind
    name: str
    slots: tuple[int, ...]
    blocks: tuple[int, ...]


@dataclass(frozen=True)
class BlockReason:
    """Why a block's sets are where they are, the other blocks' staying where they are.

    cost : money, of what is planned, the peak that it makes included
    rather : sets that would cost least if nothing were in the way; none where it is best to do
        nothing
    rather_cost : money, of those, without any peak
    in_the_way : why they are not planned; empty where what is planned is as good
    earlier, later : money that beginning the first set a slot before or after would add, peaks
        apart; None where it may not run then
    """

    cost: float
    rather: tuple[PlannedSet, ...]
    rather_cost: float
    in_the_way: tuple[InTheWay, ...]
    earlier: float | None
    later: float | None


def block_reason(
    shared: Shared, blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet], block: int
) -> BlockReason:
    """Why the sets of a block are where they are.

    Parameters
    ----------
    sets : sequence of PlannedSet
        Of all blocks.
    block : int
    """
    rows = rows_of(shared, blocks)
    planned = planned_patterns(blocks, sets)
    each = np.arange(len(blocks))
    taken = taken_by(np.where(each == block, -1, each), planned, rows)
    without = peak_money(rows, taken)
    take(1, block, block, planned, rows, taken)
    peak = peak_money(rows, taken) - without
    take(-1, block, block, planned, rows, taken)

    own = [s for s in sets if s.block == block]
    now = _cost(shared, blocks[block], own)
    free = _in_calm(blocks[block])
    ways = patterns_of([free])
    cost = pattern_costs(ways, [free], shared.sources)
    best = int(np.argmin(cost))
    rather = tuple(pattern_sets(ways, best, block))
    better = int(cost[best]) < now + round(peak)
    return BlockReason(
        cost=(now + peak) / MONEY_UNITS,
        rather=rather,
        rather_cost=int(cost[best]) / MONEY_UNITS,
        in_the_way=_in_the_way(shared, blocks, sets, rows, taken, block, rather) if better else (),
        earlier=_moved(shared, blocks[block], own, now, -1),
        later=_moved(shared, blocks[block], own, now, 1),
    )


def _in_calm(block: PlanBlock) -> PlanBlock:
    """The block as it would be if no wind blew."""
    if block.windy is None:
        return block
    return replace(block, allowed=block.allowed | block.windy)


def planned_patterns(blocks: Sequence[PlanBlock], sets: Sequence[PlannedSet]) -> Patterns:
    """What is planned as one pattern for each block, in their order."""
    count = len(blocks)
    first = np.arange(count + 1)
    number = np.zeros(count, np.int32)
    most = max(1, *np.bincount([s.block for s in sets], minlength=1).tolist())
    start, slots = (np.zeros((count, most), np.int32) for _ in range(2))
    net, volume = np.zeros((count, most)), np.zeros((count, most), np.int64)
    for s in sorted(sets, key=lambda s: s.start):
        b, k = s.block, int(number[s.block])
        start[b, k], slots[b, k], net[b, k] = s.start, s.slots, s.net_mm
        drawn = s.net_mm * blocks[b].gross_m3_mm * VOLUME_UNITS
        volume[b, k] = int(np.ceil(drawn / s.slots - 1e-6))
        number[b] = k + 1
    return Patterns(first, number, start, slots, net, volume)


def _cost(shared: Shared, block: PlanBlock, sets: Sequence[PlannedSet]) -> int:
    alone = [PlannedSet(0, s.start, s.slots, s.net_mm) for s in sets]
    return int(pattern_costs(planned_patterns([block], alone), [block], shared.sources)[0])


def _moved(
    shared: Shared, block: PlanBlock, sets: Sequence[PlannedSet], now: int, by: int
) -> float | None:
    """Money that moving the first set by some slots adds; None where it may not run then."""
    if not sets:
        return None
    first, *others = sorted(sets, key=lambda s: s.start)
    begins, ends = first.start + by, first.start + by + first.slots
    busy = [(s.start, s.start + s.slots) for s in others]
    busy += [(f.start, f.start + f.slots) for f in block.fixed]
    free = begins >= 0 and ends <= block.allowed.size and bool(block.allowed[begins:ends].all())
    if not free or any(begins < end and start < ends for start, end in busy):
        return None
    moved = [PlannedSet(first.block, begins, first.slots, first.net_mm), *others]
    return (_cost(shared, block, moved) - now) / MONEY_UNITS


def _in_the_way(
    shared: Shared,
    blocks: Sequence[PlanBlock],
    sets: Sequence[PlannedSet],
    rows: Rows,
    taken: Taken,
    block: int,
    rather: Sequence[PlannedSet],
) -> tuple[InTheWay, ...]:
    """What there is too little of for a block's sets beside those of the others."""
    others = [s for s in sets if s.block != block]
    wanted = planned_patterns(blocks, [*others, *rather])
    take(1, block, block, wanted, rows, taken)
    source = int(rows.source[block])
    out = []
    names = row_names(shared)
    for r in sorted({int(r) for r in rows.row[block] if r >= 0}):
        over = np.flatnonzero(taken.rows[r] > rows.capacity[r])
        if over.size:
            kind, name = names[r]
            users = {s.block for s in others if r in rows.row[s.block] and _runs_at(s, over, rows)}
            out.append(InTheWay(kind, name, tuple(over.tolist()), tuple(sorted(users))))
    of_source = tuple(sorted({s.block for s in others if rows.source[s.block] == source}))
    name = shared.sources[source].name
    below = slots_below(source, rows, taken)
    alone = [t for t in below.tolist() if any(s.start <= t < s.start + s.slots for s in rather)]
    if alone:
        out.append(InTheWay(SharedKind.SMALLEST_FLOW, name, tuple(alone), ()))
    for day in np.flatnonzero(taken.days[source] > rows.day_volume[source]).tolist():
        slots = tuple(range(day * SLOTS_PER_DAY, (day + 1) * SLOTS_PER_DAY))
        out.append(InTheWay(SharedKind.DAY_LICENCE, name, slots, of_source))
    if taken.total[source] > rows.total_volume[source]:
        out.append(InTheWay(SharedKind.SEASON_LICENCE, name, (), of_source))
    windy = blocks[block].windy
    if windy is not None:
        blown = {t for s in rather for t in range(s.start, s.start + s.slots) if windy[t]}
        if blown:
            out.append(InTheWay(WeatherKind.WIND, "", tuple(sorted(blown)), ()))
    if not out:
        # There is room, but what is drawn then would cost more than is gained.
        out.append(InTheWay(SharedKind.PEAK, name, (), of_source))
    take(-1, block, block, wanted, rows, taken)
    return tuple(out)


def _runs_at(one: PlannedSet, slots: np.ndarray, rows: Rows) -> bool:
    """Whether a set, or the moving before it, takes up any of some slots."""
    before = int(rows.lead[one.block].max())
    return bool(((slots >= one.start - before) & (slots < one.start + one.slots)).any())


def row_names(shared: Shared) -> list[tuple[SharedKind, str]]:
    """What each row of capacity is, in the order of `core.plan.rows.rows_of`."""
    return [
        *((SharedKind.SOURCE, s.name) for s in shared.sources),
        *((SharedKind.MAIN, m.name) for m in shared.mains),
        *((SharedKind.MACHINE, m.name) for m in shared.machines),
        *((SharedKind.GROUP, g.name) for g in shared.groups),
        (SharedKind.PEOPLE, ""),
    ]
