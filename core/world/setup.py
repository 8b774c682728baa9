"""One kind of simulated block: how it is watered and what is planted in it."""

from dataclasses import dataclass

import numpy as np

from core.diagnosis.cause import Cause
from core.instrument.kinds import InstrumentKind
from core.world.planted import Fault
from core.world.spoiled import Spoilt

SITES, DAYS = 2, 90
DEPTH_MM = (100.0, 200.0, 300.0, 450.0, 600.0, 800.0, 1000.0)
BREAKS_AT_KPA = 75.0
NONE = np.inf


@dataclass(frozen=True)
class Setup:
    """One kind of block: what is planted in it, and what it is taken for.

    cause : what should be found; None where nothing should
    looks_like : what should not be found, though it looks like it
    due, share : of the habit, over a usual one [-]; ``use``, ``roots`` : of the truth, over the
        book's [-]; ``rate`` at most four fifths of the soil's intake [mm/h] unless it is
        ``over_intake`` by a factor; ``slow_below_mm`` : where soil hardly drains; ``table_mm`` :
        where a water table comes up to; ``size`` : drawn between these, of the plant or of the
        instrument's fault
    """

    name: str
    cause: Cause | None = None
    looks_like: tuple[Cause, ...] = ()
    fault: Fault = Fault.NONE
    spoilt: Spoilt = Spoilt.NONE
    size: tuple[float, float] = (1.0, 1.0)
    from_day: tuple[int, int] = (0, 1)
    due: tuple[float, float] = (0.55, 1.0)
    share: tuple[float, float] = (0.92, 1.05)
    rate: tuple[float, float] = (4.0, 8.0)
    over_intake: tuple[float, float] | None = None
    use: float = 1.0
    roots: float = 1.0
    slow_below_mm: float = NONE
    table_mm: float = NONE
    stops_day: int | None = None
    kind: InstrumentKind = InstrumentKind.CAPACITANCE_PROBE
