"""A block's irrigation equipment as the core takes it."""

from dataclasses import dataclass, replace

from core.irrigation.design import Design, design_of
from core.irrigation.run import largest_turn_mm
from core.irrigation.system import IrrigationSystem, SystemKind, SystemProblem
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


def block_design(block: Block) -> Design | None:
    """The design behind the figures; None without one that fits the kind of system."""
    if not block.design:
        return None
    try:
        return design_of(SystemKind(block.system_kind), block.design)
    except SystemProblem:
        # Figures of another kind of system, from before it was changed.
        return None


def system_on(block: Block, intake_mm_h: float) -> IrrigationSystem:
    """The equipment of a block with the largest turn that its soil takes in."""
    system = block_system(block)
    turn = largest_turn_mm(system, block_design(block), intake_mm_h, block.slope_percent)
    return replace(system, turn_mm=turn)


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
