"""Hours that just wet the roots, worked by hand; on simulated fields: `bench/bench_events.py`."""

import math
from dataclasses import replace

import numpy as np
import pytest

from core.events.reach import Reach
from core.events.run_hours import Run, past_mm, run_hours, share_needed

NIGHT_OFF = 1.28 * 0.3  # eight of ten cases, of a spread of 30 %


def run(
    reach: Reach,
    added: list[float] | None = None,
    hours: float = 10.0,
    given: float = 40.0,
    root: float = 400.0,
    drained: float = 0.0,
) -> Run:
    """Sensors at 100, 300, 500 and 800 mm."""
    return Run(
        hours=hours,
        given_mm=given,
        root_mm=root,
        reach=reach,
        top_mm=np.array([0.0, 200.0, 400.0, 650.0]),
        bottom_mm=np.array([200.0, 400.0, 650.0, 950.0]),
        added_mm=np.array(added or [10.0, 10.0, 10.0, 0.0]),
        drained_mm=drained,
    )


DEEP = Reach(650.0, 500.0, 800.0)
SHALLOW = Reach(200.0, 100.0, 300.0)


def test_what_went_past_a_depth() -> None:
    """The third layer's 10 mm lie below 400; of 500 mm, 150 of its 250 mm do, 6 mm; 3 drained."""
    assert past_mm(run(DEEP), 400.0) == pytest.approx(10.0)
    assert past_mm(run(DEEP, drained=3.0), 500.0) == pytest.approx(9.0)
    assert past_mm(run(SHALLOW, drained=3.0), 400.0) == 0.0
    assert past_mm(run(DEEP, [10.0, math.nan, -2.0, math.nan]), 400.0) == 0.0


def test_water_that_went_past_the_roots() -> None:
    """To 650 mm, roots at 400: 400 / 650 of it was enough, not less than 400 / 800; of 40 mm 10
    went past, so surely no more than 30 and what nights may be off."""
    low, likely, high = share_needed(run(DEEP), 400.0)
    assert (low, likely) == pytest.approx((400 / 800, 400 / 650))
    assert high == pytest.approx(1 - 10 / 40 + NIGHT_OFF * 10 / 40)


def test_no_more_than_what_stayed_was_enough() -> None:
    """To 650 mm, roots at 600: by depth 92 %, but 20 of 40 mm went past: half."""
    _, likely, high = share_needed(run(replace(DEEP, low_mm=600.0), [10, 10, 10, 19]), 600.0)
    assert likely == pytest.approx(1 - (2 + 19) / 40)
    assert high < 1.0


def test_water_that_ended_above_the_roots() -> None:
    """To 350 mm, between 300 and 500, roots at 400: 400 / 350, from 400 / 500 to 400 / 300."""
    shares = share_needed(run(Reach(350.0, 300.0, 500.0)), 400.0)
    assert shares == pytest.approx((0.8, 400 / 350, 400 / 300))


@pytest.mark.parametrize("root, known", [(300.0, True), (301.0, False)])
def test_what_deeper_soil_takes_is_told_for_half_as_far(root: float, known: bool) -> None:
    assert math.isfinite(share_needed(run(SHALLOW), root)[2]) is known


def test_a_block_of_which_irrigations_go_too_deep() -> None:
    """Four of 12 h, one of 10: the median of 12 h needs 400 / 650 of it, 7.4 h."""
    runs = [run(DEEP, hours=12.0)] * 4 + [run(DEEP, hours=10.0)]
    told = run_hours(runs, 400.0, (500.0,))
    assert told is not None
    assert told.runs == (0, 1, 2, 3, 4)
    assert (told.habit_hours, told.habit_mm, told.reached_mm) == (12.0, 40.0, 650.0)
    assert told.passed_mm == pytest.approx(10.0)
    now, deeper = told.enough
    assert now.likely == pytest.approx(12 * 400 / 650)
    assert now.low < now.likely < now.high < 12.0
    assert (deeper.root_mm, deeper.likely) == (500.0, pytest.approx(12 * 500 / 650))


def test_the_spread_within_and_between() -> None:
    """Two alike: the range is that of one of them."""
    told = run_hours([run(DEEP)] * 2, 400.0)
    assert told is not None
    (hours,) = told.enough
    low, likely, high = (10 * s for s in share_needed(run(DEEP), 400.0))
    assert (hours.low, hours.likely, hours.high) == pytest.approx((low, likely, high))
    apart = run_hours([run(DEEP), run(DEEP, hours=14.0)], 400.0)
    assert apart is not None
    assert apart.enough[0].high - apart.enough[0].low > 1.2 * (high - low)


def test_only_the_newest_under_roots_like_these() -> None:
    """Roots of 300 are not like 401, but like 400; of seven the newest six tell."""
    young = [run(DEEP, root=300.0)] * 3
    assert run_hours(young, 401.0) is None
    assert run_hours(young, 400.0) is not None
    many = run_hours([run(DEEP)] * 7, 400.0)
    assert many is not None
    assert many.runs == (1, 2, 3, 4, 5, 6)
    fewer = run_hours([run(DEEP)] * 7, 400.0, most=3)
    assert fewer is not None
    assert fewer.runs == (4, 5, 6)


def test_one_irrigation_tells_nothing() -> None:
    assert run_hours([run(DEEP)], 400.0) is None
    assert run_hours([], 400.0) is None


def test_water_past_sensors_that_end_above_the_roots_tells_nothing() -> None:
    beyond = run(Reach(300.0, 300.0, math.inf))
    assert run_hours([beyond] * 3, 400.0) is None


def test_past_the_deepest_sensor_below_the_roots() -> None:
    """All went on below 800 mm, roots at 400: half of it at most; how deep it went is not known."""
    told = run_hours([run(Reach(800.0, 800.0, math.inf), [10, 10, 5, 5])] * 2, 400.0)
    assert told is not None
    assert math.isinf(told.reached_mm)
    assert told.enough[0].likely == pytest.approx(5.0)
    assert told.enough[0].low == pytest.approx(1.0)


def test_no_end_where_none_went_deep_enough() -> None:
    told = run_hours([run(SHALLOW)] * 3, 400.0)
    assert told is not None
    assert math.isinf(told.enough[0].high)
    assert told.enough[0].likely == pytest.approx(20.0)
    assert told.enough[0].low == pytest.approx(10 * 400 / 300)
    mixed = run_hours([run(SHALLOW), run(DEEP), run(DEEP)], 400.0)
    assert mixed is not None
    assert math.isfinite(mixed.enough[0].high)


@pytest.mark.parametrize("changed", [{"hours": 0.0}, {"given": 0.0}])
def test_an_irrigation_of_nothing_tells_nothing(changed: dict[str, float]) -> None:
    assert run_hours([run(DEEP, **changed)] * 3, 400.0) is None
