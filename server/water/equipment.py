"""A block's irrigation equipment as the core takes it."""

from dataclasses import dataclass

from core.irrigation.system import IrrigationSystem, SystemKind
from core.irrigation.usual import usual_performance
from server.blocks.models import Block


def block_system(block: Block) -> IrrigationSystem:
    """The equipment of a block."""
    return IrrigationSystem(
        kind=SystemKind(block.system_kind),
        area_m2=block.area_m2,
        efficiency=block.efficiency,
        rate_mm_h=block.rate_mm_h,
        flow_m3_h=block.flow_m3_h,
        smallest_mm=block.smallest_mm,
        largest_mm=block.largest_mm,
    )


@dataclass(frozen=True)
class WettedShare:
    """Share of the ground under which roots are watered [-], and where the figure is from."""

    share: float
    source: str


def wetted_share(block: Block) -> WettedShare:
    """What is wetted: all of the ground, or the strips and rings of drip by their design; by what
    is usual where that does not say."""
    usual = usual_performance()[SystemKind(block.system_kind)].wetted
    if usual is None:
        return WettedShare(1.0, "")
    stated = block.design.get("wetted_fraction")
    return WettedShare(float(stated), "design") if stated else WettedShare(*usual)
