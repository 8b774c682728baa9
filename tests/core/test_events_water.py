"""What a wetting left, how deep it went, how it drained and what passed the roots; all by hand."""

import math

import numpy as np
import pytest

from core.events.draining import Night, draining, night_losses
from core.events.noise import is_night
from core.events.passed import Amount, both, passed_by_balance, passed_by_sensors
from core.events.reach import Reach, front_mm_h, reach_of
from core.events.stored import stored
from core.events.wettings import Answer, Wetting

DEPTH = np.array([100.0, 300.0, 500.0, 800.0])
NAN = float("nan")


def answers(*at: tuple[int, float]) -> Wetting:
    """Sensors and when they had answered, each within the hour before."""
    return Wetting(tuple(Answer(s, 0, 1, t - 1, t, t + 2, is_over=True) for s, t in at))


def test_stored_by_layer() -> None:
    """Layers 0-200, 200-400, 400-650, 650-950 mm: 0.10 x 200 + 0.05 x 200 = 30 mm."""
    kept = stored(DEPTH, np.full(4, 0.2), np.array([0.3, 0.25, 0.2, 0.2]), 0.0)
    assert kept.layer_mm == pytest.approx([20.0, 10.0, 0.0, 0.0])
    assert kept.total_mm == pytest.approx(30.0)
    assert kept.between(0, 300) == pytest.approx(25.0)
    assert kept.between(300, math.inf) == pytest.approx(5.0)
    assert kept.reaches_mm == 950.0


def test_a_silent_sensor_leaves_its_layer_to_its_neighbours() -> None:
    """Without 300 mm: 0-300 by the first, 300-650 by the third: 0.10 x 300 + 0.02 x 350 = 37 mm."""
    kept = stored(DEPTH, np.full(4, 0.2), np.array([0.3, NAN, 0.22, 0.2]), 0.0)
    assert np.isnan(kept.layer_mm[1])
    assert kept.total_mm == pytest.approx(37.0)


def test_nothing_known_is_unknown() -> None:
    kept = stored(DEPTH, np.full(4, NAN), np.full(4, 0.2), 0.05)
    assert math.isnan(kept.total_mm)
    assert math.isnan(kept.sigma_mm)
    assert math.isnan(kept.reaches_mm)


def test_how_far_the_store_may_be_off() -> None:
    """One sensor at 300 mm, 0.1 added, for 0-450 mm: the front stands anywhere in 300 mm below it,
    0.1 x 300 / sqrt(12) = 8.66; 45 % of the 30 mm above it are 13.5; 5 % of all 45 mm are 2.25."""
    kept = stored(np.array([300.0]), np.array([0.2]), np.array([0.3]), 0.05)
    assert kept.total_mm == pytest.approx(45.0)
    assert kept.sigma_mm == pytest.approx(math.sqrt(8.6603**2 + 13.5**2 + 2.25**2), rel=1e-4)


def test_between_two_sensors_only_their_difference_is_in_doubt() -> None:
    """Both sensors of 100 and 200 mm gained 0.1: below the second, 0.1 x 100 / sqrt(12) = 2.887;
    above the first, 0.45 x 10 mm = 4.5."""
    kept = stored(np.array([100.0, 200.0]), np.full(2, 0.2), np.full(2, 0.3), 0.0)
    assert kept.sigma_mm == pytest.approx(math.hypot(2.8868, 4.5), rel=1e-4)


SEEN = np.ones(4, bool)


@pytest.mark.parametrize(
    "rise, mm",
    [
        # Filled as the one above: half-way to the next. Half as much: a quarter. More: half-way.
        ([0.10, 0.10, 0.0, 0.0], 400.0),
        ([0.10, 0.05, 0.0, 0.0], 350.0),
        ([0.10, 0.20, 0.0, 0.0], 400.0),
    ],
)
def test_depth_reached(rise: list[float], mm: float) -> None:
    reach = reach_of(answers((0, 10), (1, 14)), DEPTH, np.array(rise), SEEN)
    assert (reach.low_mm, reach.high_mm) == (300.0, 500.0)
    assert reach.mm == pytest.approx(mm)
    assert not reach.beyond_sensors


