"""Weather that is missing, impossible or odd; effective rain; atmometers spread over days."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.crop.reference import Surface
from core.weather.atmometer import falls_of_level, spread_over_days
from core.weather.atmosphere import saturation_pressure_kpa, wind_at_2_m
from core.weather.effective_rain import effective_rain
from core.weather.filling import Filled
from core.weather.radiation import daylight_hours, extraterrestrial_day, extraterrestrial_hour
from core.weather.reference_et import EtMethod, daily_et, hourly_et
from core.weather.station import DailyWeather, HourlyWeather, Station

HERE = Station(52.0, 1.0, 10)


def test_a_day_without_temperatures_stays_unknown() -> None:
    weather = DailyWeather([180, 181], [10, np.nan], [24, 25], solar_mj=[22.0, 22.0])
    found = daily_et(weather, HERE).et_mm
    assert found[0] > 3
    assert np.isnan(found[1])


def test_each_gap_is_marked_by_the_day() -> None:
    n = np.nan
    weather = DailyWeather(
        day_of_year=180,
        t_min_c=np.full(5, 11.0),
        t_max_c=np.full(5, 24.0),
        dew_c=[10, n, 10, 10, n],
        solar_mj=[22, 22, n, n, n],
        sunshine_h=[n, n, 9, n, n],
        wind_m_s=[2.5, 2.5, 2.5, n, n],
    )
    found = daily_et(weather, HERE)
    assert found.filled.tolist() == [
        0,
        Filled.HUMIDITY,
        Filled.SUNSHINE,
        Filled.RADIATION | Filled.WIND,
        0,
    ]
    assert found.hargreaves.tolist() == [False, False, False, False, True]


@pytest.mark.parametrize(
    "humidity, as_dew",
    [({"rh_max": 100.0}, 11.0), ({"rh_mean": 50.0}, 7.4), ({"rh_min": 30.0, "rh_max": 90.0}, 9.5)],
)
def test_humidity_by_the_best_that_was_measured(humidity: dict[str, float], as_dew: float) -> None:
    common = {"day_of_year": 180, "t_min_c": 11.0, "t_max_c": 24.0, "solar_mj": 22.0}
    other = daily_et(DailyWeather(**common, wind_m_s=2.0, **humidity), HERE)
    dew = daily_et(DailyWeather(**common, wind_m_s=2.0, dew_c=as_dew), HERE)
    assert other.et_mm == pytest.approx(dew.et_mm, rel=0.06)
    assert other.filled == dew.filled == 0


def test_alfalfa_has_its_own_equation_and_is_never_mixed() -> None:
    weather = DailyWeather(180, 11.0, 27.0, dew_c=10.0, solar_mj=25.0, wind_m_s=3.0)
    tall = daily_et(weather, HERE, Surface.ALFALFA, EtMethod.ASCE).et_mm
    short = daily_et(weather, HERE, Surface.GRASS, EtMethod.ASCE).et_mm
    assert 1.1 < tall / short < 1.5
    for method in (EtMethod.FAO56, EtMethod.HARGREAVES):
        with pytest.raises(ValueError, match="grass"):
            daily_et(weather, HERE, Surface.ALFALFA, method)
    hour = HourlyWeather([180.0], [12.0], [20.0], [1.2], [2.0], [2.0])
    with pytest.raises(ValueError, match="grass"):
        hourly_et(hour, HERE, Surface.ALFALFA)
    with pytest.raises(ValueError, match="hourly"):
        hourly_et(hour, HERE, method=EtMethod.HARGREAVES)


def test_a_station_off_the_earth_is_refused() -> None:
    with pytest.raises(ValueError, match="latitude"):
        Station(91)
    with pytest.raises(ValueError, match="elevation"):
        Station(50, 0, 9000)
    with pytest.raises(ValueError, match="wind"):
        wind_at_2_m(3.0, 0.05)


@given(st.floats(-66, 66), st.floats(-180, 180), st.integers(1, 366))
def test_hours_above_the_air_add_up_to_the_day(lat: float, lon: float, doy: int) -> None:
    hours = extraterrestrial_hour(lat, lon, doy, np.arange(24) + 0.5)
    assert hours.sum() == pytest.approx(extraterrestrial_day(lat, doy), rel=1e-6, abs=1e-6)
    assert np.all(hours >= 0)


def test_polar_days_and_nights() -> None:
    assert daylight_hours(75, 172) == pytest.approx(24)
    assert daylight_hours(75, 355) == pytest.approx(0)
    assert extraterrestrial_day(75, 355) == pytest.approx(0, abs=1e-9)
    night = daily_et(DailyWeather(355, -20.0, -10.0), Station(75))
    assert night.et_mm == pytest.approx(0, abs=0.05)


@given(st.floats(-30, 45), st.floats(0, 25), st.floats(0, 100), st.floats(0, 45), st.floats(0, 30))
def test_et_is_never_negative_nor_absurd(
    low: float, swing: float, rh: float, solar: float, wind: float
) -> None:
    weather = DailyWeather(180, low, low + swing, rh_mean=rh, solar_mj=solar, wind_m_s=wind)
    found = float(daily_et(weather, HERE).et_mm)
    assert 0 <= found < 100


def test_more_wind_in_dry_air_takes_more() -> None:
    weather = DailyWeather(180, 15.0, 32.0, dew_c=5.0, solar_mj=27.0, wind_m_s=[1.0, 2.0, 5.0])
    assert np.all(np.diff(daily_et(weather, HERE).et_mm) > 0)


def test_a_night_takes_the_cloud_of_its_afternoon() -> None:
    hour = np.arange(48) + 0.5
    clear = extraterrestrial_hour(52, 0, 180, hour % 24) * 0.75
    common = (np.full(48, 180.0), hour % 24, np.full(48, 15.0), np.full(48, 1.2))
    wind = np.full(48, 2.0)
    bright = hourly_et(HourlyWeather(*common, clear, wind), Station(52, 0))
    dull = hourly_et(HourlyWeather(*common, clear * 0.4, wind), Station(52, 0))
    at_night = 24 + 1
    assert bright[at_night] < dull[at_night]  # a clear night radiates more away
    unknown = hourly_et(HourlyWeather(*common, np.where(hour < 12, np.nan, clear), wind), HERE)
    assert np.isnan(unknown[:12]).all()
    assert not np.isnan(unknown[13:]).any()
    dark = hourly_et(HourlyWeather([1.0], [0.5], [3.0], [0.7], [0.0], [2.0]), HERE)
    assert abs(dark[0]) < 0.1


def test_effective_rain_by_its_rule() -> None:
    found = effective_rain([0.0, 0.9, 1.1, 60.0], 5.0, intake_mm_h=10.0)
    assert found.infiltrated_mm.tolist() == [0, 0, 1.1, 40.0]
    assert found.runoff_mm.tolist() == [0, 0, 0, 20.0]
    assert np.isnan(effective_rain(np.nan, 5.0).infiltrated_mm)
    with pytest.raises(ValueError, match="negative"):
        effective_rain(-1.0, 5.0)


def test_an_atmometers_week_is_shared_among_its_days() -> None:
    # Read on day 0 at 07:00, on day 7 at 07:00: 35 mm.
    found = spread_over_days([7 / 24], [7 + 7 / 24], [35.0], 8)
    assert np.isnan(found[[0, 7]]).all()
    assert found[1:7] == pytest.approx(np.full(6, 5.0))
    shaped = spread_over_days([0], [4], [20.0], 4, weight=[1, 2, 3, 4])
    assert shaped == pytest.approx([2, 4, 6, 8])
    # A day without a weight: the stretch is shared evenly.
    assert spread_over_days([0], [2], [8.0], 2, weight=[1, np.nan]) == pytest.approx([4, 4])


def test_two_stretches_meet_within_a_day() -> None:
    found = spread_over_days([0, 1.5], [1.5, 3], [6.0, 9.0], 3)
    assert found == pytest.approx([4.0, 5.0, 6.0])
    assert found.sum() == pytest.approx(15)


@pytest.mark.parametrize(
    "start, end, lost, message",
    [([1], [1], [2], "length"), ([0], [1], [-2], "refill"), ([0, 1], [2, 3], [1, 1], "overlap")],
)
def test_impossible_stretches_are_refused(
    start: list[float], end: list[float], lost: list[float], message: str
) -> None:
    with pytest.raises(ValueError, match=message):
        spread_over_days(start, end, lost, 4)


def test_what_a_falling_level_lost() -> None:
    # A refill with the level before and after, a rise from the sun on the tube, one unread.
    day = [0.0, 3.0, 3.01, 5.0, 6.0, 7.0, 8.0]
    level = [100.0, 85.0, 250.0, 240.0, 241.0, np.nan, 232.0]
    start, end, lost = falls_of_level(day, level, longest_days=14)
    assert start.tolist() == [0.0, 3.01, 5.0, 6.0]
    assert end.tolist() == [3.0, 5.0, 6.0, 8.0]
    assert lost == pytest.approx([15.0, 10.0, 0.0, 8.0])
    # A refill that nobody wrote down: the days across it stay unknown; so does a long silence.
    assert falls_of_level([0, 7], [100, 260], 14)[0].size == 0
    assert falls_of_level([0, 20], [100, 40], 14)[0].size == 0
    assert falls_of_level([0], [100], 14)[2].size == 0


def test_saturation_rises_with_temperature() -> None:
    assert np.all(np.diff(saturation_pressure_kpa(np.arange(-30, 50))) > 0)
