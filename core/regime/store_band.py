"""Between what a soil store is kept, and when and how much water that asks for."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from core.advice.decide import TAKEN_CHANCE, WORTH_SHARE, Decisions
from core.advice.gather import AHEAD_DAYS
from core.advice.holds import Moved, around_holds
from core.advice.needs_ahead import NeedsAhead
from core.advice.vocabulary import Reason
from core.advice.working import Step
from core.arrays import Floats
from core.irrigation.amount import Amount, irrigation_amount
from core.outlook.ahead import days_until_refill, quantile

LEAST_ROOM_MM = 1.0
# A crop that is kept short on purpose is not hurried through its sensitive stages.
CRITICAL = frozenset({Reason.CRITICAL_STAGE, Reason.CRITICAL_STAGE_NEXT})


@dataclass(frozen=True)
class StoreBand:
    """Between what one block's store is kept; depths [mm], days from now on, index 0 now.

    usable_mm : array, shape (CASES, AHEAD_DAYS + 1), above the lowest point, of each member
    expected_mm : array, shape (AHEAD_DAYS + 1,), the same in the expected case
    room_mm : array, shape (AHEAD_DAYS + 1,), the most that it may be, at the upper edge
    missing_mm : array, shape (AHEAD_DAYS + 1,), what would bring it to the upper edge, expected
    lowest_past_mm, highest_past_mm : arrays, shape (past days + 1,), depletions between which it
        was kept, the last one now
    explained : the working of a lone block
    needs : changes what a plan is told of the store
    dropped : reasons of the soil's own rule that the band has no use for
    worse : whether the answer is less sure than the store is
    taken_chance : of passing the lower edge before the water comes [-]
    """

    usable_mm: Floats
    expected_mm: Floats
    room_mm: Floats
    missing_mm: Floats
    lowest_past_mm: Floats
    highest_past_mm: Floats
    explained: Callable[["BandDecision"], tuple[Step, ...]]
    needs: Callable[[NeedsAhead], NeedsAhead]
    dropped: frozenset[Reason] = frozenset()
    worse: bool = False
    taken_chance: float = TAKEN_CHANCE


@dataclass(frozen=True)
class BandDecision:
    """When and how much, by a band; hours from now, infinity where it is not in sight.

    by_days : by when the water must have come; chance_days : when the chance taken is used up
    soil_hours : the latest start before holds are respected
    missing_mm : to the upper edge at the start, and what of it is not given
    """

    days_left: float
    member_left: Floats
    chance_days: float
    by_days: float
    soil_hours: float
    earliest_hours: float
    moved: Moved
    missing_mm: float
    left_out_mm: float
    amount: Amount | None

    @property
    def held(self) -> bool:
        """Whether the irrigation has to wait for a hold to end."""
        return self.moved.hold is not None and not self.moved.goes_before


def decide_band(d: Decisions, row: int, band: StoreBand) -> BandDecision:
    """When and how much water a block gets by its band.

    Water has come by the day on which the expected course reaches the lower edge, or on which more
    of the members have than the chance that is taken, once so much is missing that it is worth an
    irrigation. It brings the store to the upper edge and no further.
    """
    inputs = d.gathered.blocks[row]
    system = inputs.assumed.system
    days_left = float(days_until_refill(band.expected_mm))
    member_left = days_until_refill(band.usable_mm)
    chance_days = float(quantile(member_left, band.taken_chance))
    net = system.smallest_mm * system.efficiency
    worth = net if system.smallest_mm > 0 else WORTH_SHARE * float(band.room_mm[0])
    worth_days = float(days_until_refill(worth - band.missing_mm))
    by_days = min(days_left, max(chance_days, worth_days))
    if d.finished[row] or by_days >= d.end.over_days[row]:
        by_days = np.inf
    most = float(d.most_net_mm[row])

    def given(hours: float) -> tuple[float, float, Amount]:
        day = min(max(hours, 0.0) / 24, AHEAD_DAYS)
        missing = float(np.interp(day, np.arange(AHEAD_DAYS + 1), band.missing_mm))
        missing = max(missing, 0.0)
        left_out = max(missing - most, 0.0)
        return missing, left_out, irrigation_amount(missing, system, left_out)

    if not np.isfinite(by_days):
        earliest = np.inf
        moved, soil = Moved(np.inf), np.inf
        return BandDecision(
            days_left, member_left, chance_days, by_days, soil, earliest, moved, 0.0, 0.0, None
        )
    first = given(24 * by_days)[2]
    soil = max(24 * by_days - (first.turn_hours if system.moves else 0.0), 0.0)
    earliest = 24 * worth_days
    moved = around_holds(soil, first.hours, earliest, inputs.holds)
    missing, left_out, amount = given(moved.start_hours)
    return BandDecision(
        days_left=days_left,
        member_left=member_left,
        chance_days=chance_days,
        by_days=by_days,
        soil_hours=soil,
        earliest_hours=earliest,
        moved=moved,
        missing_mm=missing,
        left_out_mm=left_out,
        amount=amount,
    )
