"""What is said of a ponded field beside what is said of every block: values only."""

from dataclasses import dataclass
from datetime import date

from core.arrays import Floats
from core.outlook.likely import Likely
from core.ponded.cycles import NotDeeper
from core.ponded.phases import Phase


@dataclass(frozen=True)
class PondedAnswer:
    """The water of a field; levels above the ground, below zero under it [mm].

    level : now; None where it is not known
    lower_mm, upper_mm : level at which the field is flooded again today, None where it is not,
        and to which
    threshold_mm : as deep as a person allowed
    deeper_mm, not_deeper : the next threshold, and why it is not offered; None where it is
    percolation_mm_day, porosity : learned; seepage_mm_day : at the refill level
    loss_mm_day : crop use, percolation and seepage at the level now
    falls : how many falls they were learned from
    past_hours, past_mm : arrays, shape (times,), level of the past days, NaN where not known
    ahead_hours, dry_mm, ahead_mm, wet_mm : arrays, shape (times,) [h from now], level ahead
    lower_ahead_mm : array, shape (times,), NaN where there is none
    nitrogen_on : the planned dressing that goes before the next refill
    """

    phase: Phase
    level: Likely | None
    lower_mm: float | None
    upper_mm: float
    threshold_mm: float
    cycles: int
    deeper_mm: float | None
    not_deeper: NotDeeper | None
    flowering_on: date
    drain_on: date
    harvest_on: date
    percolation_mm_day: Likely | None = None
    seepage_mm_day: Likely | None = None
    porosity: Likely | None = None
    loss_mm_day: float | None = None
    falls: int = 0
    past_hours: Floats | None = None
    past_mm: Floats | None = None
    ahead_hours: Floats | None = None
    dry_mm: Floats | None = None
    ahead_mm: Floats | None = None
    wet_mm: Floats | None = None
    lower_ahead_mm: Floats | None = None
    nitrogen_on: date | None = None
