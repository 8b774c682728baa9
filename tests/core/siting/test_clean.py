from dataclasses import replace

import numpy as np
import pytest

from core.siting.clean import AS_SURVEYED, Cleaning, Dropped, clean
from core.siting.yield_points import YieldPoints, headings, passes, speeds
from tests.core.siting.ground import lanes, outline

# Nothing is dropped but what lies outside or has no value.
NOTHING = replace(AS_SURVEYED, spreads=0.0, above_zero=True)


def points(**changed):
    x, y, _ = lanes()
    return replace(YieldPoints(x, y, np.full(len(x), 8.0)), **changed)


def dropped(found, **rules):
    return clean(found, outline(), replace(NOTHING, **rules)).why


def test_passes_are_told_by_the_turns():
    x, y, of_pass = lanes(4)
    found = passes(YieldPoints(x, y, np.ones(len(x))))
    # The step across to the next lane is a direction of its own: one point of each pass after it.
    assert len(np.unique(found)) >= 4
    middle = np.abs(y + 50) < 40
    for lane in range(4):
        assert len(np.unique(found[middle & (of_pass == lane)])) == 1


def test_a_hole_in_the_times_ends_a_pass():
    x = np.zeros(6)
    y = np.arange(6) * 2.0
    time = np.array([0, 1, 2, 9, 10, 11.0])
    assert passes(YieldPoints(x, y, x, time)).tolist() == [0, 0, 0, 1, 1, 1]
    assert passes(YieldPoints(x, y, x)).tolist() == [0] * 6


def test_a_jump_ends_a_pass():
    y = np.array([0, 2, 4, 40, 42, 44.0])
    assert passes(YieldPoints(np.zeros(6), y, y)).tolist() == [0, 0, 0, 1, 1, 1]


def test_a_jump_to_the_side_is_one_new_pass():
    x = np.array([0, 0, 0, 40, 40, 40.0])
    y = np.array([0, 2, 4, 0, 2, 4.0])
    assert passes(YieldPoints(x, y, y)).tolist() == [0, 0, 0, 1, 1, 1]


def test_headings_are_clockwise_from_north():
    found = headings(YieldPoints(np.array([0, 0, 2, 2, 2.0]), np.array([0, 2, 2, 0, 0.0]), None))
    assert found[:3].tolist() == [0, 90, 180]
    assert np.isnan(found[3])


def test_speeds_are_recorded_or_come_of_positions_and_times():
    y = np.array([0, 3, 6, 9.0])
    still = YieldPoints(np.zeros(4), y, y)
    assert speeds(still) is None
    assert speeds(replace(still, time_s=np.array([0, 1, 2, 9.0])))[:3].tolist() == [3, 3, 3]
    assert np.isnan(speeds(replace(still, time_s=np.array([0, 1, 2, 9.0])))[3])
    assert speeds(replace(still, speed_m_s=y)) is y


def test_what_lies_outside_or_has_no_value_is_dropped_whatever_the_rules():
    found = points()
    found.x[0], found.value[1], found.value[2] = 500.0, np.nan, 0.0
    assert dropped(found)[:4].tolist() == [
        Dropped.OUTSIDE,
        Dropped.NO_VALUE,
        Dropped.NO_VALUE,
        Dropped.KEPT,
    ]


def test_a_survey_may_have_values_below_zero():
    found = points()
    found.value[:] = -3.0
    assert (dropped(found, above_zero=False) == Dropped.KEPT).all()


def test_the_headland_is_a_strip_along_the_edge():
    found = points()
    why = dropped(found, headland_m=10.0)
    near = (found.x < 10) | (found.y > -10) | (found.y < -90)
    assert (why[near] == Dropped.HEADLAND).all()
    assert (why[~near & (found.x < 90)] == Dropped.KEPT).all()


def test_ends_of_a_pass_are_dropped_by_their_way():
    x, y = np.full(50, 50.0), np.arange(50) * 2.0 - 99
    why = dropped(YieldPoints(x, y, np.full(50, 8.0)), start_m=7.0, end_m=3.0)
    # Points at 0, 2, 4 and 6 m lie on the first 7 m; at 98 and 96 m of 98 on the last 3.
    assert np.flatnonzero(why == Dropped.DELAY).tolist() == [0, 1, 2, 3, 48, 49]


def test_points_of_a_coarse_net_have_no_passes():
    x, y = (a.ravel() for a in np.meshgrid(np.arange(10, 100, 20.0), np.arange(-90, 0, 20.0)))
    found = clean(YieldPoints(x, y, np.ones(25)), outline(), replace(NOTHING, start_m=12.0))
    assert found.kept.all()
    assert found.not_checked == (Dropped.DELAY,)


@pytest.mark.parametrize(
    "speed, rules",
    [(0.5, {"slowest": 0.4}), (4.0, {"fastest": 1.8})],
)
def test_a_speed_far_from_the_usual_is_dropped(speed, rules):
    found = points(speed_m_s=np.full(500, 2.0))
    found.speed_m_s[100:110] = speed
    why = dropped(found, jump=np.inf, **{"fastest": 99.0, **rules})
    assert np.flatnonzero(why == Dropped.SPEED).tolist() == list(range(100, 110))


