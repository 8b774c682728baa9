"""What a plan has to know of one block."""

from dataclasses import dataclass

from core.arrays import Bools, Floats
from core.plan.pulses import Pulses


@dataclass(frozen=True)
class FixedSet:
    """An irrigation that was settled before: it runs, a person has pinned it, or was told of it.

    start, slots : int, its first slot and how many
    net_mm : float [mm], what it still brings to the roots, alike in all its slots
    """

    start: int
    slots: int
    net_mm: float


@dataclass(frozen=True)
class PlanBlock:
    """One block; depths over its whole ground.

    source : int, place of its source among the farm's
    mains : tuple of int, places of the mains that its water passes
    groups : tuple of int, places of the groups that it is in
    machine : int or None, place of the machine that it shares
    people : int, who must be there when a set begins
    flow_l_s : float [L/s], while it runs
    net_mm_h : float [mm/h], what reaches the roots while it runs
    gross_m3_mm : float [m3 for each mm net], water that is drawn
    smallest_mm, largest_mm : float [mm net], bounds of one set
    allowed : array of bool, shape (slots,), where it may run
    depletion_mm : array, shape (members,) [mm], now
    use_mm, rain_mm : arrays, shape (members, days) [mm], crop use without stress, and rain that
        enters the soil
    raw_mm, taw_mm : arrays, shape (days,) [mm]
    loss_per_mm : float, money lost for each mm that the crop lacks
    labour : float, money for each set
    wetting_mm : float [mm], of each set, that evaporates from the wetted ground beside crop use
    fixed : irrigations that stand
    told : irrigations that people were told of and that may still be moved
    change : float, money for each of those that is moved or left out, and for each new one
    windy : array of bool, shape (slots,), where it might run but for the wind; None without a limit
    pulses : how a set is cut so that nothing runs off; None where it is not
    parts : int, parts of its ground that a pass waters one after the other
    a_day : int, sets that one day may have; two and more only in the daylight
    """

    name: str
    source: int
    mains: tuple[int, ...]
    machine: int | None
    people: int
    flow_l_s: float
    net_mm_h: float
    gross_m3_mm: float
    smallest_mm: float
    largest_mm: float
    allowed: Bools
    depletion_mm: Floats
    use_mm: Floats
    rain_mm: Floats
    raw_mm: Floats
    taw_mm: Floats
    loss_per_mm: float
    labour: float = 0.0
    wetting_mm: float = 0.0
    fixed: tuple[FixedSet, ...] = ()
    told: tuple[FixedSet, ...] = ()
    change: float = 0.0
    windy: Bools | None = None
    groups: tuple[int, ...] = ()
    pulses: Pulses | None = None
    parts: int = 1
    a_day: int = 1
