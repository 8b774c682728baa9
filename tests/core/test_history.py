"""The past as a line between readings, and limits at any hour."""

from datetime import timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.advice.assess import assess
from core.advice.history import between_readings, history
from core.crop.catalogue import crop, crops
from core.crop.season import CropSeason, Stage, crop_days
from core.limits.in_force import LimitsInForce
from core.limits.refill_method import LimitRule, RefillMethod
from tests.core.blocks import ET, NOW, PROFILE, block, probe, tensiometers


@pytest.mark.parametrize(
    "grid, expected",
    [
        ([-10, -5, -2], [2.0, 4.5, 6.0]),  # straight between two readings
        ([-11, -30], [np.nan, np.nan]),  # nothing before the first
        ([-1, 0.9], [6.0, 6.0]),  # the last is held while it is fresh
        ([2], [np.nan]),
    ],
)
def test_line_between_readings(grid: list[float], expected: list[float]) -> None:
    found = between_readings(
        np.array([-10.0, -2.0]), np.array([2.0, 6.0]), np.array(grid, float), 24
    )
    np.testing.assert_allclose(found, expected)


def test_long_gaps_stay_open_and_readings_in_them_count() -> None:
    hours = np.array([-100.0, -60.0, -10.0])
    value = np.array([1.0, np.nan, 3.0])
    found = between_readings(hours, value, np.array([-100.0, -60.0, -10.0]), 24)
    assert found[0] == 1
    assert np.isnan(found[1])
    assert found[2] == 3
    assert np.isnan(between_readings(hours, value * np.nan, hours, 24)).all()


def test_weekly_rounds_are_joined_and_a_missed_fortnight_is_not() -> None:
    weekly = block(sites=(tensiometers(30, hours=-20),))
    past = assess(weekly).past
    assert past is not None
    between = (past.hours > -66) & (past.hours < -22)
    assert not np.isnan(past.usable_mm[between]).any()


def limits(
    days: int, key: str = "potato", refill_method: RefillMethod = RefillMethod.CROP_P
) -> LimitsInForce:
    season = CropSeason(crop(key), NOW.date() - timedelta(days=days))
    made = LimitsInForce.of(block().assumed.ground(season), NOW, ET.expected)
    return made.under(refill_method)


def test_days_turn_at_local_midnight() -> None:
    # It is 06:10: midnight was 6 h 10 ago and comes in 17 h 50.
    found = limits(40).crop_at([-6.2, -6.1, 0, 17.8, 17.9])
    assert list(found.book_day) == [39, 40, 40, 40, 41]


def test_limits_follow_roots_and_method() -> None:
    growing = limits(40)
    week = growing.at(np.arange(0, 168, 24.0))
    assert np.all(np.diff(week.taw_mm) > 0)
    flat = limits(40, refill_method=RefillMethod.FLAT).at(np.zeros(1))
    assert flat.raw_mm[0] == pytest.approx(0.5 * week.taw_mm[0])
    # The soil is described to 120 cm; walnut would root deeper.
    assert limits(90, "walnut").root_mm_at(0) == PROFILE.depth_mm


def test_history_ends_now_and_covers_the_week() -> None:
    inputs = block()
    past = history(inputs, limits(74), days=7)
    assert past.hours[0] == -168
    assert past.hours[-1] == 0
    assert past.usable_mm.shape == past.hours.shape
    np.testing.assert_allclose(past.usable_mm, past.raw_mm - past.deficit_mm)


@given(key=st.sampled_from(sorted(crops())), day=st.integers(0, 400))
def test_a_season_never_jumps(key: str, day: int) -> None:
    """From one day to the next, roots never shrink and Kc moves by a day's share at most.

    But for the day on which a tree or vine goes dormant, or begins its year anew.
    """
    row = crop(key)
    days = crop_days(row, [day, day + 1])
    anew = days.book_day[1] < days.book_day[0]
    if anew or days.stage[1] == Stage.DORMANT != days.stage[0]:
        assert days.kc[1] == row.kc[0]
        return
    assert days.root_mm[1] >= days.root_mm[0]
    steepest = max(
        abs(row.kc[1] - row.kc[0]) / row.stage_days[1],
        abs(row.kc[2] - row.kc[1]) / row.stage_days[3],
    )
    assert abs(days.kc[1] - days.kc[0]) <= steepest + 1e-9
    assert row.root_initial_mm <= days.root_mm[0] <= row.root_schedule_mm


@given(
    share=st.floats(0.3, 1.3),
    days=st.integers(5, 120),
    rain_room=st.floats(0, 30),
    refill_method=st.sampled_from(list(RefillMethod)),
)
def test_an_answer_is_whole_for_any_state_of_the_block(
    share: float, days: int, rain_room: float, refill_method: RefillMethod
) -> None:
    season = CropSeason(crop("potato"), NOW.date() - timedelta(days=days))
    answer = assess(
        block(
            sites=(probe(1.0, share),),
            season=season,
            rules=(LimitRule(refill_method),),
            rain_room_mm=rain_room,
        )
    )
    assert answer.outlook is not None
    assert answer.deficit_mm is not None
    assert answer.deficit_mm >= 0
    assert 0 <= answer.outlook.days_left_dry <= answer.outlook.days_left
    assert answer.outlook.days_left <= answer.outlook.days_left_wet
    if answer.amount is not None:
        assert answer.start_at is not None
        assert answer.start_at >= NOW
        assert answer.amount.net_mm >= 0
        assert answer.amount.hours == pytest.approx(answer.amount.gross_mm / 4.0)
    for value in (answer.used_share, answer.sigma_mm, answer.etc_mm_day):
        assert value is not None
        assert np.isfinite(value)


def test_what_is_missing_and_above_full_in_a_strip_is_told_over_the_block() -> None:
    """Half of the ground watered: half as much over the block."""
    for share in (0.6, 1.3):
        whole, strip = (
            history(block(sites=(probe(share, share),), wetted_share=part), limits(74))
            for part in (1.0, 0.5)
        )
        for name in ("deficit_mm", "surplus_mm"):
            np.testing.assert_allclose(getattr(strip, name), 0.5 * getattr(whole, name))
    assert np.nanmax(whole.surplus_mm) > 5
