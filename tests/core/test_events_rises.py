"""Rises of single channels: what counts as one, when the water came, and what is looked past."""

import numpy as np
import pytest

from core.events.noise import LEAST_RISE, Measure, night_noise
from core.events.rises import Channels, Rises, find_rises
from core.quality.series import Series


def found(
    hours: list[float] | np.ndarray,
    value: list[float] | np.ndarray,
    measure: Measure = Measure.THETA,
    noise: float = float("nan"),
) -> Rises:
    series = Series.of(np.zeros(len(value), int), hours, value)
    return find_rises(series, Channels.of([measure], np.array([noise])))


def places(rises: Rises) -> list[tuple[int, int, int]]:
    return list(zip(rises.before.tolist(), rises.after.tolist(), rises.peak.tolist(), strict=True))


HOURS = np.arange(48.0)


def step(at: int = 10, by: float = 0.03, width: int = 48) -> np.ndarray:
    """Dry at 0.20, wetter for so long from an hour on."""
    x = np.full(48, 0.20)
    x[at : at + width] += by
    return x


def test_a_step_arrives_between_two_readings() -> None:
    assert places(found(HOURS, step())) == [(9, 10, 10)]


@pytest.mark.parametrize(
    "by, rises", [(LEAST_RISE[Measure.THETA] - 1e-6, 0), (LEAST_RISE[Measure.THETA] + 1e-6, 1)]
)
def test_the_least_rise(by: float, rises: int) -> None:
    assert len(places(found(HOURS, step(by=by)))) == rises


def test_noise_of_the_channel_raises_the_least_rise() -> None:
    """Three spreads of 0.011 are 0.033: a step of 0.03 is none, one of 0.04 is."""
    assert places(found(HOURS, step(by=0.03), noise=0.011)) == []
    assert places(found(HOURS, step(by=0.04), noise=0.011)) == [(9, 10, 10)]


def test_noise_of_a_tension_is_a_share_of_it() -> None:
    """A tenth of 60 kPa is 6, three of them 18: a fall of 15 is none. Of 20 kPa it is 6: it is."""
    dry, moist = np.full(48, 60.0), np.full(48, 20.0)
    dry[10:] -= 15
    moist[10:] -= 15
    assert places(found(HOURS, dry, Measure.TENSION, 0.1)) == []
    assert places(found(HOURS, moist, Measure.TENSION, 0.1)) == [(9, 10, 10)]


def test_soil_gets_wetter_as_tension_falls() -> None:
    falling = np.full(48, 30.0)
    falling[10:] = 26.5
    rising = np.full(48, 30.0)
    rising[10:] = 70.0
    assert places(found(HOURS, falling, Measure.TENSION)) == [(9, 10, 10)]
    assert places(found(HOURS, rising, Measure.TENSION)) == []


def test_a_lone_wild_reading_is_looked_past() -> None:
    assert places(found(HOURS, step(width=1))) == []
    assert places(found(HOURS, step(width=2))) == [(9, 10, 10)]


def test_with_few_readings_none_is_looked_past_and_the_range_is_wide() -> None:
    """Once a day, a single wet reading is all there is: the water came within that day."""
    hours = np.arange(6) * 24.0
    rises = found(hours, [0.2, 0.2, 0.24, 0.21, 0.2, 0.2])
    assert places(rises) == [(1, 2, 2)]
    assert hours[rises.before[0]] == 24.0
    assert hours[rises.after[0]] == 48.0


def test_slow_seepage_is_no_rise_within_hours() -> None:
    """0.001 an hour makes 0.009 in nine hours; 0.0012 makes 0.0108."""
    assert places(found(HOURS, 0.2 + 0.001 * HOURS)) == []
    assert len(places(found(HOURS, 0.2 + 0.0012 * HOURS))) == 1


def test_the_wettest_reading_ends_it_and_a_new_one_may_begin() -> None:
    x = step(at=10, by=0.04, width=5)
    x[15:30] = 0.205
    x[30:] = 0.25
    assert places(found(HOURS, x)) == [(9, 10, 10), (29, 30, 30)]


