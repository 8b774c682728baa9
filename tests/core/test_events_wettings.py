"""Rises of one hole put together, and whose water it was; all by hand."""

import math

import numpy as np
import pytest

from core.events.supply import Supply, supplies_of
from core.events.wettings import Answer, Wetting, wettings_of

DEPTHS = [100.0, 300.0, 500.0, 800.0]


def answer(sensor: int, arrived: float, peak: float | None = None, row: int = 0) -> Answer:
    """Water that arrived within the hour before; wettest two hours later if not said."""
    peak = arrived + 2 if peak is None else peak
    return Answer(sensor, row, row + 1, arrived - 1, arrived, peak, is_over=True)


def grouped(*rises: Answer) -> list[list[tuple[int, float]]]:
    """Of each wetting its sensors and when they answered."""
    rows = max(r.peak_row for r in rises) + 1
    wettings = wettings_of(rises, DEPTHS, np.zeros((rows, len(DEPTHS))))
    return [[(a.sensor, a.after_hours) for a in w.answers] for w in wettings]


def test_depths_in_order_are_one_wetting() -> None:
    assert grouped(answer(1, 14), answer(0, 10), answer(2, 30)) == [[(0, 10), (1, 14), (2, 30)]]


@pytest.mark.parametrize("late, wettings", [(48.0, 1), (48.5, 2)])
def test_a_day_and_another_for_each_20_cm(late: float, wettings: int) -> None:
    """From 100 to 300 mm two days are allowed, from the first answer to before the second."""
    assert len(grouped(answer(0, 10), answer(1, 10 + late + 1))) == wettings


def test_the_way_is_from_the_nearest_that_answered() -> None:
    """The third sensor is 400 mm below the first: three days are allowed."""
    assert len(grouped(answer(0, 10), answer(2, 10 + 72 + 1))) == 1
    assert len(grouped(answer(0, 10), answer(2, 10 + 72 + 1.5))) == 2


def test_the_nearest_is_the_deepest_of_those_above() -> None:
    """200 mm below one that answered at 50, two days are allowed; by the first, 400 mm above, three
    days since 10 would be over."""
    assert len(grouped(answer(0, 10), answer(1, 50), answer(2, 95))) == 1


def test_two_waterings_are_two_wettings_and_deep_water_is_of_the_newer_one() -> None:
    found = grouped(answer(0, 10), answer(1, 12), answer(0, 34), answer(1, 36), answer(2, 50))
    assert found == [[(0, 10), (1, 12)], [(0, 34), (1, 36), (2, 50)]]


def test_deep_water_is_of_the_older_one_where_the_newer_did_not_get_there() -> None:
    """The newer wetting could have brought it from 100 mm in three days: it is the newer one's.
    After those it can only be the older one's, whose second sensor is near."""
    found = grouped(answer(0, 10), answer(1, 12), answer(2, 40), answer(0, 41, row=2))
    assert found == [[(0, 10), (1, 12), (2, 40)], [(0, 41)]]


@pytest.mark.parametrize("again, wettings", [(19.0, 1), (19.5, 2)])
def test_a_pulse_within_six_hours_of_the_wettest(again: float, wettings: int) -> None:
    """Wettest at 12; the pulse begins an hour before it is seen."""
    assert len(grouped(answer(0, 10), answer(0, again))) == wettings


def test_pulses_keep_the_first_arrival_and_the_wettest_reading() -> None:
    wetness = np.zeros((6, 4))
    wetness[1, 0], wetness[3, 0], wetness[5, 0] = 0.30, 0.32, 0.31
    rises = [answer(0, 10, 12, row=0), answer(0, 14, 16, row=2), answer(0, 18, 20, row=4)]
    (wetting,) = wettings_of(rises, DEPTHS, wetness)
    (pulsed,) = wetting.answers
    assert (pulsed.before_hours, pulsed.after_hours) == (9, 10)
    assert (pulsed.peak_hours, pulsed.peak_row, pulsed.before_row) == (16, 3, 0)


def test_a_deep_sensor_that_rises_again_has_more_of_the_same_water() -> None:
    assert grouped(answer(0, 10), answer(1, 14), answer(1, 40)) == [[(0, 10), (1, 14)]]


def test_the_first_sensor_that_rises_again_has_new_water() -> None:
    assert grouped(answer(0, 10), answer(0, 30)) == [[(0, 10)], [(0, 30)]]


@pytest.mark.parametrize("ahead, wettings", [(6.0, 1), (8.0, 2)])
def test_a_deep_sensor_may_be_first_by_a_few_hours(ahead: float, wettings: int) -> None:
    assert len(grouped(answer(2, 10), answer(0, 10 + ahead))) == wettings


