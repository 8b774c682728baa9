"""Water that runs over the ground: furrows, borders, basins, paddies."""

from dataclasses import dataclass
from math import ceil

from core.irrigation.operation import Operation, need
from core.irrigation.system import SystemProblem
from core.sentence import sentence
from core.units import water_depth_mm

# A set should run on for a quarter of the advance time after the water has arrived, or the far
# end stays dry (common practice, no source).
AFTER_ADVANCE = 1.25
PADDY_FLOOD_MM = 50.0


@dataclass(frozen=True)
class Strips:
    """Furrows or border strips, watered some at a time.

    inflow_l_s : into one furrow or strip [l/s]; spacing_m, length_m [m]; per_set : how many
    run together; set_hours : how long [h]; advance_hours : until water reaches the end [h]
    """

    inflow_l_s: float
    spacing_m: float
    length_m: float
    per_set: int
    set_hours: float
    advance_hours: float

    def __post_init__(self) -> None:
        need("inflow_l_s", self.inflow_l_s, 0.05, 1000, "The inflow, l/s,")
        need("spacing_m", self.spacing_m, 0.3, 100, "The spacing or width, m,")
        need("length_m", self.length_m, 5, 2000, "The length, m,")
        need("per_set", self.per_set, 1, 2000, "How many run together")
        need("set_hours", self.set_hours, 0.1, 96, "The length of an irrigation, hours,")
        need("advance_hours", self.advance_hours, 0.05, 96, "The advance time, hours,")
        if self.advance_hours > self.set_hours:
            raise SystemProblem(
                "advance_hours",
                sentence(
                    "The water takes longer to reach the end than the irrigation lasts: the far "
                    "end stays dry. Lengthen the irrigation or raise the inflow."
                ),
            )

    def sets_of(self, area_m2: float) -> int:
        """Sets that a block takes, the last one perhaps not full."""
        return max(ceil(area_m2 / (self.per_set * self.spacing_m * self.length_m) - 1e-6), 1)

    def operation(self, area_m2: float) -> Operation:
        """Depth of a set = inflow x time / (spacing x length), set after set."""
        rate = 3600 * self.inflow_l_s / (self.spacing_m * self.length_m)
        sets = self.sets_of(area_m2)
        flow = 3.6 * self.inflow_l_s * self.per_set
        return Operation(
            rate_mm_h=water_depth_mm(flow, area_m2),
            peak_rate_mm_h=rate,
            smallest_mm=rate * self.advance_hours * AFTER_ADVANCE,
            largest_mm=None,
            pass_hours=sets * self.set_hours,
            pass_mm=rate * self.set_hours,
        )


@dataclass(frozen=True)
class Basin:
    """Level ground flooded whole: flow_m3_h [m3/h] into all basins together."""

    flow_m3_h: float
    flood_mm: float = PADDY_FLOOD_MM

    def __post_init__(self) -> None:
        need("flow_m3_h", self.flow_m3_h, 0.1, 20_000, "The flow, m3/h,")
        need("flood_mm", self.flood_mm, 10, 300, "The flood, mm,")

    def operation(self, area_m2: float) -> Operation:
        """Hours to flood = depth / (flow over the block)."""
        rate = water_depth_mm(self.flow_m3_h, area_m2)
        return Operation(rate, rate, self.flood_mm, None, self.flood_mm / rate, self.flood_mm)
