"""Weather entered, imported, worked out to reference ET."""

from typing import Any

import pytest

from server.farms.models import Farm, Role
from server.weather.models import WeatherDay
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
# FAO-56 example 18 (Brussels, 6 July): the sheet's own units turned by its heading.
EXAMPLE_18 = (
    "date,Tmin (°C),Tmax (°C),RH max %,RH min %,wind km/h at 10 m,sunshine h,rain mm\n"
    "2026-07-06,12.3,21.5,84,63,10,9.25,0\n"
)


def sheet(api: Api, text: str, dry_run: bool = True, status: int = 200) -> dict[str, Any]:
    return api.upload(
        f"{BASE}/weather-file", "station.csv", text.encode(), status, dry_run=str(dry_run).lower()
    )


def day(farm: Farm, on: str) -> WeatherDay:
    return WeatherDay.objects.for_farm(farm).get(date=on)


def test_fao_56_example_18_from_a_sheet(manager: Api, farm: Farm) -> None:
    """Example 18: 3.9 mm/day; latitude 50.80 N, 100 m above the sea."""
    manager.put(f"{BASE}/station", {"latitude": 50.8, "longitude": 4.35, "elevation_m": 100})
    before = day(farm, "2026-07-06").et0_mm
    dry = sheet(manager, EXAMPLE_18)
    assert dry["shown"][0]["et0_mm"] == pytest.approx(3.9, abs=0.05)
    assert dry["shown"][0]["wind_m_s"] == pytest.approx(2.078, abs=0.003)
    assert dry["shown"][0]["et_method"] == "Penman-Monteith; radiation from sunshine hours"
    assert not dry["stored"]
    assert day(farm, "2026-07-06").et0_mm == before
    done = sheet(manager, EXAMPLE_18, dry_run=False)
    assert (done["stored"], done["changed"], done["new"]) == (True, 1, 0)
    row = day(farm, "2026-07-06")
    assert row.et0_mm == pytest.approx(3.9, abs=0.05)
    assert row.measured["sunshine_h"] == 9.25
    assert row.source == "station file station.csv"
    again = sheet(manager, EXAMPLE_18, dry_run=False)
    assert (again["changed"], again["unchanged"]) == (0, 1)


def test_units_in_the_heading(manager: Api, farm: Farm) -> None:
    text = "date;T min F;T max F;solar W/m2;rain in\n05.07.2026;50;77;250;0,4\n"
    shown = sheet(manager, text)["shown"][0]
    assert shown["t_min_c"] == pytest.approx(10)
    assert shown["t_max_c"] == pytest.approx(25)
    assert shown["solar_mj"] == pytest.approx(21.6)
    assert shown["rain_mm"] == pytest.approx(10.16)
    assert "wind 2 m/s" in shown["et_method"]


def test_temperatures_alone_go_by_hargreaves(manager: Api) -> None:
    shown = sheet(manager, "date,tmin,tmax\n2026-07-05,12,26\n")["shown"][0]
    assert shown["et_method"] == "Hargreaves-Samani"
    assert shown["et0_mm"] > 2


def test_a_given_et_is_taken_as_it_stands(manager: Api) -> None:
    shown = sheet(manager, "day,ETo mm,rain\n2026-07-05,4.44,\n")["shown"][0]
    assert (shown["et0_mm"], shown["et_method"]) == (4.44, "as given")
    assert shown["rain_mm"] is None


@pytest.mark.parametrize(
    ("text", "row", "column", "said"),
    [
        ("tmin,tmax\n1,2\n", 1, "date", "No column holds the date"),
        ("date,tmin,tmax\nlast Monday,1,2\n", 2, "date", "not a date"),
        ("date,tmin,tmax\n2026-07-05,9,4\n", 2, "t_min_c", "lies above the highest"),
        ("date,tmin,tmax\n2026-07-05,1,two\n", 2, "t_max_c", "not a number"),
        ("date,rain\n2026-07-05,-3\n", 2, "rain_mm", "can't be"),
        ("date,rain\n2026-07-20,3\n", 2, "date", "in the future"),
        ("date,rain\n2026-07-05,3\n2026-07-05,4\n", 3, "date", "row 2 as well"),
        ("date,rain,precip\n2026-07-05,3,3\n", 1, "rain_mm", "Two columns"),
    ],
)
def test_what_is_wrong_is_named(
    manager: Api, farm: Farm, text: str, row: int, column: str, said: str
) -> None:
    before = list(WeatherDay.objects.for_farm(farm).values_list("date", "rain_mm"))
    answer = sheet(manager, text, dry_run=False, status=422)
    problem = answer["problems"][0]
    assert (problem["row"], problem["column"]) == (row, column)
    assert said in problem["message"]
    assert list(WeatherDay.objects.for_farm(farm).values_list("date", "rain_mm")) == before


def test_rain_by_gauge(as_role: Any, farm: Farm) -> None:
    scout = as_role(Role.SCOUT)
    assert scout.put(f"{BASE}/rain/2026-07-12", {"rain_mm": 7.5})["rain_mm"] == 7.5
    row = day(farm, "2026-07-12")
    assert row.et0_mm is not None, "the day's other figures stay"
    assert scout.put(f"{BASE}/rain/2026-07-12", {"rain_mm": None})["rain_mm"] is None
    scout.put(f"{BASE}/rain/2026-07-15", {"rain_mm": 3}, 422)
    as_role(Role.VIEWER).put(f"{BASE}/rain/2026-07-12", {"rain_mm": 3}, 403)
    assert row.history.count() == 2  # type: ignore[attr-defined]


def test_a_day_by_hand_forgets_what_is_left_out(manager: Api, as_role: Any, farm: Farm) -> None:
    made = manager.put(f"{BASE}/weather/2026-07-12", {"t_min_c": 11, "t_max_c": 24})
    assert made["rain_mm"] is None
    assert made["et_method"] == "Hargreaves-Samani"
    manager.put(f"{BASE}/weather/2026-07-14", {"t_min_c": 11, "t_max_c": 24}, 422)
    manager.put(f"{BASE}/weather/2026-07-12", {"t_min_c": 30, "t_max_c": 24}, 422)
    as_role(Role.SCOUT).put(f"{BASE}/weather/2026-07-12", {"t_min_c": 11}, 403)


def test_without_a_station_no_et_is_made_up(manager: Api, farm: Farm) -> None:
    nowhere = {"latitude": None, "longitude": None, "elevation_m": None}
    manager.put(f"{BASE}/station", {**nowhere, "latitude": 50}, 422)
    manager.put(f"{BASE}/station", nowhere)
    made = manager.put(f"{BASE}/weather/2026-07-12", {"t_min_c": 11, "t_max_c": 24})
    assert made["et0_mm"] is None


def test_a_sheet_of_years_is_judged_by_a_worker(manager: Api, run_jobs: Any) -> None:
    rows = "".join(f"2026-{m:02d}-{d:02d},{(d * m) % 9}\n" for m in (4, 5) for d in range(1, 29))
    assert sheet(manager, "date,rain\n" + rows, dry_run=False)["days"] == 56
    assert run_jobs() == ["weather.judge_days"]


def test_the_page_shows_record_and_forecast(manager: Api, stranger: Api) -> None:
    found = manager.get(f"{BASE}/weather?days=20")
    assert len(found["days"]) == 20
    assert found["days"][0]["date"] == "2026-07-13"
    assert len(found["ahead"]) == 10
    ahead = found["ahead"][3]
    assert ahead["et0_low_mm"] <= ahead["et0_mm"] <= ahead["et0_high_mm"]
    stranger.get(f"{BASE}/weather", 404)
