"""Sets to come, and stretches in which a block is not to be watered."""

import numpy as np
import pytest

from core.advice.assess import assess
from core.advice.holds import Hold, HoldKind, Moved, around_holds
from core.advice.inputs import PlannedSet
from core.advice.vocabulary import Reason, State
from core.crop.catalogue import crop
from core.crop.season import CropSeason
from tests.core.blocks import NOW, PIVOT, block, probe

CUT = Hold(40, 90, HoldKind.CUTTING)
SPRAY = Hold(90, 110, HoldKind.SPRAY)


@pytest.mark.parametrize(
    "start, run, earliest, holds, expected",
    [
        (20, 6, 0, (), Moved(20)),
        (20, 6, 0, (CUT,), Moved(20)),
        (34, 6, 0, (CUT,), Moved(34)),
        (36, 6, 0, (CUT,), Moved(34, CUT, goes_before=True)),
        (60, 6, 0, (CUT,), Moved(34, CUT, goes_before=True)),
        (60, 6, 35, (CUT,), Moved(90, CUT)),
        (60, 50, 0, (CUT,), Moved(90, CUT)),
        (60, 50, 0, (SPRAY, CUT), Moved(110, SPRAY)),
        (90, 6, 0, (CUT,), Moved(90)),
        (np.inf, 6, 0, (CUT,), Moved(np.inf)),
    ],
)
def test_a_set_moves_out_of_a_hold(
    start: float, run: float, earliest: float, holds: tuple[Hold, ...], expected: Moved
) -> None:
    assert around_holds(start, run, earliest, holds) == expected


def test_a_hold_ends_after_it_starts() -> None:
    with pytest.raises(ValueError, match="ends after"):
        Hold(5, 5, HoldKind.WIND)


def test_a_planned_set_pushes_the_date_and_fills_the_ribbon() -> None:
    bare = assess(block())
    planned = assess(block(planned=(PlannedSet(20, 26, 15.0),)))
    assert bare.outlook and planned.outlook
    assert Reason.PLANNED_IN_TIME in planned.reasons
    assert planned.outlook.days_left > bare.outlook.days_left + 1
    # Four of its six hours lie in the first day, two in the next.
    gained = planned.outlook.usable_mm - bare.outlook.usable_mm
    assert gained[:3] == pytest.approx([0, 10, 15], abs=0.5)


def test_a_machine_counts_when_it_has_crossed() -> None:
    bare, planned = (
        assess(block(system=PIVOT, planned=p)) for p in ((), (PlannedSet(20, 50, 15.0),))
    )
    assert bare.outlook and planned.outlook
    gained = planned.outlook.usable_mm - bare.outlook.usable_mm
    assert gained[:4] == pytest.approx([0, 0, 0, 15], abs=0.5)


def test_what_a_running_set_gave_before_now_counts_today() -> None:
    bare, runs = (assess(block(planned=p)) for p in ((), (PlannedSet(-4, 2, 12.0),)))
    assert bare.outlook and runs.outlook
    assert (runs.outlook.usable_mm - bare.outlook.usable_mm)[:2] == pytest.approx([0, 12], abs=0.5)


def test_a_set_planned_after_refill_comes_too_late() -> None:
    answer = assess(block(planned=(PlannedSet(200, 206, 15.0),)))
    assert Reason.PLANNED_TOO_LATE in answer.reasons
    assert Reason.PLANNED_IN_TIME not in answer.reasons


def test_a_block_that_is_due_waits_for_the_hold() -> None:
    due = block(sites=(probe(1, 0.72),))
    bare, held = assess(due), assess(block(sites=due.sites, holds=(Hold(-5, 30, HoldKind.SPRAY),)))
    assert bare.state is State.IRRIGATE_NOW
    assert held.state is State.ON_HOLD
    assert held.hold is HoldKind.SPRAY
    assert Reason.ON_HOLD in held.reasons
    assert held.hold_until is not None and held.start_at is not None
    assert held.start_at.hour == held.hold_until.hour
    assert bare.amount and held.amount
    assert held.amount.net_mm > bare.amount.net_mm


def test_a_hold_far_off_changes_nothing() -> None:
    bare, held = assess(block()), assess(block(holds=(Hold(400, 420, HoldKind.HARVEST),)))
    assert (held.state, held.start_at, held.hold) == (bare.state, bare.start_at, None)


def test_a_crop_that_is_over_first_needs_no_more_water() -> None:
    days = sum(crop("potato").stage_days)
    ripe = CropSeason(crop("potato"), NOW.date().fromordinal(NOW.date().toordinal() - days + 2))
    answer = assess(block(season=ripe, sites=(probe(1.0, 1.0),)))
    assert answer.start_at is None
    assert Reason.ENOUGH_TO_FINISH in answer.reasons
    assert answer.state is State.FINISHED
    # Below refill, and yet what is left lasts two days: all of it counts as usable then.
    low = assess(block(season=ripe, sites=(probe(1.0, 0.5),)))
    assert (low.state, low.start_at) == (State.FINISHED, None)
    dry = assess(block(season=ripe, sites=(probe(1.0, 0.03),)))
    assert dry.state is State.BELOW_REFILL
    assert Reason.ENOUGH_TO_FINISH not in dry.reasons
