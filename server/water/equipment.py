"""A block's irrigation equipment as the core takes it."""

from core.irrigation.system import IrrigationSystem, SystemKind
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


def root_share(block: Block) -> float:
    """Share of the ground under which roots are watered: the strip that drip wets."""
    wetted = block.design.get("wetted_fraction")
    drips = block.system_kind in (SystemKind.DRIP, SystemKind.MICRO)
    return float(wetted) if drips and wetted else 1.0
