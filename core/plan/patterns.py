"""Ways to water a block over the days of a plan: each a whole pattern of irrigations."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise
from typing import NamedTuple

import numpy as np

from core.arrays import Floats
from core.plan.plan_block import PlanBlock
from core.plan.pulses import brought_in, hours_of
from core.plan.rows import VOLUME_UNITS
from core.plan.slots import DAYS, SLOT_H, SLOTS, SLOTS_PER_DAY

# A set brings all that is missing then, or so much of it [-].
OF_NEED = (1.0, 0.65)
# Two sets begin so many slots apart from each other's choices; finer gave no better plans.
PAIR_STEP = 3
EVERY_DAYS = (1, 2, 3, 4)
MOST_SETS = DAYS
# A set that would go on into a time when the block must not run is cut there; of it so much must be
# left [-].
LEAST_CUT = 0.35
# Less than so much of the smallest set is no need yet [-].
LEAST_NEED = 0.5


@dataclass(frozen=True)
class Pattern:
    """Irrigations of one block: first slots, how many slots, and net depths [mm]."""

    starts: tuple[int, ...] = ()
    slots: tuple[int, ...] = ()
    net_mm: tuple[float, ...] = ()


class Patterns(NamedTuple):
    """Patterns of all blocks, one block after the other; the first of each is to do nothing.

    first : array of int, shape (blocks + 1,), where each block's begin
    sets : array of int, shape (patterns,)
    start, slots : arrays of int, shape (patterns, MOST_SETS)
    net_mm : array, shape (patterns, MOST_SETS) [mm]
    volume : array of int64, shape (patterns, MOST_SETS) [0.1 m3], of each slot of a set
    """

    first: np.ndarray
    sets: np.ndarray
    start: np.ndarray
    slots: np.ndarray
    net_mm: Floats
    volume: np.ndarray

    def of(self, block: int) -> slice:
        """The patterns of a block."""
        return slice(int(self.first[block]), int(self.first[block + 1]))

    def only(self, keep: np.ndarray) -> "Patterns":
        """Some of them; array of bool, shape (patterns,)."""
        first = np.concatenate([[0], np.cumsum(keep)])[self.first]
        return Patterns(
            first,
            *(getattr(self, name)[keep] for name in ("sets", "start", "slots", "net_mm", "volume")),
        )


def patterns_of(blocks: Sequence[PlanBlock]) -> Patterns:
    """Every pattern that is worth a look."""
    found = [_distinct(_patterns(b)) for b in blocks]
    first = np.concatenate([[0], np.cumsum([len(f) for f in found])]).astype(np.int64)
    count = int(first[-1])
    sets = np.zeros(count, np.int32)
    start, slots = (np.zeros((count, MOST_SETS), np.int32) for _ in range(2))
    net = np.zeros((count, MOST_SETS))
    volume = np.zeros((count, MOST_SETS), np.int64)
    for b, (block, own) in enumerate(zip(blocks, found, strict=True)):
        for p, one in enumerate(own, start=int(first[b])):
            n = len(one.starts)
            sets[p] = n
            start[p, :n], slots[p, :n], net[p, :n] = one.starts, one.slots, one.net_mm
            drawn = np.array(one.net_mm) * block.gross_m3_mm * VOLUME_UNITS
            volume[p, :n] = np.ceil(drawn / np.maximum(one.slots, 1) - 1e-6)
    return Patterns(first, sets, start, slots, net, volume)


def _distinct(patterns: Iterator[Pattern]) -> list[Pattern]:
    return list(dict.fromkeys(patterns))


def _patterns(block: PlanBlock) -> Iterator[Pattern]:
    yield Pattern()
    need = _need(block)
    free = _free_from(block)
    if (told := _told(block, free)) is not None:
        yield told
    for share in OF_NEED:
        for s in range(SLOTS):
            if (one := _set(block, need[s] * share, s, free)) is not None:
                yield Pattern((s,), (one[0],), (one[1],))
        yield from _pairs(block, need, free, share)
        yield from _periodic(block, need, free, share)


def _told(block: PlanBlock, free: np.ndarray) -> Pattern | None:
    """The irrigations that people were told of, as far as they can still run; None without any."""
    kept = [
        t
        for t in sorted(block.told, key=lambda t: t.start)
        if t.start >= 0
        and t.start + t.slots <= SLOTS
        and t.slots <= free[t.start]
        and block.smallest_mm <= t.net_mm <= block.largest_mm
        and t.net_mm <= brought_in(t.slots * SLOT_H, block.net_mm_h, block.pulses) + 1e-9
    ][:MOST_SETS]
    if not kept or any(one.start + one.slots > two.start for one, two in pairwise(kept)):
        return None
    starts, slots, net = zip(*((t.start, t.slots, t.net_mm) for t in kept), strict=True)
    return Pattern(starts, slots, net)


def _need(block: PlanBlock) -> Floats:
    """What will be missing at the beginning of each slot without water, in the middle [mm]."""
    gain = (block.use_mm - block.rain_mm).mean(axis=0) / SLOTS_PER_DAY
    path = block.depletion_mm.mean() + np.concatenate(
        [[0.0], np.cumsum(gain.repeat(SLOTS_PER_DAY))]
    )
    return np.asarray(np.clip(path[:SLOTS], 0.0, block.taw_mm.repeat(SLOTS_PER_DAY)))


def _free_from(block: PlanBlock) -> np.ndarray:
    """How many slots on end the block may run from each one on; none beside what stands."""
    allowed = block.allowed.copy()
    for f in block.fixed:
        allowed[max(f.start, 0) : f.start + f.slots] = False
    out = np.zeros(SLOTS + 1, np.int64)
    for s in range(SLOTS - 1, -1, -1):
        out[s] = out[s + 1] + 1 if allowed[s] else 0
    return out[:SLOTS]


def _set(
    block: PlanBlock, need_mm: float, start: int, free: np.ndarray
) -> tuple[int, float] | None:
    """Slots and net depth of a set that brings what is needed, as far as it may; None where it
    can't be one."""
    net = min(max(need_mm + block.wetting_mm, block.smallest_mm), block.largest_mm)
    if need_mm <= LEAST_NEED * block.smallest_mm:
        return None
    slots = int(np.ceil(hours_of(net, block.net_mm_h, block.pulses) / SLOT_H - 1e-6))
    if slots > free[start]:
        slots = int(free[start])
        cut = brought_in(slots * SLOT_H, block.net_mm_h, block.pulses)
        if cut < max(block.smallest_mm, LEAST_CUT * net) or slots == 0:
            return None
        net = cut
    return slots, float(net)


def _pairs(block: PlanBlock, need: Floats, free: np.ndarray, share: float) -> Iterator[Pattern]:
    for s, later in combinations(range(0, SLOTS, PAIR_STEP), 2):
        if (one := _set(block, need[s] * share, s, free)) is None or s + one[0] >= later:
            continue
        if (two := _set(block, need[later] - one[1], later, free)) is not None:
            yield Pattern((s, later), (one[0], two[0]), (one[1], two[1]))


def _periodic(block: PlanBlock, need: Floats, free: np.ndarray, share: float) -> Iterator[Pattern]:
    """Sets alike, every so many days, which together bring what is missing by the last of them."""
    for every in EVERY_DAYS:
        step = every * SLOTS_PER_DAY
        for s in range(step):
            starts = list(range(s, SLOTS, step))
            if len(starts) < 2:
                continue
            each = need[starts[-1]] * share / len(starts)
            found = [(t, one) for t in starts if (one := _set(block, each, t, free)) is not None]
            fits = all(a + one[0] < b for (a, one), (b, _) in pairwise(found))
            if found and fits:
                yield Pattern(
                    tuple(t for t, _ in found),
                    tuple(one[0] for _, one in found),
                    tuple(one[1] for _, one in found),
                )
