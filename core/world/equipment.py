"""What the fields of a trial are watered with."""

from dataclasses import dataclass

from core.irrigation.system import IrrigationSystem, SystemKind

AREA_M2 = 50_000.0


@dataclass(frozen=True)
class Equipment:
    """A system with the least that it brings at a time [mm net], and the share of the ground
    whose roots it waters [-]."""

    system: IrrigationSystem
    smallest_net_mm: float
    strip: float = 1.0


SPRINKLERS = Equipment(
    IrrigationSystem(SystemKind.SOLID_SET, AREA_M2, 0.8, rate_mm_h=5.0, smallest_mm=8.0 / 0.8), 8.0
)
# Little and often: strips of six tenths of the ground, from 2 mm a day on.
DRIP = Equipment(
    IrrigationSystem(SystemKind.DRIP, AREA_M2, 0.9, rate_mm_h=2.0, smallest_mm=2.0 / 0.9), 2.0, 0.6
)
