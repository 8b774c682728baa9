"""What a block's store holds over the days of a plan."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.outlook.ahead import rank
from core.plan.make_plan import PlannedSet
from core.plan.pattern_cost import STEP, STEPS, STEPS_PER_DAY
from core.plan.plan_block import PlanBlock
from core.plan.slots import SLOTS

RANGE = (0.1, 0.5, 0.9)


@dataclass(frozen=True)
class StoreCourse:
    """Usable water above refill at the begin of each step of six hours and at the end of the last;
    arrays, shape (steps + 1,) [mm], below zero below refill.

    low, middle, high : a tenth, half and nine tenths of the members stay at or below
    raw_mm : what a full store holds above refill
    """

    low: Floats
    middle: Floats
    high: Floats
    raw_mm: Floats


def store_course(block: PlanBlock, sets: Sequence[PlannedSet]) -> StoreCourse:
    """How a block's store goes with some irrigations and with what stands.

    Parameters
    ----------
    sets : sequence of PlannedSet
        Of this block.
    """
    water = np.zeros(STEPS)
    runs = [(s.start, s.slots, max(s.net_mm - block.wetting_mm, 0.0)) for s in sets]
    runs += [(f.start, f.slots, f.net_mm) for f in block.fixed]
    for start, slots, net in runs:
        for t in range(max(start, 0), min(start + slots, SLOTS)):
            water[t // STEP] += net / slots
    day = np.arange(STEPS) // STEPS_PER_DAY
    missing = block.depletion_mm.astype(float)
    courses = [missing]
    for k in range(STEPS):
        raw, taw = block.raw_mm[day[k]], block.taw_mm[day[k]]
        ks = np.clip((taw - missing) / max(taw - raw, 1e-9), 0.0, 1.0)
        use, rain = (x[:, day[k]] / STEPS_PER_DAY for x in (block.use_mm, block.rain_mm))
        missing = np.maximum(missing + ks * use - rain - water[k], 0.0)
        courses.append(missing)
    raw = block.raw_mm[np.append(day, day[-1])]
    ordered = np.sort(raw[:, None] - np.array(courses), axis=1)
    low, middle, high = ordered[:, rank(RANGE, ordered.shape[1])].T
    return StoreCourse(low, middle, high, raw)