def test_reach_of_one_sensor_alone() -> None:
    reach = reach_of(answers((0, 10)), DEPTH, np.array([0.1, 0, 0, 0]), SEEN)
    assert reach == Reach(200.0, 100.0, 300.0)


def test_past_the_deepest_sensor_there_is_no_upper_end() -> None:
    reach = reach_of(answers((0, 10), (3, 40)), DEPTH, np.full(4, 0.1), SEEN)
    assert reach == Reach(800.0, 800.0, math.inf)
    assert reach.beyond_sensors


def test_a_sensor_not_read_tells_no_end() -> None:
    """500 mm was not read then: the water ended somewhere above 800 mm."""
    seen = np.array([True, True, False, True])
    reach = reach_of(answers((0, 10), (1, 14)), DEPTH, np.array([0.1, 0.1, NAN, 0.0]), seen)
    assert (reach.low_mm, reach.high_mm) == (300.0, 800.0)


@pytest.mark.parametrize("crept, low", [(0.0099, 300.0), (0.01, 500.0)])
def test_water_that_crept_on_counts(crept: float, low: float) -> None:
    rise = np.array([0.1, 0.1, crept, 0.0])
    assert reach_of(answers((0, 10), (1, 14)), DEPTH, rise, SEEN).low_mm == low


def test_speed_of_the_front() -> None:
    """200 mm in 4 h, 3 to 5 h by the readings' hours: 50 mm/h, 40 to 66.7."""
    assert front_mm_h(answers((0, 10), (1, 14)), DEPTH) == pytest.approx((40.0, 50.0, 200 / 3))


def test_a_front_that_came_between_the_same_readings() -> None:
    slow, likely, fast = front_mm_h(answers((0, 10), (1, 10)), DEPTH)
    assert slow == 200.0
    assert math.isinf(likely)
    assert math.isinf(fast)


def test_no_speed_from_one_depth_or_from_below() -> None:
    assert all(map(math.isnan, front_mm_h(answers((1, 10)), DEPTH)))
    assert all(map(math.isnan, front_mm_h(answers((1, 10), (0, 11)), DEPTH)))


def test_night_is_from_ten_to_five() -> None:
    clock = np.array([21.9, 22.0, 0.0, 4.9, 5.0, 12.0])
    assert is_night(clock).tolist() == [False, True, True, True, False, False]


def test_losses_of_nights() -> None:
    """By the clock, from 0 to 47: two nights are read whole or nearly. The first, 0-4, loses
    0.1 mm/h, the second, 22-28, 0.2 mm/h; by day nothing counts."""
    hours = np.arange(48.0)
    store = np.where(hours < 10, 100 - 0.1 * hours, 80 - 0.2 * hours)
    nights = night_losses(hours, is_night(hours % 24), store)
    assert [n.middle_hours for n in nights] == [2.0, 25.0, 46.5][: len(nights)]
    assert [n.loss_mm_day for n in nights[:2]] == pytest.approx([2.4, 4.8])


def test_a_short_look_at_a_night_tells_nothing() -> None:
    hours = np.array([0.0, 1.0, 2.0, 12.0])
    assert night_losses(hours, is_night(hours % 24), np.array([10.0, 9, 8, 7])) == []


def test_unknown_stores_are_left_out() -> None:
    hours = np.arange(5.0)
    store = np.array([10.0, NAN, 9.8, NAN, 9.6])
    (night,) = night_losses(hours, is_night(hours % 24), store)
    assert night.loss_mm_day == pytest.approx(2.4)


NIGHTS = [Night(10.0, 6.0), Night(34.0, 3.0), Night(58.0, 0.8), Night(82.0, 0.1)]


