"""The last irrigation by hand, and what the tables of the trade have."""

from dataclasses import replace
from itertools import pairwise

import numpy as np
import pytest

from core.finish.last_irrigation import (
    LeftOfSeason,
    ReserveMethod,
    finish,
    reserve_mm,
)
from core.finish.to_maturity import table_to_maturity

INCH = 25.4
# 4 ft of roots at 2.0 in/ft.
TAW = 8.0 * INCH


def left(available: float, need: float, days: int = 15, courses: int = 10) -> LeftOfSeason:
    """No rain; the need spread evenly over the days."""
    return LeftOfSeason(
        available_mm=np.full(courses, available),
        taw_mm=np.full(courses, TAW),
        raw_mm=0.5 * TAW,
        reserve_mm=0.0,
        use_mm=np.full((courses, days), need / max(days, 1)),
        rain_mm=np.zeros((courses, days)),
        planned_mm=np.zeros(days),
        smallest_mm=20.0,
        largest_mm=50.0,
    )


def test_enough_to_spare_is_finished() -> None:
    """Common practice, no source: 4 ft x 2.0 in/ft at 70 % with 3.75 in still needed leaves 1.85
    in; the same at 45 % is 0.15 in short."""
    found = finish(left(0.70 * TAW, 3.75 * INCH))
    assert found.spare_mm == pytest.approx(1.85 * INCH)
    assert (found.finished, found.short, found.more) == (True, 0.0, ())
    found = finish(left(0.45 * TAW, 3.75 * INCH))
    assert found.spare_mm == pytest.approx(-0.15 * INCH)
    assert (found.finished, found.short, found.short_after) == (False, 1.0, 0.0)
    # Less than the system can bring is not brought, and below refill nobody waits.
    (one,) = found.more
    assert (one.net_mm, one.first_day, one.last_day) == (20.0, 0, 0)


def test_a_reserve_is_left_at_the_end() -> None:
    """40 % of 8 in are 3.2: of 5.6 in 2.4 are usable, 1.35 less than 3.75 in."""
    assert reserve_mm(ReserveMethod.ALL, TAW) == 0.0
    assert reserve_mm(ReserveMethod.RESERVE, TAW) == pytest.approx(3.2 * INCH)
    found = finish(replace(left(0.70 * TAW, 3.75 * INCH), reserve_mm=3.2 * INCH))
    assert found.usable_mm == pytest.approx(2.4 * INCH)
    assert found.spare_mm == pytest.approx(-1.35 * INCH)
    (one,) = found.more
    assert one.net_mm == pytest.approx(1.35 * INCH)
    # 6.35 mm a day: from 142.24 mm to refill at 101.6 there are 6.4 days, so six end above it. Room
    # for it there is from the start: 176.5 of 203.2 mm.
    assert (one.first_day, one.last_day) == (0, 5)


def test_room_is_waited_for() -> None:
    """195 of 203.2 mm: 40 mm fit in once 31.8 are gone, at 10 mm a day at the end of the fourth; at
    refill it is after nine days and a bit."""
    full = replace(left(195.0, 235.0, days=24), use_mm=np.full((10, 24), 235.0 / 24))
    (one,) = finish(full).more
    assert one.net_mm == pytest.approx(40.0)
    assert (one.first_day, one.last_day) == (4, 8)


def test_several_where_one_can_not_bring_it() -> None:
    """60 mm short, at most 50 at a time: two of 30. Use is 8 mm a day: the first at the latest on
    day 7 (60 mm to refill), the second 3.75 days later."""
    dry = left(TAW / 2 + 60.0, TAW / 2 + 120.0)
    dry = replace(
        dry,
        use_mm=np.full((10, 28), (TAW / 2 + 120.0) / 28),
        rain_mm=np.zeros((10, 28)),
        planned_mm=np.zeros(28),
    )
    found = finish(dry)
    assert [one.net_mm for one in found.more] == [pytest.approx(30.0)] * 2
    daily = (TAW / 2 + 120.0) / 28
    assert [one.last_day for one in found.more] == [int(60 / daily) - 1, int(90 / daily) - 1]
    # There is room for the first from today on, for the second from the day after the first.
    assert [one.first_day for one in found.more] == [0, found.more[0].last_day + 1]
    assert found.short_after == 0.0


def test_no_more_courses_run_short_than_the_chance_allows() -> None:
    """Courses apart by a fifth in what they use, in three times what the roots hold: whatever
    number it takes, each after the one before it."""
    use = 8.0 * np.linspace(0.8, 1.2, 40)[:, None] * np.ones(40)
    most = np.full(40, 60.0)
    none = np.zeros((40, 40))
    apart = LeftOfSeason(0.6 * most, most, 33.0, 0.0, use, none, none[0], 0.0, 33.0)
    found = finish(apart, 0.9)
    assert found.short == 1.0
    assert found.short_after <= 0.1
    days = [(one.first_day, one.last_day) for one in found.more]
    assert all(first <= last for first, last in days)
    assert all(before[1] < after[0] for before, after in pairwise(days))
    assert all(0.0 < one.net_mm <= 33.0 for one in found.more)


