"""How equipment gives a depth: turns, sets, pulses."""

from dataclasses import replace
from math import inf

import pytest

from core.irrigation.amount import irrigation_amount
from core.irrigation.design import Design, design_of
from core.irrigation.run import largest_turn_mm, run_of, turns_of
from core.irrigation.system import IrrigationSystem, SystemKind

PIVOT = {"flow_m3_h": 310.0, "length_m": 340.0, "turn_hours": 11.0, "wetted_width_m": 18.0}


def pivot() -> tuple[IrrigationSystem, Design]:
    design = design_of(SystemKind.PIVOT, PIVOT)
    return IrrigationSystem(SystemKind.PIVOT, 363_168, 0.85, flow_m3_h=310.0), design


def test_a_pivot_slows_down_for_more_water() -> None:
    system, design = pivot()
    one = run_of(system, design, 18.8, intake_mm_h=200, slope_percent=1)
    # 310 m3/h x 11 h over pi x 340^2 m2 are 9.39 mm at full speed; twice that is half speed.
    assert one.turns == 1
    assert one.speed_percent == pytest.approx(50, abs=0.2)
    assert one.turn_hours == pytest.approx(22, abs=0.1)
    assert one.total_hours == pytest.approx(22, abs=0.1)


def test_a_pivot_turns_more_often_where_the_soil_takes_less() -> None:
    system, design = pivot()
    many = run_of(system, design, 40, intake_mm_h=12, slope_percent=1)
    whole = run_of(system, design, 40, intake_mm_h=500, slope_percent=1)
    assert whole.turns == 1
    assert many.turns > 1
    assert many.turns * many.turn_hours == pytest.approx(whole.turn_hours)
    # Never less than at full speed.
    least = run_of(system, design, 3, intake_mm_h=500, slope_percent=1)
    assert (least.turns, least.speed_percent) == (1, pytest.approx(100))


def test_the_largest_turn_is_what_its_soil_takes_in() -> None:
    """Flow 310 m3/h in 11 h on pi x 340^2 m2: 9.39 mm at full speed; the outer end passes at
    2 pi 340 / 11 = 194.2 m/h, so the 18 m of water stand over a place for 5.56 minutes: 101.3
    mm/h. Against 12 mm/h hollows of 12.7 mm fill after 12.7 / (1 - 12 / 101.3) = 14.41 mm. What
    takes in 500 mm/h sets no bound; on a steep slope a turn at full speed is the least."""
    system, design = pivot()
    assert largest_turn_mm(system, design, 12, 1) == pytest.approx(14.41, abs=0.01)
    assert largest_turn_mm(system, design, 500, 1) == inf
    assert largest_turn_mm(system, design, 12, 8) == pytest.approx(9.39, abs=0.01)
    assert largest_turn_mm(system, None, 12, 1) == inf
    assert turns_of(14.6, 14.6) == 1
    assert turns_of(14.7, 14.6) == 2
    assert turns_of(20, inf) == 1


def test_an_amount_says_how_long_one_of_its_turns_takes() -> None:
    """40 mm by turns of 14.6 mm at most: three, each of a third of the hours."""
    system = replace(pivot()[0], turn_mm=14.6)
    found = irrigation_amount(34.0, system)
    assert found.gross_mm == pytest.approx(40)
    assert found.turn_hours == pytest.approx(found.hours / 3)
    assert found.hours == pytest.approx(40 / system.application_rate_mm_h)
    once = irrigation_amount(34.0, pivot()[0])
    assert once.turn_hours == once.hours


def test_sprinklers_pulse_where_water_would_run() -> None:
    system = IrrigationSystem(SystemKind.SOLID_SET, 50_000, 0.75, rate_mm_h=12)
    run = run_of(system, None, 36, intake_mm_h=6, slope_percent=2)
    # Hollows hold 7.6 mm: 15.2 mm at a go, a pause of 7.6 / 6 h; three goes of an hour each.
    assert run.pulses == 3
    assert run.on_hours == pytest.approx(1.0)
    assert run.pause_hours == pytest.approx(7.6 / 6)
    assert run.total_hours == pytest.approx(3 + 2 * 7.6 / 6)
    calm = run_of(system, None, 36, intake_mm_h=20, slope_percent=2)
    assert (calm.pulses, calm.total_hours) == (1, pytest.approx(3.0))


def test_borders_are_set_after_set() -> None:
    figures = {
        "inflow_l_s": 40.0,
        "spacing_m": 10.0,
        "length_m": 250.0,
        "per_set": 4,
        "set_hours": 3.0,
        "advance_hours": 1.5,
    }
    design = design_of(SystemKind.BORDER, figures)
    system = IrrigationSystem(SystemKind.BORDER, 100_000, 0.65, flow_m3_h=576.0)
    run = run_of(system, design, 80, intake_mm_h=8, slope_percent=0.2)
    # Four borders of 2500 m2 are a hectare: ten sets; 80 mm on 10 ha at 576 m3/h take 13.9 h.
    assert run.sets == 10
    assert run.total_hours == pytest.approx(8000 / 576)


def test_nothing_is_no_run() -> None:
    system = IrrigationSystem(SystemKind.DRIP, 50_000, 0.9, rate_mm_h=2)
    with pytest.raises(ValueError, match="some water"):
        run_of(system, None, 0, intake_mm_h=6, slope_percent=2)
