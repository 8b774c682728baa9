"""Days out of hours: sums, extremes and gaps, worked by hand."""

from typing import Any

import numpy as np
import pytest

from core.arrays import Floats
from core.weather.atmosphere import saturation_pressure_kpa
from core.weather.by_hour import MOST_MISSING_HOURS, Samples, days_by_hour
from core.weather.reference_et import daily_et, hourly_et
from core.weather.station import DailyWeather, HourlyWeather, Station

STATION = Station(latitude_deg=45.0, longitude_deg=0.0, elevation_m=100)
# 1 July 2026 in hours since 1970: 20,635 days.
START = 20_635 * 24.0
HOURS = np.arange(24)
WARM = 20 + 8 * np.sin((HOURS - 9) / 24 * 2 * np.pi)
SUN = np.maximum(np.sin((HOURS + 0.5 - 5) / 14 * np.pi), 0) * (np.abs(HOURS + 0.5 - 12) < 7) * 2.4
HUMID = 60 - 20 * np.sin((HOURS - 9) / 24 * 2 * np.pi)
NONE = np.full(24, np.nan)


def samples(step_h: float = 1.0, days: int = 1, start_h: float = START, **changes: Any) -> Samples:
    count = round(24 * days / step_h)
    middle = start_h + (np.arange(count) + 0.5) * step_h
    hour = np.floor((np.arange(count) + 0.5) * step_h).astype(int) % 24
    by_hour = {
        "temperature_c": WARM,
        "dew_c": NONE,
        "rh": HUMID,
        "solar_mj_h": SUN,
        "wind_m_s": np.full(24, 3.0),
        "rain_mm": np.where(HOURS == 3, 1.2, 0.0),
        "et0_mm": NONE,
        **changes,
    }
    values = {name: np.asarray(x, float)[hour] for name, x in by_hour.items()}
    values["rain_mm"] = values["rain_mm"] * step_h
    return Samples(middle_h=middle, **values)


def day(of: Samples, station: Station | None = STATION, **bounds: Any) -> dict[str, float]:
    found = days_by_hour(of, bounds.get("at", np.array([START, START + 24])), station)
    return {name: float(x[0]) for name, x in vars(found).items()}


def by_the_hour() -> Floats:
    vapour = saturation_pressure_kpa(WARM) * HUMID / 100
    hours = HourlyWeather(np.full(24, 182), HOURS + 0.5, WARM, vapour, SUN, np.full(24, 3.0))
    return hourly_et(hours, STATION)


def test_a_day_is_the_sum_of_its_hours() -> None:
    found = day(samples())
    assert found["et0_mm"] == pytest.approx(by_the_hour().sum())
    assert (found["t_min_c"], found["t_max_c"]) == (WARM.min(), WARM.max())
    assert (found["rh_min"], found["rh_max"]) == (HUMID.min(), HUMID.max())
    assert found["solar_mj"] == pytest.approx(SUN.sum())
    assert found["rain_mm"] == pytest.approx(1.2)
    assert found["wind_m_s"] == 3
    assert found["missing"] == 0
    assert not found["as_given"]


def test_it_lies_near_the_daily_equation_and_is_not_it() -> None:
    """ASCE-EWRI (2005) has sums of hours within some percent of daily figures."""
    daily = daily_et(
        DailyWeather(
            np.array([182]),
            np.array([WARM.min()]),
            np.array([WARM.max()]),
            rh_min=np.array([HUMID.min()]),
            rh_max=np.array([HUMID.max()]),
            solar_mj=np.array([SUN.sum()]),
            wind_m_s=np.array([3.0]),
        ),
        STATION,
    ).et_mm[0]
    found = day(samples())["et0_mm"]
    assert found != pytest.approx(daily, abs=0.01)
    assert found == pytest.approx(daily, rel=0.1)


def test_shorter_steps_come_to_the_same() -> None:
    whole, quarter = day(samples()), day(samples(step_h=0.25))
    for name in ("et0_mm", "t_max_c", "solar_mj", "rain_mm", "wind_m_s"):
        assert quarter[name] == pytest.approx(whole[name]), name


def test_dew_point_before_humidity() -> None:
    """A dew point of 10 degrees all day: 1.228 kPa; the humidity beside it is not asked."""
    found = day(samples(dew_c=np.full(24, 10.0)))
    vapour = np.full(24, 1.228)
    hours = HourlyWeather(np.full(24, 182), HOURS + 0.5, WARM, vapour, SUN, np.full(24, 3.0))
    assert found["et0_mm"] == pytest.approx(float(hourly_et(hours, STATION).sum()), abs=0.003)
    assert found["dew_c"] == 10


@pytest.mark.parametrize("name", ["rh", "solar_mj_h", "wind_m_s"])
def test_without_an_instrument_no_hour_has_et(name: str) -> None:
    found = day(samples(**{name: NONE}))
    assert np.isnan(found["et0_mm"])
    assert found["t_max_c"] == WARM.max()


def test_without_a_place_no_et() -> None:
    assert np.isnan(day(samples(), station=None)["et0_mm"])


def test_the_stations_own_hours_come_first() -> None:
    found = day(samples(et0_mm=np.full(24, 0.25)))
    assert found["et0_mm"] == 6
    assert found["as_given"]


def test_two_missing_hours_are_bridged_and_three_are_not() -> None:
    """13:30 and 14:30 lie straight between 12:30 and 15:30."""
    gap = np.isin(HOURS, [13, 14])
    found = day(samples(**{n: np.where(gap, np.nan, x) for n, x in _whole().items()}))
    et = by_the_hour()
    bridged = et[~gap].sum() + et[12] + (et[15] - et[12]) / 3 + et[12] + (et[15] - et[12]) * 2 / 3
    assert found["missing"] == MOST_MISSING_HOURS == 2
    assert found["et0_mm"] == pytest.approx(bridged)
    gap = np.isin(HOURS, [12, 13, 14])
    lost = samples(**{n: np.where(gap, np.nan, x) for n, x in _whole().items()})
    found = day(lost)
    assert np.isnan(found["et0_mm"])
    assert not days_by_hour(lost, np.array([START, START + 24]), STATION).whole[0]


def _whole() -> dict[str, Floats]:
    return {"temperature_c": WARM, "rh": HUMID, "solar_mj_h": SUN, "wind_m_s": np.full(24, 3.0)}


def test_days_of_a_clock_that_stands_half_an_hour_off() -> None:
    """Two days from 18:30 UTC on, as in a zone five and a half hours east."""
    start = START - 5.5
    east = Station(latitude_deg=45.0, longitude_deg=82.5, elevation_m=100)
    found = days_by_hour(
        samples(days=2, start_h=start), np.array([start, start + 24, start + 48]), east
    )
    assert found.missing.tolist() == [0, 0]
    np.testing.assert_allclose(found.rain_mm, [1.2, 1.2])
    assert found.et0_mm[0] == pytest.approx(found.et0_mm[1], rel=0.01)


def test_a_day_of_23_hours_misses_none() -> None:
    """The night that loses an hour to summer time."""
    bounds = np.array([START, START + 23, START + 47])
    found = days_by_hour(samples(days=2), bounds, STATION)
    assert found.missing.tolist() == [0, 0]