def test_how_long_it_drained() -> None:
    """6 mm/day from hour 0 to 22, 3 mm/day to 46: 5.5 + 3 = 8.5 mm; drained by 58, not by 34."""
    drained = draining(NIGHTS, 0.0, 200.0)
    assert (drained.low_hours, drained.ends_hours, drained.high_hours) == (34.0, 46.0, 58.0)
    assert drained.lost_mm == pytest.approx(6 * 22 / 24 + 3 * 24 / 24)


def test_cut_off_by_the_next_wetting() -> None:
    """At 40: 6 mm/day for 22 h, 3 mm/day for 15 h until (34 + 40) / 2."""
    drained = draining(NIGHTS, 0.0, 40.0)
    assert math.isnan(drained.ends_hours)
    assert drained.lost_mm == pytest.approx(6 * 22 / 24 + 3 * 15 / 24)


def test_drained_in_the_first_night() -> None:
    drained = draining([Night(10.0, 0.5)], 0.0, 100.0)
    assert (drained.low_hours, drained.ends_hours, drained.high_hours) == (0.0, 5.0, 10.0)
    assert drained.lost_mm == 0.0


def test_passed_the_roots_by_the_sensors() -> None:
    """6 mm came below the roots, 4 mm drained after it: 10 mm, 2 mm and 30 % of 4 off."""
    past = passed_by_sensors(Amount(6.0, 2.0), 4.0, Reach(700, 650, 800), 600.0)
    assert past.mm == pytest.approx(10.0)
    assert past.sigma_mm == pytest.approx(math.hypot(2.0, 1.2))


def test_nothing_passed_where_it_ended_within_the_roots() -> None:
    past = passed_by_sensors(Amount(1.0, 2.0), 4.0, Reach(400, 300, 500), 600.0)
    assert past == Amount(0.0, 0.5)


def test_half_of_it_where_it_may_have_ended_on_either_side() -> None:
    """Half of 2 + 4; half of 4 is in doubt."""
    past = passed_by_sensors(Amount(2.0, 2.0), 4.0, Reach(600, 500, 800), 600.0)
    assert past.mm == pytest.approx(3.0)
    assert past.sigma_mm == pytest.approx(math.sqrt(2.0**2 + 0.6**2 + 2.0**2))


def test_beyond_the_sensors_more_may_have_gone() -> None:
    past = passed_by_sensors(Amount(6.0, 2.0), 0.0, Reach(800, 800, math.inf), 600.0)
    assert past.sigma_mm == pytest.approx(math.hypot(2.0, 6.0))


def test_passed_the_roots_by_the_balance() -> None:
    """40 given, 25 stayed, 6 used: 9; off by 3, 2 and 15 % of 6."""
    past = passed_by_balance(Amount(40.0, 3.0), Amount(25.0, 2.0), 6.0)
    assert past.mm == pytest.approx(9.0)
    assert past.sigma_mm == pytest.approx(math.sqrt(9 + 4 + 0.81))


def test_two_accounts_by_their_certainty() -> None:
    """(10 / 1 + 4 / 4) / (1 / 1 + 1 / 4) = 8.8; sqrt(1 / 1.25)."""
    weighed = both(Amount(10.0, 1.0), Amount(4.0, 2.0))
    assert weighed.mm == pytest.approx(8.8)
    assert weighed.sigma_mm == pytest.approx(math.sqrt(0.8))


def test_an_unknown_account_has_no_weight() -> None:
    assert both(Amount(10.0, 1.0), Amount(NAN, NAN)) == Amount(10.0, 1.0)
    assert math.isnan(both(Amount(NAN, NAN), Amount(NAN, 1.0)).mm)


def test_never_less_than_nothing() -> None:
    assert both(Amount(-3.0, 1.0), Amount(NAN, NAN)).mm == 0.0
