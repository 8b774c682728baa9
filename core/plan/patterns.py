"""Ways to water a block over the days of a plan: each a whole pattern of irrigations."""

from collections.abc import Sequence
from itertools import pairwise
from typing import NamedTuple

import numpy as np

from core.arrays import Floats
from core.plan.plan_block import PlanBlock
from core.plan.pulses import brought_in, hours_of
from core.plan.rows import VOLUME_UNITS
from core.plan.slots import DAYS, SLOT_H, SLOTS, SLOTS_PER_DAY
from core.plan.starts import MOST_A_DAY, pairs, periodic

# A set brings all that is missing then, or so much of it [-].
OF_NEED = (1.0, 0.65)
# A set that would go on into a time when the block must not run is cut there; of it so much must be
# left [-].
LEAST_CUT = 0.35
# Less than so much of the smallest set is no need yet [-].
LEAST_NEED = 0.5
# Of those that people were told of.
MOST_TOLD = DAYS * MOST_A_DAY


class Sets(NamedTuple):
    """Irrigations of one block: first slots, how many slots, and net depths [mm]; arrays, shape
    (patterns, sets), those in front count that take any slots."""

    start: np.ndarray
    slots: np.ndarray
    net_mm: Floats


class Patterns(NamedTuple):
    """Patterns of all blocks, one block after the other; the first of each is to do nothing.

    first : array of int, shape (blocks + 1,), where each block's begin
    sets : array of int, shape (patterns,)
    start, slots : arrays of int, shape (patterns, most sets)
    net_mm : array, shape (patterns, most sets) [mm]
    volume : array of int64, shape (patterns, most sets) [0.1 m3], of each slot of a set
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
    most = max(max(int((one.slots > 0).sum(axis=1).max()), 1) for one in found)
    start, slots, net = (
        np.concatenate([_wide(getattr(one, name), most) for one in found])
        for name in ("start", "slots", "net_mm")
    )
    first = np.concatenate([[0], np.cumsum([len(one.start) for one in found])]).astype(np.int64)
    drawn = np.repeat([b.gross_m3_mm for b in blocks], np.diff(first))[:, None] * net * VOLUME_UNITS
    volume = np.ceil(drawn / np.maximum(slots, 1) - 1e-6).astype(np.int64)
    sets = (slots > 0).sum(axis=1).astype(np.int32)
    return Patterns(first, sets, start.astype(np.int32), slots.astype(np.int32), net, volume)


def _patterns(block: PlanBlock) -> Sets:
    need = _need(block)
    free = _free_from(block)
    nothing = Sets(np.zeros((1, 1), int), np.zeros((1, 1), int), np.zeros((1, 1)))
    parts = [nothing, *_told(block, free)]
    for share in OF_NEED:
        parts.append(_single(block, need, free, share))
        parts.append(_pairs(block, need, free, share))
        parts.append(_periodic(block, need, free, share))
    most = max(part.start.shape[1] for part in parts)
    return Sets(
        *(
            np.concatenate([_wide(getattr(part, name), most) for part in parts])
            for name in Sets._fields
        )
    )


def _wide(values: np.ndarray, most: int) -> np.ndarray:
    """As many columns as wanted; what is left out holds nothing."""
    return np.pad(values[:, :most], ((0, 0), (0, max(most - values.shape[1], 0))))


def _distinct(sets: Sets) -> Sets:
    """Each pattern once, in their order."""
    rows = np.ascontiguousarray(np.hstack([sets.start, sets.slots, sets.net_mm]))
    as_bytes = rows.view(np.dtype((np.void, rows.dtype.itemsize * rows.shape[1]))).ravel()
    _, at = np.unique(as_bytes, return_index=True)
    return Sets(*(values[np.sort(at)] for values in sets))


def _told(block: PlanBlock, free: np.ndarray) -> list[Sets]:
    """The irrigations that people were told of, as far as they can still run; none without any."""
    kept = [
        t
        for t in sorted(block.told, key=lambda t: t.start)
        if t.start >= 0
        and t.start + t.slots <= SLOTS
        and t.slots <= free[t.start]
        and block.smallest_mm <= t.net_mm <= block.largest_mm
        and t.net_mm <= brought_in(t.slots * SLOT_H, block.net_mm_h, block.pulses) + 1e-9
    ][:MOST_TOLD]
    if not kept or any(one.start + one.slots > two.start for one, two in pairwise(kept)):
        return []
    starts, slots, net = zip(*((t.start, t.slots, t.net_mm) for t in kept), strict=True)
    return [Sets(np.array([starts]), np.array([slots]), np.array([net], float))]


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


def _brought(
    block: PlanBlock, need_mm: Floats, start: np.ndarray, free: np.ndarray
) -> tuple[np.ndarray, Floats]:
    """Slots and net depths of sets that bring what is needed, as far as they may; no slots where
    there can't be one."""
    net = np.minimum(np.maximum(need_mm + block.wetting_mm, block.smallest_mm), block.largest_mm)
    slots = np.ceil(hours_of(net, block.net_mm_h, block.pulses) / SLOT_H - 1e-6).astype(int)
    room = free[start]
    cut = slots > room
    slots = np.where(cut, room, slots)
    reached = brought_in(slots * SLOT_H, block.net_mm_h, block.pulses)
    too_little = cut & (reached < np.maximum(block.smallest_mm, LEAST_CUT * net))
    wanted = (need_mm > LEAST_NEED * block.smallest_mm) & ~too_little
    return np.where(wanted, slots, 0), np.where(cut, reached, net)


def _single(block: PlanBlock, need: Floats, free: np.ndarray, share: float) -> Sets:
    start = np.arange(SLOTS)
    slots, net = _brought(block, need * share, start, free)
    kept = slots > 0
    return Sets(start[kept, None], slots[kept, None], net[kept, None])


def _pairs(block: PlanBlock, need: Floats, free: np.ndarray, share: float) -> Sets:
    start = pairs()
    first, later = start.T
    slots, net = _brought(block, need[first] * share, first, free)
    more, rest = _brought(block, need[later] - net, later, free)
    kept = (slots > 0) & (first + slots < later) & (more > 0)
    return Sets(
        start[kept], np.column_stack([slots, more])[kept], np.column_stack([net, rest])[kept]
    )


def _periodic(block: PlanBlock, need: Floats, free: np.ndarray, share: float) -> Sets:
    """Sets alike, which together bring what is missing by the last of them."""
    start = periodic(block.a_day)
    there = start >= 0
    count = there.sum(axis=1)
    last = start[np.arange(len(start)), count - 1]
    each = need[last] * share / count
    slots, net = _brought(block, np.broadcast_to(each[:, None], start.shape), start, free)
    # Those that can be had move to the front.
    found = there & (slots > 0)
    order = np.argsort(~found, axis=1, kind="stable")
    start, slots, net, found = (
        np.take_along_axis(values, order, axis=1) for values in (start, slots, net, found)
    )
    clear = (start[:, :-1] + slots[:, :-1] < start[:, 1:]) | ~found[:, 1:]
    kept = found[:, 0] & clear.all(axis=1)
    return Sets(*(np.where(found, values, 0)[kept] for values in (start, slots, net)))
