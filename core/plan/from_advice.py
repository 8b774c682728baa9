"""A block as a plan takes it, from what the advice knows of it."""

from collections.abc import Sequence
from math import ceil, floor, inf

import numpy as np

from core.advice.holds import Hold
from core.advice.needs_ahead import NeedsAhead
from core.arrays import Bools, Floats
from core.crop.yield_loss import loss_per_mm
from core.irrigation.system import IrrigationSystem
from core.plan.plan_block import FixedSet, PlanBlock
from core.plan.pulses import Pulses
from core.plan.rows import FLOW_UNITS
from core.plan.shared import M3_H_PER_L_S
from core.plan.slots import DAYS, SLOT_H, SLOTS
from core.plan.starts import MOST_A_DAY
from core.units import MM_M2_PER_M3

# The least that one set brings, as a share of RAW, where the system sets no smallest one (working
# assumption, no source): with less people would begin one every day.
LEAST_SHARE = 0.5
# The least of a block that is watered each day [mm].
LEAST_DAILY_MM = 1.0
# Where nobody says what work costs: half an hour for each irrigation at 20 an hour, nothing where
# water comes by itself every day (working assumption, no source). Without it plans would water
# little by little.
LABOUR_H_UNKNOWN, LABOUR_PRICE_UNKNOWN = 0.5, 20.0
# Money for each irrigation that runs otherwise than people were told: the least that counts beside
# labour, so that a plan does not change for nothing (working assumption, no source).
CHANGE_MONEY = 2.0
# What waters its ground part by part is followed in so many parts [-]; more changed no plan.
PARTS = 3


def plan_block(
    name: str,
    needs: NeedsAhead,
    system: IrrigationSystem,
    holds: Sequence[Hold],
    now_h: float,
    *,
    source: int,
    value: float,
    mains: tuple[int, ...] = (),
    machine: int | None = None,
    people: int = 0,
    labour: float = 0.0,
    daily: bool = False,
    rain_room_mm: float = 0.0,
    fixed: tuple[FixedSet, ...] = (),
    told: tuple[FixedSet, ...] = (),
    change: float = 0.0,
    windy: Bools | None = None,
    groups: tuple[int, ...] = (),
    pulse: tuple[float, float] | None = None,
    most_at_once_mm: float = inf,
) -> PlanBlock:
    """A block on the slots of a plan that begins at the midnight before now.

    Parameters
    ----------
    holds : sequence of Hold
        In hours from now.
    now_h : float [h]
        Since that midnight.
    value : float
        Money for all of the block's yield.
    daily : bool
        Whether it is watered little and often.
    rain_room_mm : float [mm]
        What is left to the rain.
    windy : array of bool, shape (slots,), or None
        When wind is above the block's limit, see `core.plan.wind.windy_slots`.
    pulse : tuple of float [mm gross] and float [h], or None
        The most of one pulse and the pause after it, see `core.irrigation.run.largest_pulse`.
    most_at_once_mm : float [mm gross]
        The most that the roots are to get at one go, see `core.advice.run_of_set.most_pulse_mm`;
        where a day's use is more, it is watered several times a day.

    Notes
    -----
    Depths are counted from full less the room for rain, or what is left unfilled by the block's
    rule, so that a set never fills it.
    """
    reaches = system.efficiency * (1.0 - needs.leaching_share)
    rain_room_mm = max(rain_room_mm, needs.room_mm)
    raw = np.maximum(needs.raw_mm - rain_room_mm, 1.0)
    taw = np.maximum(needs.taw_mm - rain_room_mm, raw + 1.0)
    least = LEAST_DAILY_MM if daily else LEAST_SHARE * float(raw[0])
    largest = system.largest_mm * reaches if system.largest_mm is not None else float(taw.max())
    free = allowed_slots(holds, now_h)
    blown = free & (np.zeros(SLOTS, dtype=bool) if windy is None else windy)
    day_mm = float(needs.use_mm[:, :DAYS].mean(axis=0).max())
    a_day = min(max(ceil(day_mm / (most_at_once_mm * reaches) - 1e-9), 1), MOST_A_DAY)
    # More than so many times a day it can't be: then each brings its part of the day's use.
    largest = min(largest, max(most_at_once_mm * reaches, day_mm / a_day))
    smallest = min(max(system.smallest_mm * reaches, least), largest)
    # No more than the crop lacks until it is over.
    largest = max(min(largest, needs.most_mm), smallest)
    return PlanBlock(
        name=name,
        source=source,
        mains=mains,
        machine=machine,
        people=people,
        flow_l_s=system.application_rate_mm_h * system.area_m2 / MM_M2_PER_M3 / M3_H_PER_L_S,
        net_mm_h=system.application_rate_mm_h * reaches,
        gross_m3_mm=system.area_m2 / MM_M2_PER_M3 / reaches,
        smallest_mm=smallest,
        largest_mm=largest,
        allowed=free & ~blown,
        depletion_mm=np.maximum(needs.depletion_mm - rain_room_mm, 0.0),
        # Nothing is missed by a crop that needs no more before it is over.
        use_mm=needs.use_mm[:, :DAYS] * (not needs.finished),
        rain_mm=needs.water_mm[:, :DAYS],
        raw_mm=raw[:DAYS],
        taw_mm=taw[:DAYS],
        loss_per_mm=loss_per_mm(
            needs.season.crop, needs.book_day, max(needs.et0_mm_day, 1e-6), value
        ),
        labour=labour,
        wetting_mm=needs.wetting_mm,
        fixed=fixed,
        told=told,
        change=change,
        windy=blown if blown.any() else None,
        groups=groups,
        pulses=None if pulse is None else Pulses(pulse[0] * reaches, pulse[1]),
        parts=PARTS if system.moves else 1,
        a_day=a_day,
    )