def test_a_jump_of_the_speed_is_dropped_and_not_from_pass_to_pass():
    x, y = np.full(10, 50.0), np.arange(10) * 2.0 - 60
    speed = np.array([2, 2, 2, 2.6, 2.6, 2, 2, 2, 2, 2.0])
    why = dropped(YieldPoints(x, y, np.ones(10), speed_m_s=speed), fastest=9.0, jump=0.25)
    assert np.flatnonzero(why == Dropped.SPEED).tolist() == [3, 5]


def test_another_speed_of_another_pass_is_no_jump():
    x = np.array([50.0] * 5 + [80.0] * 5)
    y = np.tile(np.arange(5) * 2.0 - 60, 2)
    speed = np.array([2.0] * 5 + [2.8] * 5)
    why = dropped(YieldPoints(x, y, np.ones(10), speed_m_s=speed), fastest=9.0, jump=0.25)
    assert (why == Dropped.KEPT).all()


def test_lanes_that_run_across_the_block_do_not_overlap():
    """Passes to the north-east, 6 m from each other across their way."""
    along, across = np.meshgrid(np.arange(0, 60, 2.0), np.arange(0, 30, 6.0))
    half = 0.5**0.5
    x = (30 + half * (along + across)).ravel()
    y = (-70 + half * (along - across)).ravel()
    found = YieldPoints(x, y, np.full(len(x), 8.0), width_m=np.full(len(x), 6.0))
    assert (dropped(found, overlap=0.5) == Dropped.OVERLAP).mean() < 0.05
    # Once more 2 m beside the first pass: two thirds of its swath.
    once = np.arange(10, 50, 2.0)
    again = YieldPoints(
        np.concatenate([x, 30 + half * (once + 2)]),
        np.concatenate([y, -70 + half * (once - 2)]),
        np.full(len(x) + 20, 8.0),
        width_m=np.full(len(x) + 20, 6.0),
    )
    assert (dropped(again, overlap=0.5)[len(x) :] == Dropped.OVERLAP).mean() > 0.8


def test_ground_harvested_before_is_dropped():
    x, y, _ = lanes(3)
    again_x, again_y = np.full(50, 4.0), np.arange(50) * 2.0 - 99
    found = YieldPoints(
        np.concatenate([x, again_x]),
        np.concatenate([y, again_y]),
        np.full(len(x) + 50, 8.0),
        width_m=np.full(len(x) + 50, 6.0),
    )
    why = dropped(found, overlap=0.5)
    assert (why[len(x) :] == Dropped.OVERLAP).mean() > 0.9
    assert (why[: len(x)] == Dropped.OVERLAP).mean() < 0.05


def test_lanes_beside_each_other_do_not_overlap():
    found = points(width_m=np.full(len(points()), 6.0))
    assert (dropped(found, overlap=0.5) == Dropped.OVERLAP).mean() < 0.03


def test_a_value_far_from_all_around_is_an_outlier_and_a_poor_half_is_none():
    rng = np.random.default_rng(4)
    x, y, _ = lanes()
    value = np.where(x < 30, 4.0, 9.0) * (1 + rng.normal(0, 0.05, len(x)))
    wrong = [120, 260, 399]
    value[wrong] = [20.0, 1.0, 30.0]
    why = dropped(YieldPoints(x, y, value), spreads=4.0)
    assert set(wrong) <= set(np.flatnonzero(why == Dropped.OUTLIER))
    assert (why == Dropped.OUTLIER).sum() < 12


def test_a_value_with_few_around_it_is_left_alone():
    x, y = np.array([10.0, 12, 14, 80, 82]), np.array([-90.0, -88, -86, -20, -22])
    why = dropped(YieldPoints(x, y, np.array([8.0, 8.1, 99.0, 8.0, 8.2])), spreads=3.0)
    assert (why == Dropped.KEPT).all()


def test_a_hair_of_difference_among_equal_values_is_no_outlier():
    found = points()
    found.value[:] = np.where(found.x < 30, 5.0, 9.0)
    found.value[70] += 0.01
    assert dropped(found, spreads=3.0)[70] == Dropped.KEPT


def test_what_the_file_does_not_tell_is_not_checked_and_said_so():
    found = clean(points(), outline(), Cleaning())
    assert found.not_checked == (Dropped.SPEED, Dropped.OVERLAP)
    assert clean(points(), outline(), AS_SURVEYED).not_checked == ()


def test_a_person_puts_points_back_and_aside():
    found = points()
    found.x[3] = 500.0
    rules = replace(NOTHING, headland_m=10.0)
    why = clean(found, outline(), rules, np.array([0, 3]), np.array([260, 9999])).why
    assert why[0] == Dropped.KEPT
    assert why[3] == Dropped.OUTSIDE
    assert why[260] == Dropped.PUT_ASIDE