def test_what_is_planned_counts_on_its_day() -> None:
    """30 mm short of 150 mm need in 15 days: 30 mm planned on the sixth day are enough; on the last
    one they come too late to keep a reserve of 20 mm."""
    short = left(120.0, 150.0)
    planned = np.zeros(15)
    planned[5] = 30.0
    found = finish(replace(short, planned_mm=planned))
    assert (found.finished, found.planned_mm) == (True, 30.0)
    assert found.spare_mm == pytest.approx(0.0)
    reserve = replace(short, available_mm=np.full(10, 140.0), reserve_mm=20.0)
    assert finish(replace(reserve, planned_mm=planned)).finished
    assert not finish(replace(reserve, planned_mm=np.roll(planned, 9))).finished


def test_past_its_sensitive_stages_it_is_given_when_refill_is_expected() -> None:
    """101.6 mm to the limit and 203.2 to nothing. Nine courses use 7 to 11 mm a day, one 21: nine
    tenths are above the limit for 101.6 / 11 = 9 days, half of them for 101.6 / 9 = 11. Of 130 mm
    in reserve, that only one in ten may touch, the second is at after 73.2 / 11 = 6 days."""
    use = np.array([7.0, 7.5, 8.0, 8.5, 9.0, 9.5, 10.0, 10.5, 11.0, 21.0])[:, None] * np.ones(28)
    dry = replace(left(TAW, 252.0, days=28), use_mm=use, rain_mm=0 * use, planned_mm=np.zeros(28))
    waits = replace(dry, may_wait=True)
    assert [finish(x, 0.9).more[0].last_day for x in (dry, waits)] == [8, 10]
    assert finish(replace(waits, reserve_mm=130.0), 0.9).more[0].last_day == 5


def test_a_chance_is_a_share_of_the_courses() -> None:
    """Ten courses that need 100, 110 … 190 mm of 150: four run short. At 60 % it is finished, at
    90 % the ninth counts: 30 mm; one course runs 10 mm short after that."""
    ten = left(150.0, 100.0)
    need = 100.0 + 10.0 * np.arange(10)
    ten = replace(ten, use_mm=need[:, None] / 15 * np.ones(15))
    assert finish(ten, 0.6).finished
    found = finish(ten, 0.9)
    assert (found.need_mm, found.spare_mm) == (pytest.approx(180.0), pytest.approx(-30.0))
    assert (found.short, found.short_mm) == (0.4, pytest.approx(10.0))
    assert [one.net_mm for one in found.more] == [pytest.approx(30.0)]
    assert (found.short_after, found.short_after_mm) == (0.1, pytest.approx(1.0))


def test_rain_counts_at_its_chance_and_not_above_full() -> None:
    """Half of the courses bring 60 mm on the third day: at 90 % none of it counts; at 40 % all, but
    what the roots can't hold."""
    rain = np.zeros((10, 15))
    rain[5:, 2] = 60.0
    half = replace(left(120.0, 150.0), rain_mm=rain)
    assert finish(half, 0.9).rain_mm == 0.0
    assert finish(half, 0.9).spare_mm == pytest.approx(-30.0)
    assert finish(half, 0.4).rain_mm == 60.0
    assert finish(half, 0.4).finished
    brimming = replace(half, available_mm=np.full(10, TAW), rain_mm=np.full((10, 15), 100.0))
    assert finish(brimming).finished


def test_what_is_known_of_the_store_counts_too() -> None:
    """One course in two begins 20 mm drier: the drier ones decide at 90 %."""
    unsure = replace(left(100.0, 110.0), available_mm=np.repeat([100.0, 80.0], 5))
    found = finish(unsure)
    assert found.spare_mm == pytest.approx(-30.0)
    # A drier one, whose figures add up: 80 less 110.
    assert (found.usable_mm, found.need_mm) == (pytest.approx(80.0), pytest.approx(110.0))


@pytest.mark.parametrize("chance", [0.0, 1.0, -0.1, float("nan")])
def test_no_chance(chance: float) -> None:
    with pytest.raises(ValueError, match="chance"):
        finish(left(100.0, 50.0), chance)


def test_nothing_is_brought_by_nothing() -> None:
    with pytest.raises(ValueError, match="some water"):
        finish(replace(left(10.0, 50.0), largest_mm=0.0))


def test_ripe_is_finished() -> None:
    assert finish(left(0.0, 0.0, days=0)).finished


@pytest.mark.parametrize(
    ("crop", "place", "days", "use"),
    [
        # Extension tables of the last irrigation, from memory.
        ("maize-grain", 2.8, 34, 190),
        ("maize-grain", 3.0, 24, 127),
        ("maize-grain", 3.5, 13, 57),
        ("maize-grain", 3.375, 16, 76),
        ("maize-grain", 4.0, 0, 0),
        ("soybean", 2.65, 29, 165),
        ("sorghum", 3.2, 12, 51),
    ],
)
def test_tables_to_maturity(crop: str, place: float, days: float, use: float) -> None:
    found = table_to_maturity(crop, place)
    assert found is not None
    assert (found.days, found.use_mm) == (pytest.approx(days), pytest.approx(use))
    assert "from memory" in found.source


def test_no_table_no_figure() -> None:
    assert table_to_maturity("tomato", 3.0) is None
    assert table_to_maturity("maize-grain", 2.0) is None