def allowed_slots(holds: Sequence[Hold], now_h: float) -> Bools:
    """Slots that lie ahead and in no hold; array of bool, shape (slots,)."""
    begins: Floats = np.arange(SLOTS) * SLOT_H
    allowed: Bools = begins >= now_h - 1e-9
    for hold in holds:
        allowed &= (begins + SLOT_H <= now_h + hold.start_hours + 1e-9) | (
            begins >= now_h + hold.end_hours - 1e-9
        )
    return allowed


def fixed_set(start_h: float, end_h: float, net_mm: float, now_h: float) -> FixedSet | None:
    """An irrigation that stands, as far as it lies ahead within the days of the plan.

    Parameters
    ----------
    start_h, end_h, now_h : float [h]
        Since the midnight at which the plan begins, the start below the end.
    net_mm : float [mm]
        That all of it brings; what came before now is left out.

    Returns
    -------
    FixedSet or None
        None where nothing of it lies ahead.
    """
    begins = max(start_h, now_h)
    stops = min(end_h, SLOTS * SLOT_H)
    if stops <= begins:
        return None
    first, end = floor(begins / SLOT_H + 1e-9), ceil(stops / SLOT_H - 1e-9)
    net = net_mm * (stops - begins) / (end_h - start_h)
    return FixedSet(first, max(end - first, 1), net)


def flow_of(systems: Sequence[IrrigationSystem]) -> float:
    """What several blocks draw together when all of them run, each rounded up as plans count it
    [L/s]."""
    each = (s.application_rate_mm_h * s.area_m2 / MM_M2_PER_M3 / M3_H_PER_L_S for s in systems)
    return sum((ceil(flow * FLOW_UNITS) / FLOW_UNITS for flow in each), 0.0)


def is_sensible(block: PlanBlock) -> bool:
    """Whether every figure of a block can be planned with: finite, and a rate above zero."""
    arrays = (block.depletion_mm, block.use_mm, block.rain_mm, block.raw_mm, block.taw_mm)
    return all(np.isfinite(a).all() for a in arrays) and 0 < block.net_mm_h < inf


def labour_of(hours: float | None, price: float | None, *, daily: bool) -> float:
    """Money for the work of each irrigation; hours and price of one are None where nobody said."""
    usual = 0.0 if daily else LABOUR_H_UNKNOWN
    worked = usual if hours is None else hours
    return worked * (LABOUR_PRICE_UNKNOWN if price is None else price)
