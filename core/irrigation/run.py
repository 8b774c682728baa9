"""How the equipment gives a depth: turns and speed, sets one after the other, pulses."""

from dataclasses import dataclass
from math import ceil, inf

from core.irrigation.design import Design
from core.irrigation.intake import check_intake
from core.irrigation.moving import Linear, Pivot
from core.irrigation.surface import Strips
from core.irrigation.system import IrrigationSystem, SystemKind

# Water that is meant to run over the ground is no run-off.
SURFACE = frozenset({SystemKind.FURROW, SystemKind.BORDER, SystemKind.BASIN, SystemKind.PADDY})
# A machine that moves on can't pulse; it goes faster.
CARRIED = frozenset({SystemKind.PIVOT, SystemKind.LINEAR, SystemKind.TRAVELLER})
# Pulses that follow the crop's use come while it uses water, six to eighteen (common practice, no
# source).
DAYLIGHT_HOURS = 12.0


@dataclass(frozen=True)
class Run:
    """One irrigation as it is run.

    turns : passes of a machine, each of turn_hours [h] at speed_percent of full speed (None
        where it has no such setting)
    sets : parts of the block watered one after the other
    pulses : with on_hours of water and pause_hours between; None where one run will do
    total_hours : from the first water to the last [h]
    runs_off : whether more falls at one go than the soil takes in: pulses or turns help as far
        as there are any
    """

    turns: int
    turn_hours: float
    speed_percent: float | None
    sets: int
    pulses: int
    on_hours: float | None
    pause_hours: float | None
    total_hours: float
    runs_off: bool = False


def largest_turn_mm(
    system: IrrigationSystem, design: Design | None, intake_mm_h: float, slope_percent: float
) -> float:
    """Largest gross depth that one turn of a machine gives without water running off [mm].

    No turn gives less than one at full speed; infinity where the soil keeps up, and for what
    does not turn.
    """
    if system.kind not in CARRIED or not isinstance(design, Pivot | Linear):
        return inf
    made = design.operation(system.area_m2)
    found = check_intake(made.peak_rate_mm_h, made.pass_mm, intake_mm_h, slope_percent)
    return max(found.safe_mm, made.pass_mm)


def largest_pulse(
    system: IrrigationSystem, design: Design | None, intake_mm_h: float, slope_percent: float
) -> tuple[float, float] | None:
    """The most that falls at one go without running off [mm gross], and the pause until the ground
    takes in more [h]; None where the soil keeps up, pauses would not help, or it can't pulse."""
    if system.kind in SURFACE | CARRIED or isinstance(design, Strips):
        return None
    made = design.operation(system.area_m2) if design is not None else None
    peak = made.peak_rate_mm_h if made is not None else system.application_rate_mm_h
    found = check_intake(peak, peak, intake_mm_h, slope_percent)
    if found.safe_mm == inf or found.storage_mm == 0:
        return None
    return found.safe_mm, found.storage_mm / intake_mm_h


def turns_of(gross_mm: float, turn_mm: float) -> int:
    """Turns one after the other that give a depth."""
    return max(ceil(gross_mm / turn_mm - 1e-9), 1)


def run_of(
    system: IrrigationSystem,
    design: Design | None,
    gross_mm: float,
    intake_mm_h: float,
    slope_percent: float,
    pulse_mm: float = inf,
) -> Run:
    """The run that gives a gross depth without water running off, where that can be had.

    Parameters
    ----------
    system : IrrigationSystem
    design : Design or None
        The figures behind it; without them only hours and pulses are known.
    gross_mm : float, above zero [mm]
    intake_mm_h : float, above zero [mm/h]
    slope_percent : float [percent]
    pulse_mm : float [mm gross]
        The most that the roots are to get at one go, of what stands still.

    Raises
    ------
    ValueError
        When the depth is not above zero.

    Notes
    -----
    A machine's peak rate does not depend on its speed, so the depth of a pass is what must not
    exceed what the soil takes in: more turns, each faster. What stands still pulses instead;
    pulses for the roots' sake are spread over the daylight.
    """
    if gross_mm <= 0:
        raise ValueError("a run gives some water")
    hours = gross_mm / system.application_rate_mm_h
    made = design.operation(system.area_m2) if design is not None else None
    peak = made.peak_rate_mm_h if made is not None else system.application_rate_mm_h
    if isinstance(design, Strips):
        return Run(1, hours, None, design.sets_of(system.area_m2), 1, None, None, hours)
    if system.kind in SURFACE or (system.kind in CARRIED and made is None):
        return Run(1, hours, None, 1, 1, None, None, hours)
    if system.kind in CARRIED:
        if made is None or not isinstance(design, Pivot | Linear):
            return Run(1, hours, None, 1, 1, None, None, hours)
        fastest = made.pass_mm
        turns = turns_of(gross_mm, largest_turn_mm(system, design, intake_mm_h, slope_percent))
        # No pass gives less than one at full speed.
        depth = max(gross_mm / turns, fastest)
        turn_hours = made.pass_hours * depth / fastest
        off = check_intake(peak, depth, intake_mm_h, slope_percent).runs_off
        total = turns * turn_hours
        speed = 100 * fastest / depth
        return Run(turns, turn_hours, speed, 1, 1, None, None, total, off)
    found = check_intake(peak, gross_mm, intake_mm_h, slope_percent)
    pulses = max(found.pulses, turns_of(gross_mm, pulse_mm))
    if pulses == 1:
        return Run(1, hours, None, 1, 1, None, None, hours, found.runs_off)
    apart = found.pause_hours or 0.0
    if pulses > found.pulses:
        apart = max((DAYLIGHT_HOURS - hours) / (pulses - 1), apart)
    total = hours + (pulses - 1) * apart
    return Run(1, hours, None, 1, pulses, hours / pulses, apart, total, found.runs_off)
