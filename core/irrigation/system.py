"""An irrigation system: how fast it applies water and how it covers the block."""

from dataclasses import dataclass
from enum import StrEnum
from math import inf

from core.sentence import Sentence, sentence
from core.units import water_depth_mm


class SystemKind(StrEnum):
    PIVOT = "pivot"
    LINEAR = "linear move"
    TRAVELLER = "travelling sprinkler"
    SOLID_SET = "solid set sprinkler"
    DRIP = "drip"
    MICRO = "micro-sprinkler"
    FURROW = "furrow"
    BORDER = "border"
    BASIN = "basin"
    PADDY = "rice paddy"


MAX_RATE_MM_H = 1000.0
MAX_FLOW_M3_H = 20_000.0

# FAO-56, note to eq. 75: emitters stand below the crop.
UNDER_CANOPY = frozenset({SystemKind.DRIP, SystemKind.MICRO})

# These wet the block part by part: its last part gets water only when the run ends.
MOVING = frozenset(
    {
        SystemKind.PIVOT,
        SystemKind.LINEAR,
        SystemKind.TRAVELLER,
        SystemKind.FURROW,
        SystemKind.BORDER,
    }
)


class SystemProblem(ValueError):
    """A system that can't be used; ``field`` is the input to mend."""

    def __init__(self, field: str, message: Sentence) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


@dataclass(frozen=True)
class IrrigationSystem:
    """Equipment of a block.

    Either ``rate_mm_h`` [mm/h] or ``flow_m3_h`` [m3/h] over the block's area.
    ``efficiency`` [fraction] is the share of applied water that reaches the root zone.
    ``smallest_mm`` and ``largest_mm`` [mm gross] bound one sensible set. ``turn_mm`` [mm gross] is
    the largest depth of one turn of a machine; more takes turns one after the other.
    """

    kind: SystemKind
    area_m2: float
    efficiency: float
    rate_mm_h: float | None = None
    flow_m3_h: float | None = None
    smallest_mm: float = 0.0
    largest_mm: float | None = None
    turn_mm: float = inf

    def __post_init__(self) -> None:
        if not 0 < self.area_m2 < inf:
            raise SystemProblem("area", sentence("The area must be above zero."))
        if not 0 < self.efficiency <= 1:
            raise SystemProblem(
                "efficiency",
                sentence(
                    "Efficiency is {efficiency:g} %; enter 1 to 100 %.",
                    efficiency=self.efficiency * 100,
                ),
            )
        if (self.rate_mm_h is None) == (self.flow_m3_h is None):
            raise SystemProblem(
                "rate", sentence("Enter either the application rate or the flow, not both.")
            )
        # Above any pump or sprinkler there is: such a figure is a slip of the unit.
        if self.rate_mm_h is not None and not 0 < self.rate_mm_h <= MAX_RATE_MM_H:
            raise SystemProblem(
                "rate",
                sentence(
                    "The rate must lie between 0 and {max_rate_mm_h:g} mm/h.",
                    max_rate_mm_h=MAX_RATE_MM_H,
                ),
            )
        if self.flow_m3_h is not None and not 0 < self.flow_m3_h <= MAX_FLOW_M3_H:
            raise SystemProblem(
                "flow",
                sentence(
                    "The flow must lie between 0 and {max_flow_m3_h:g} m3/h.",
                    max_flow_m3_h=MAX_FLOW_M3_H,
                ),
            )
        if self.largest_mm is not None and not self.largest_mm >= self.smallest_mm:
            raise SystemProblem(
                "largest", sentence("The maximum application can't be below the minimum.")
            )

    @property
    def application_rate_mm_h(self) -> float:
        """Gross depth per hour over the whole block [mm/h]."""
        if self.rate_mm_h is not None:
            return self.rate_mm_h
        return water_depth_mm(self.flow_m3_h or 0.0, self.area_m2)

    @property
    def under_canopy(self) -> bool:
        """Whether the water is let out below the crop, which shades the ground that it wets."""
        return self.kind in UNDER_CANOPY

    @property
    def moves(self) -> bool:
        """Whether the block is wetted part by part."""
        return self.kind in MOVING
