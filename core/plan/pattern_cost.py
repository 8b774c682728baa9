"""What each pattern costs: what the crop lacks, power, water, labour, and what is left missing.

References
----------
.. [1] Doorenbos, J. & Kassam, A.H. (1979), FAO Irrigation and Drainage Paper 33: the yield lost is
   Ky times the share of evapotranspiration that is lacking.
.. [2] Allen et al. (1998), FAO Irrigation and Drainage Paper 56, eq. 84: Ks falls in a straight
   line from 1 at the refill point to 0 at wilting.
"""

from collections.abc import Sequence

import numpy as np
from numba import njit

from core.arrays import Floats
from core.plan.patterns import Patterns
from core.plan.plan_block import PlanBlock
from core.plan.rows import MONEY_UNITS
from core.plan.shared import PlanSource
from core.plan.slots import SLOTS, SLOTS_PER_DAY

# Stress is followed in steps of so many slots: 6 h.
STEP = 3
STEPS = SLOTS // STEP
STEPS_PER_DAY = SLOTS_PER_DAY // STEP


def pattern_costs(
    patterns: Patterns, blocks: Sequence[PlanBlock], sources: Sequence[PlanSource]
) -> np.ndarray:
    """Money for each pattern, in hundredths; power of the month's peak apart.

    Returns
    -------
    array of int64, shape (patterns,)
        Expected over the members: loss by what the crop lacks [1]_ [2]_; power, water and labour of
        its sets; changes to what people were told; and what bringing the depletion left at the end
        would cost, without which plans would put water off past their end.
    """
    out = np.zeros(patterns.sets.size)
    for b, block in enumerate(blocks):
        own = patterns.of(b)
        source = sources[block.source]
        lacking, left = followed(block, patterns, own)
        by_slot = block.gross_m3_mm * (source.kwh_m3 * source.price_kwh + source.water_price)
        so_far = np.concatenate([[0.0], np.cumsum(by_slot)])
        start, slots = patterns.start[own], patterns.slots[own]
        # Alike in all its slots, as its volume is.
        mean = (so_far[start + slots] - so_far[start]) / np.maximum(slots, 1)
        running = (mean * patterns.net_mm[own]).sum(axis=1)
        out[own] = (
            block.loss_per_mm * lacking
            + running
            + block.labour * patterns.sets[own]
            + block.change * changed(block, patterns, own)
            + refilling(block, by_slot) * left
        )
    return np.rint(out * MONEY_UNITS).astype(np.int64)


def changed(block: PlanBlock, patterns: Patterns, own: slice) -> np.ndarray:
    """How many irrigations each of a block's patterns begins otherwise than people were told; array
    of int, shape (patterns,)."""
    if not block.told:
        return np.zeros(patterns.sets[own].size, np.int64)
    sets = patterns.sets[own]
    planned = np.arange(patterns.start.shape[1]) < sets[:, None]
    kept = (np.isin(patterns.start[own], [t.start for t in block.told]) & planned).sum(axis=1)
    return np.asarray(sets + len(block.told) - 2 * kept)


def refilling(block: PlanBlock, by_slot: Floats) -> float:
    """Money for each mm brought after the plan's end: power and water at their mean price, and the
    labour of sets as large as may be."""
    largest = min(block.largest_mm, float(block.raw_mm[-1]))
    return float(by_slot.mean()) + (block.labour / largest if largest > 0 else 0.0)


def followed(block: PlanBlock, patterns: Patterns, own: slice) -> tuple[Floats, Floats]:
    """What the crop lacks [mm] and what is missing at the end [mm], means of the members, for each
    of a block's patterns; arrays, shape (patterns,).

    A pass waters the parts of its ground one after the other: each gets all of its water in its own
    part of the hours, and the block is the mean of its parts.
    """
    fixed = np.zeros((block.parts, STEPS))
    for f in block.fixed:
        for part in range(block.parts):
            first, end = _hours_of_part(f.start, f.slots, part, block.parts)
            for t in range(max(first, 0), min(end, SLOTS)):
                fixed[part, t // STEP] += f.net_mm / (end - first)
    day = np.arange(STEPS) // STEPS_PER_DAY
    return _follow(
        np.ascontiguousarray(block.depletion_mm, np.float64),
        np.ascontiguousarray((block.use_mm / STEPS_PER_DAY)[:, day].T, np.float64),
        np.ascontiguousarray((block.rain_mm / STEPS_PER_DAY)[:, day].T, np.float64),
        block.raw_mm[day].astype(np.float64),
        block.taw_mm[day].astype(np.float64),
        fixed,
        patterns.sets[own],
        patterns.start[own],
        patterns.slots[own],
        np.maximum(patterns.net_mm[own] - block.wetting_mm, 0.0),
    )


@njit(cache=True)
def _hours_of_part(start, slots, part, parts):  # type: ignore[no-untyped-def]  # pragma: no cover
    """First slot in which a part of the ground is watered, and the one after its last."""
    first = start + slots * part // parts
    return first, max(start + slots * (part + 1) // parts, first + 1)


@njit(cache=True)
def _follow(depletion, use, rain, raw, taw, fixed, sets, start, slots, net_mm):  # type: ignore[no-untyped-def]  # pragma: no cover
    members, count, parts = depletion.size, sets.size, fixed.shape[0]
    lacking, left = np.zeros(count), np.zeros(count)
    missing = np.empty(members)
    for p in range(count):
        for part in range(parts):
            water = fixed[part].copy()
            for k in range(sets[p]):
                first, end = _hours_of_part(start[p, k], slots[p, k], part, parts)
                for t in range(first, end):
                    water[t // STEP] += net_mm[p, k] / (end - first)
            missing[:] = depletion
            lost = 0.0
            for t in range(water.size):
                span = max(taw[t] - raw[t], 1e-9)
                for m in range(members):
                    d = missing[m]
                    ks = min(max((taw[t] - d) / span, 0.0), 1.0)
                    lost += (1.0 - ks) * use[t, m]
                    missing[m] = max(d + ks * use[t, m] - rain[t, m] - water[t], 0.0)
            lacking[p] += lost / members / parts
            left[p] += missing.mean() / parts
    return lacking, left
