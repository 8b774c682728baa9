"""Weather entered, imported, worked out to reference ET."""

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest

from server.blocks.models import Block
from server.farms.models import Farm, Role
from server.weather import days
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
        ("date,tmin,tmax\n2026-07-05,9,4\n", 2, "tmin", "is above the highest"),
        ("date,tmin,tmax\n2026-07-05,1,two\n", 2, "tmax", "not a number"),
        ("date,rain\n2026-07-05,-3\n", 2, "rain", "not possible"),
        ("date,rain\n2026-07-20,3\n", 2, "date", "in the future"),
        ("date,rain\n2026-07-05,3\n2026-07-05,4\n", 3, "date", "row 2 as well"),
        ("date,rain,precip\n2026-07-05,3,3\n", 1, "precip", "Two columns"),
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


def test_rain_on_a_large_farm_is_judged_by_a_worker(
    manager: Api, run_jobs: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    manager.put(f"{BASE}/rain/2026-07-12", {"rain_mm": 7.5})
    assert run_jobs() == []
    monkeypatch.setattr(days, "AT_ONCE_CHANNEL_DAYS", 50)
    manager.put(f"{BASE}/rain/2026-07-12", {"rain_mm": 2})
    assert run_jobs() == ["weather.judge_days"]


def test_the_page_shows_record_and_forecast(manager: Api, stranger: Api) -> None:
    found = manager.get(f"{BASE}/weather?days=20")
    assert len(found["days"]) == 20
    assert found["days"][0]["date"] == "2026-07-13"
    assert len(found["ahead"]) == 10
    ahead = found["ahead"][3]
    assert ahead["et0_low_mm"] <= ahead["et0_mm"] <= ahead["et0_high_mm"]
    stranger.get(f"{BASE}/weather", 404)


def hours(first: str, count: int = 48, leave_out: tuple[int, ...] = ()) -> str:
    """A sheet of hours, stamped at their end; the sun is up from six to eighteen."""
    rows = ["date;time;air temp C;RH %;wind m/s;solar W/m2;rain mm"]
    start = datetime.fromisoformat(f"{first}T00:00")
    for k in range(count):
        if k in leave_out:
            continue
        end = start + timedelta(hours=k + 1)
        sun = 600 if 6 <= k % 24 < 18 else 0
        rain = 2.5 if k == 24 else 0
        rows.append(f"{end:%d.%m.%Y};{end:%H:%M};{15 + (k % 24) * 0.5:.1f};50;3;{sun};{rain}")
    return "\n".join(rows) + "\n"


def test_hours_of_a_station(manager: Api, farm: Farm) -> None:
    """Whole days, ET summed over their hours; midnight's row ends the day before it."""
    manager.put(f"{BASE}/station", {"latitude": 45, "longitude": 10, "elevation_m": 100})
    found = sheet(manager, hours("2026-07-03"), dry_run=False)
    assert (found["step_minutes"], found["days"], found["incomplete"]) == (60, 2, [])
    assert found["columns"] == [
        "date", "time", "air temp C", "RH %", "wind m/s", "solar W/m2", "rain mm",
    ]  # fmt: skip
    first, second = found["shown"]
    assert (first["date"], second["date"]) == ("2026-07-03", "2026-07-04")
    assert (first["t_min_c"], first["t_max_c"]) == (15, 26.5)
    assert (first["rain_mm"], second["rain_mm"]) == (0, 2.5)
    # 12 h of 600 W/m2 are 25.92 MJ/m2.
    assert first["solar_mj"] == pytest.approx(25.92)
    assert first["et_method"] == "Penman-Monteith by the hour"
    assert 4 < first["et0_mm"] < 8
    row = day(farm, "2026-07-03")
    assert row.et_method == "Penman-Monteith by the hour"
    assert row.measured["wind_m_s"] == 3


def test_what_the_times_mark_can_be_said(manager: Api) -> None:
    """By their start the last row of the sheet begins a third day, which is not whole."""
    found = manager.upload(
        f"{BASE}/weather-file", "h.csv", hours("2026-07-03").encode(), 200, stamp="start"
    )
    assert [d["date"] for d in found["shown"]] == ["2026-07-03", "2026-07-04"]
    assert found["incomplete"] == ["2026-07-05"]
    assert found["shown"][1]["rain_mm"] == 2.5


def test_days_that_lack_hours_are_named(manager: Api) -> None:
    found = sheet(manager, hours("2026-07-03", leave_out=(30, 31, 32)))
    assert [d["date"] for d in found["shown"]] == ["2026-07-03"]
    assert found["incomplete"] == ["2026-07-04"]
    short = sheet(manager, hours("2026-07-03", leave_out=(30, 31)))
    assert short["days"] == 2


def test_wrong_hours_are_named(manager: Api) -> None:
    text = hours("2026-07-03").replace("03.07.2026;05:00;17.0;50", "03.07.2026;05:00;170;50")
    problem = sheet(manager, text, status=422)["problems"][0]
    assert (problem["row"], problem["column"]) == (6, "air temp C")
    assert "170 is not possible" in problem["message"]
    again = hours("2026-07-03").replace("03.07.2026;06:00", "03.07.2026;05:00")
    assert "another row" in sheet(manager, again, status=422)["problems"][0]["message"]
    later = hours("2026-07-13", count=72)
    assert "is in the future" in sheet(manager, later, status=422)["problems"][0]["message"]
    assert "complete day" in sheet(manager, hours("2026-07-03", count=12), status=422)["message"]


def test_hours_of_the_night_that_summer_time_begins(manager: Api) -> None:
    """What the farm's clock skipped is named; written with its offset it is taken."""
    assert (
        "does not exist"
        in sheet(manager, hours("2026-03-28"), status=422)["problems"][0]["message"]
    )
    rows = ["time,temp C,rain mm"]
    start = datetime(2026, 3, 28, 23, tzinfo=UTC)
    rows += [f"{start + timedelta(hours=k + 1):%Y-%m-%dT%H:%M}Z,10,0.1" for k in range(23)]
    found = sheet(manager, "\n".join(rows))
    assert (found["days"], found["incomplete"]) == (1, [])
    assert found["shown"][0]["date"] == "2026-03-29"
    assert found["shown"][0]["rain_mm"] == pytest.approx(2.3)


def test_wind_and_humidity_move_kc(manager: Api, block: Block) -> None:
    """A month of 4 m/s and 25 percent: a grown crop uses more than the book has it."""
    rows = ["date,tmin C,tmax C,rh min,rh max,wind m/s"]
    first = datetime(2026, 6, 10)
    rows += [f"{first + timedelta(days=k):%Y-%m-%d},14,30,25,80,4" for k in range(34)]
    before = kc_steps(manager, block.pk)
    assert "kc_climate" not in before
    sheet(manager, "\n".join(rows), dry_run=False)
    after = kc_steps(manager, block.pk)
    step = after["kc_climate"]
    terms = {t["symbol"]: t["value"] for t in step["terms"]}
    assert (terms["u2"], terms["RH"]) == (4, 25)
    # (0.04 x 2 + 0.004 x 20) x (h / 3) ^ 0.3
    assert step["value"] == pytest.approx(0.16 * (terms["h"] / 3) ** 0.3)
    assert after["kc"]["value"] > before["kc"]["value"]


def kc_steps(api: Api, block_id: int) -> dict[str, Any]:
    detail = api.get(f"{BASE}/blocks/{block_id}")
    return {s["key"]: s for s in detail["steps"]}