def test_arrival_is_after_the_last_reading_that_had_not_moved() -> None:
    """A third of the least rise, 0.0033, is no arrival yet: 0.202 at 9:00 is, 0.206 would be."""
    x = step(by=0.04)
    x[9] = 0.202
    assert places(found(HOURS, x)) == [(9, 10, 10)]
    x[9] = 0.206
    assert places(found(HOURS, x)) == [(8, 9, 10)]


def test_a_dip_after_the_wettest_reading_counts_for_the_next_rise() -> None:
    """0.25, a dip to 0.2405 that is no end of it, then 0.249 until nine hours are over: 0.2506 is
    0.0101 above the dip."""
    x = step(by=0.05)
    x[12], x[13:20], x[20:] = 0.2405, 0.249, 0.2506
    assert places(found(HOURS, np.repeat(x, 1)))[0] == (9, 10, 10)
    rises = found(np.arange(96.0) / 2, np.repeat(x, 2))
    assert len(places(rises)) == 2


def test_water_while_nothing_was_read() -> None:
    """A gap of two days: it came within the gap. After eleven days nobody can say when."""
    hours = np.array([0.0, 1, 2, 3, 51, 52, 53])
    x = [0.2, 0.2, 0.2, 0.2, 0.25, 0.25, 0.25]
    assert places(found(hours, x)) == [(3, 4, 4)]
    hours[4:] += 9 * 24
    assert places(found(hours, x)) == []


def test_a_broken_off_rise_is_not_over() -> None:
    """Over once the soil falls, or nine hours after it last got wetter."""
    ends = found(HOURS[:12], step()[:12])
    assert places(ends) == [(9, 10, 10)]
    assert not ends.is_over[0]
    assert found(HOURS[:21], step()[:21]).is_over[0]


def test_each_channel_by_itself() -> None:
    series = Series.of(
        np.repeat([0, 1, 2], 48), np.tile(HOURS, 3), np.r_[step(), step(by=0.0), step(20)]
    )
    rises = find_rises(series, Channels.of([Measure.THETA] * 3, np.full(3, np.nan)))
    assert rises.channel.tolist() == [0, 2]
    assert places(rises) == [(9, 10, 10), (96 + 19, 96 + 20, 96 + 20)]


def test_no_readings_at_all() -> None:
    series = Series.of(np.empty(0, int), [], [])
    assert find_rises(series, Channels.of([Measure.THETA], np.array([np.nan]))).channel.size == 0


def test_noise_is_that_of_nights() -> None:
    """Normal noise of 0.001 at night makes steps of sqrt(2) times that; 0.1 by day is not seen."""
    hours = np.arange(0, 2400.0, 0.5)
    night = (hours % 24 >= 22) | (hours % 24 < 5)
    x = 0.2 + np.random.default_rng(1).normal(0, 1, hours.size) * np.where(night, 0.001, 0.1)
    series = Series.of(np.zeros(hours.size, int), hours, x)
    noise = night_noise(series, hours % 24, np.array([False]))
    assert noise == pytest.approx([2**0.5 * 0.001], rel=0.1)


def test_noise_of_a_tension_as_a_share() -> None:
    hours = np.arange(0, 2400.0, 0.5)
    level = np.where(hours < 1200, 20.0, 80.0)
    x = level * (1 + np.random.default_rng(2).normal(0, 0.01, hours.size))
    series = Series.of(np.zeros(hours.size, int), hours, x)
    noise = night_noise(series, hours % 24, np.array([True]))
    assert noise == pytest.approx([2**0.5 * 0.01], rel=0.1)


def test_a_few_steps_tell_no_noise() -> None:
    hours = np.arange(0.0, 5.0, 0.25)
    series = Series.of(np.zeros(hours.size, int), hours, 0.2 + 0.001 * (hours % 0.5))
    assert np.isnan(night_noise(series, hours, np.array([False])))[0]


def test_noise_is_unknown_where_nights_are_not_read() -> None:
    hours = np.arange(0, 720.0, 12.0)
    series = Series.of(np.zeros(hours.size, int), hours, np.full(hours.size, 0.2))
    assert np.isnan(night_noise(series, hours % 24, np.array([False])))[0]