def wetting(sensor: int, arrived: float, peak: float) -> Wetting:
    return Wetting((answer(sensor, arrived, peak),))


def test_each_wetting_has_its_own_irrigation() -> None:
    wettings = [wetting(0, 10, 14), wetting(0, 34, 38)]
    supplies = [Supply(8, 12, 20), Supply(32, 36, 20)]
    assert supplies_of(wettings, DEPTHS, supplies) == [[0], [1]]


def test_nothing_logged() -> None:
    assert supplies_of([wetting(0, 10, 14)], DEPTHS, []) == [[]]


def test_nothing_answered() -> None:
    assert supplies_of([], DEPTHS, [Supply(8, 12, 20)]) == []


@pytest.mark.parametrize("start, joined", [(11.0, [0]), (11.5, [])])
def test_a_clock_may_be_an_hour_wrong(start: float, joined: list[int]) -> None:
    """The sensor had answered at 10: what began up to 11 may have brought it. What began later
    while it was still rising would be its own; here it was wettest by then."""
    assert supplies_of([wetting(0, 10, 10.5)], DEPTHS, [Supply(start, 14, 20)]) == [joined]


@pytest.mark.parametrize("ended, joined", [(0.0, []), (9.0, [0])])
def test_water_takes_a_day_to_a_shallow_sensor(ended: float, joined: list[int]) -> None:
    """At 100 mm a day is allowed: not yet risen at 33."""
    found = supplies_of([wetting(0, 34, 36)], DEPTHS, [Supply(-4, ended, 20)])
    assert found == [joined]


def test_and_longer_to_a_deep_one() -> None:
    """At 500 mm three days are allowed."""
    assert supplies_of([wetting(2, 70, 80)], DEPTHS, [Supply(-4, 0, 20)]) == [[0]]


def test_rain_that_falls_on_a_wetting_under_way_adds_to_it() -> None:
    wettings = [wetting(0, 10, 20), wetting(0, 60, 64)]
    supplies = [Supply(8, 12, 20), Supply(15, 18, 5, is_rain=True), Supply(58, 62, 20)]
    assert supplies_of(wettings, DEPTHS, supplies) == [[0, 1], [2]]


def test_what_runs_into_a_new_wetting_is_its_own() -> None:
    """It began while the first sensor was still getting wetter, but a new one began soon."""
    wettings = [wetting(0, 10, 14), wetting(0, 16, 20)]
    assert supplies_of(wettings, DEPTHS, [Supply(8, 9, 20), Supply(13, 17, 20)]) == [[0], [1]]


def test_of_several_that_could_have_brought_it_those_that_ran_up_to_it() -> None:
    """Yesterday's drizzle moved nothing; this morning's set did."""
    supplies = [Supply(-10, -8, 1, is_rain=True), Supply(8, 12, 20)]
    assert supplies_of([wetting(0, 10, 14)], DEPTHS, supplies) == [[1]]


def test_of_several_that_ended_long_before_the_last_one() -> None:
    supplies = [Supply(-10, -8, 10), Supply(-2, 0, 10)]
    assert supplies_of([wetting(0, 10, 14)], DEPTHS, supplies) == [[1]]


def test_pulses_of_one_night_are_all_its_own() -> None:
    supplies = [Supply(0, 1, 4), Supply(3, 4, 4), Supply(6, 7, 4)]
    assert supplies_of([wetting(0, 2, 9)], DEPTHS, supplies) == [[0, 1, 2]]


def test_how_far_what_is_logged_may_be_off() -> None:
    assert math.isclose(Supply(0, 4, 25).sigma_mm, 2.0)
    assert math.isclose(Supply(0, 4, 10, is_rain=True).sigma_mm, 1.5)


def test_rain_of_an_unknown_hour_explains_what_nothing_else_does() -> None:
    """A set at 2:00 and something at 15:00 of a day with rain: the rain was at 15:00."""
    wettings = [wetting(0, 2, 5), wetting(0, 15, 18)]
    rain = Supply(0, 24, 6, is_rain=True, hour_known=False)
    assert supplies_of(wettings, DEPTHS, [rain, Supply(0, 4, 20)]) == [[1], [0]]


def test_rain_of_an_unknown_hour_adds_to_a_set_where_nothing_else_rose() -> None:
    rain = Supply(0, 24, 6, is_rain=True, hour_known=False)
    assert supplies_of([wetting(0, 2, 5)], DEPTHS, [Supply(0, 4, 20), rain]) == [[0, 1]]
