"""What a source brings in a day beside what hangs on it uses at its peak."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf

from core.plan.network import Source
from core.plan.tariff import DAY_HOURS

MM_PER_M = 1000.0
# Peak ET is the highest mean of so many days on end: a soil carries a crop over a hot day or two.
PEAK_DAYS = 10


@dataclass(frozen=True)
class PeakLoad:
    """A block on a source; use_mm_day : float [mm/day], of the crop at its peak."""

    area_m2: float
    efficiency: float
    use_mm_day: float


@dataclass(frozen=True)
class SourceCapacity:
    """Over all blocks of a source.

    m3_day, needed_m3_day : float [m3], what it brings in a day, and what the peak asks for
    net_mm_day, use_mm_day : float [mm/day], the same at the roots, over the ground of the blocks
    """

    m3_day: float
    needed_m3_day: float
    net_mm_day: float
    use_mm_day: float

    @property
    def keeps_up(self) -> bool:
        """Whether it brings as much as is used."""
        return self.m3_day >= self.needed_m3_day


def source_capacity(source: Source, loads: Sequence[PeakLoad]) -> SourceCapacity | None:
    """What a source brings beside what its blocks use at their peak.

    Returns
    -------
    SourceCapacity or None
        None where nothing hangs on it, nothing is used, or nothing limits it.

    Notes
    -----
    The depth at the roots is by the mean efficiency of the water that the blocks need.
    """
    area = sum(x.area_m2 for x in loads)
    used_m3 = sum(x.area_m2 * x.use_mm_day / MM_PER_M for x in loads)
    needed = sum(x.area_m2 * x.use_mm_day / x.efficiency / MM_PER_M for x in loads)
    brings = m3_day(source)
    if needed <= 0 or brings == inf:
        return None
    return SourceCapacity(
        m3_day=brings,
        needed_m3_day=needed,
        net_mm_day=brings * used_m3 / needed / area * MM_PER_M,
        use_mm_day=used_m3 / area * MM_PER_M,
    )


def m3_day(source: Source) -> float:
    """The most that a source brings in a day, on average over its turns."""
    hours = (source.to_hour - source.from_hour) % DAY_HOURS or DAY_HOURS
    if source.turn is not None:
        hours *= source.turn.hours / (source.turn.every_days * DAY_HOURS)
    by_flow = inf if source.flow_m3_h is None else source.flow_m3_h * hours
    return min(by_flow, inf if source.day_m3 is None else source.day_m3)
