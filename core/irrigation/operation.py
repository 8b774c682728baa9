"""What a system's design comes to: rates, sensible depths, time to cross the block."""

from dataclasses import dataclass

from core.irrigation.system import SystemProblem
from core.sentence import outside, sentence


@dataclass(frozen=True)
class Operation:
    """A design worked out.

    rate_mm_h : gross, over the whole block while it runs [mm/h]
    peak_rate_mm_h : where the water falls, what the soil must take in [mm/h]
    smallest_mm, largest_mm : one sensible set [mm gross]; None where the design sets no bound
    pass_hours : for one pass of the block at the design's own setting [h]
    pass_mm : gross depth of that pass [mm]
    covered_m2 : area that the design wets [m2]; None where it takes the block's
    """

    rate_mm_h: float
    peak_rate_mm_h: float
    smallest_mm: float | None
    largest_mm: float | None
    pass_hours: float
    pass_mm: float
    covered_m2: float | None = None


def need(field: str, value: float | None, low: float, high: float, of: str) -> float:
    """The value, or a refusal that names the field and the range.

    Raises
    ------
    SystemProblem
    """
    if value is None:
        raise SystemProblem(field, sentence("{figure} is needed.", figure=of))
    if not low <= value <= high:
        raise SystemProblem(field, outside(of, value, low, high))
    return value
