"""Water each day what was used: when, how much, in how many pulses; by hand."""

from typing import Any

import pytest

from core.advice.assess import assess
from core.advice.run_of_set import PULSE_SHARE, most_pulse_mm, run_of_set
from core.irrigation.fixed import Drip
from core.irrigation.run import run_of
from core.irrigation.system import IrrigationSystem, SystemKind
from tests.core.blocks import PIVOT, block, lived, probe

# 1.6 l/h every 0.3 m on rows 3 m apart: 1.6 / 0.9 = 1.778 mm/h over all of the ground.
EMITTERS = Drip(1.6, 0.3, 3.0, 0.3)
DRIP = IrrigationSystem(SystemKind.DRIP, 50_000, 0.9, rate_mm_h=1.6 / 0.9)


def daily(share: float = 0.85, **changes: Any) -> Any:
    return block(
        **{
            "system": DRIP,
            "design": EMITTERS,
            "little_and_often": True,
            "wetted_share": 0.3,
            "sites": (probe(1, share),),
            **changes,
        }
    )


def test_it_is_due_when_a_days_use_is_missing() -> None:
    """Potatoes use 1.15 x 5.5 = 6.3 mm; of what the narrow strip lets go, half is less."""
    answer = assess(daily(1.0))
    steps = {s.key: s for s in answer.steps}
    used = steps["daily_due"].terms[0].value
    raw = steps["daily_due"].terms[2].value
    assert used == pytest.approx(1.15 * 5.5, rel=0.01)
    assert steps["daily_due"].value == pytest.approx(min(used, 0.5 * raw))
    assert 0 < steps["needed_by"].value < 1.0
    assert answer.amount is not None
    assert answer.amount.net_mm == pytest.approx(steps["daily_due"].value, rel=0.05)
    assert answer.earliest_at == answer.start_at


def test_what_is_missing_already_comes_now_and_whole() -> None:
    answer = assess(daily(0.85))
    assert answer.amount is not None
    assert answer.amount.net_mm == pytest.approx(answer.deficit_mm, rel=0.01)
    seldom = assess(daily(0.85, little_and_often=False))
    assert seldom.start_at is None or answer.start_at is not None
    assert answer.start_at is not None
    assert seldom.start_at is None or answer.start_at <= seldom.start_at


def test_what_is_unsure_is_not_left_out_of_a_days_use() -> None:
    """By the balance, spread and all: what a day used is given whole."""
    both = {"sites": (), "tended": True, "wetted_share": 1.0}
    answer, seldom = (
        assess(lived(**{**both, "little_and_often": on, "system": DRIP})) for on in (True, False)
    )
    assert answer.amount is not None
    room = next(
        t.value for s in answer.steps if s.key == "gross" for t in s.terms if t.symbol == "room"
    )
    assert room == 0
    assert seldom.amount is not None
    left_out = next(
        t.value for s in seldom.steps if s.key == "gross" for t in s.terms if t.symbol == "room"
    )
    assert left_out > 0


def test_pulses_leave_room_in_the_strip() -> None:
    """RAW 4 mm over the block: 2 mm net are 2.22 mm gross a pulse; 7 mm take four of 0.98 h,
    spread over twelve hours: (12 - 3.94) / 3 between."""
    inputs = daily()
    assert most_pulse_mm(inputs.assumed, 4.0) == pytest.approx(PULSE_SHARE * 4 / 0.9)
    run = run_of_set(inputs, 7.0, 4.0)
    assert run is not None
    assert run.pulses == 4
    assert run.on_hours == pytest.approx(7 / (1.6 / 0.9) / 4)
    assert run.pause_hours == pytest.approx((12 - 7 / (1.6 / 0.9)) / 3)
    assert run.total_hours == pytest.approx(12)
    assert run_of_set(inputs, 0.0, 4.0) is None


def test_longer_than_a_day_pulses_follow_each_other() -> None:
    run = run_of(DRIP, EMITTERS, 30.0, intake_mm_h=1e9, slope_percent=1, pulse_mm=10.0)
    assert (run.pulses, run.pause_hours) == (3, 0)
    assert run.total_hours == pytest.approx(30 / (1.6 / 0.9))


def test_intake_may_ask_for_more_pulses_than_the_roots() -> None:
    """Over the wetted strip 1.778 / 0.3 = 5.93 mm/h fall on clay that takes 3: hollows of 7.6 mm
    fill after 15.4 mm. 40 mm take three pulses, each with the pause that the hollows need."""
    run = run_of(DRIP, EMITTERS, 40.0, intake_mm_h=3.0, slope_percent=2, pulse_mm=30.0)
    assert run.pulses == 3
    assert run.runs_off
    assert run.pause_hours == pytest.approx(7.6 / 3)


def test_what_moves_over_a_block_can_not_come_daily() -> None:
    pivot = assess(block(system=PIVOT, little_and_often=True))
    assert "daily_due" not in {s.key for s in pivot.steps}
    assert most_pulse_mm(block(system=PIVOT).assumed, 50.0) == float("inf")


def test_the_rate_of_drip_comes_of_its_emitters() -> None:
    step = next(s for s in assess(daily()).steps if s.key == "rate_emitters")
    assert {t.symbol: t.value for t in step.terms} == {"q": 1.6, "n": 1.0, "s": 0.3, "r": 3.0}
    assert step.value == pytest.approx(1.778, abs=0.001)
    # A rate that a person set instead is not said to come of them.
    own = IrrigationSystem(SystemKind.DRIP, 50_000, 0.9, rate_mm_h=2.5)
    assert "rate_emitters" not in {s.key for s in assess(daily(system=own)).steps}
