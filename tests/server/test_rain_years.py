"""Rain of the years: entered, read from a file, taken from the farm's weather."""

from datetime import date, timedelta
from typing import Any

import pytest

from server.farms.models import Farm, Role
from server.siting.models import RainYear
from server.weather.models import WeatherDay
from tests.server.conftest import Api
from tests.server.siting_bench import BASE, Bench, siting_bench, yield_table  # noqa: F401

PATH = f"{BASE}/rain-years"


def stored(farm: Farm) -> dict[int, float]:
    return dict(RainYear.objects.for_farm(farm).values_list("year", "rain_mm"))


def years(*told: tuple[int, float]) -> dict[str, Any]:
    return {"years": [{"year": y, "rain_mm": mm} for y, mm in told]}


def test_rain_is_entered_changed_and_forgotten(manager: Api, farm: Farm) -> None:
    before = {y["year"] for y in manager.get(PATH)}
    found = manager.put(PATH, years((1999, 310), (2001, 95.5)))
    assert {y["year"] for y in found} == before | {1999, 2001}
    assert [y["year"] for y in found] == sorted((y["year"] for y in found), reverse=True)
    manager.put(PATH, years((1999, 320)))
    assert stored(farm) == {1999: 320}


@pytest.mark.parametrize(
    "told", [years((1999, 1), (1999, 2)), years((1900, 1)), years((1999, -1)), years((1999, 3e4))]
)
def test_rain_that_can_not_be(manager: Api, farm: Farm, told: Any) -> None:
    manager.put(PATH, told, status=422)
    assert stored(farm) == {}


def test_a_scout_enters_no_rain(as_role: Any) -> None:
    scout = as_role(Role.SCOUT)
    scout.put(PATH, years((1999, 1)), status=403)
    scout.upload(f"{PATH}/file", "rain.csv", b"year,rain mm\n1999,300\n", status=403)


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("year,rain mm\n2021,310\n2022,402.5\n", {2021: 310, 2022: 402.5}),
        ("Season;Rainfall (in)\n2021;10\n", {2021: 254}),
        ("Jahr;Niederschlag mm\n2021;310,5\n", {2021: 310.5}),
        ("note\tprecip\tyear\nx\t12\t2020\n", {2020: 12}),
    ],
)
def test_a_table_of_years_is_read_and_added(
    manager: Api, farm: Farm, text: str, expected: dict[int, float]
) -> None:
    manager.put(PATH, years((1999, 320)))
    read = manager.upload(f"{PATH}/file", "rain.csv", text.encode())
    assert {y["year"]: y["rain_mm"] for y in read["years"]} == expected
    assert (read["saved"], stored(farm)) == (False, {1999: 320})
    manager.upload(f"{PATH}/file", "rain.csv", text.encode(), dry_run=False)
    assert stored(farm) == {1999: 320} | expected


@pytest.mark.parametrize(
    ("text", "row", "column"),
    [
        ("year,rain mm\n2021,310\n2021,402\n", 3, "year"),
        ("year,rain mm\n2021,\n", 2, "rain mm"),
        ("year,rain mm\nlast,310\n", 2, "year"),
        ("year,rain mm\n2021.5,310\n", 2, "year"),
        ("day,temperature\n2021,310\n", 1, "year"),
        ("year,temperature\n2021,310\n", 1, "rain"),
        ("year,rain mm\n2021,99999\n", 2, "rain mm"),
    ],
)
def test_a_table_with_a_fault_says_where(
    manager: Api, farm: Farm, text: str, row: int, column: str
) -> None:
    refused = manager.upload(f"{PATH}/file", "rain.csv", text.encode(), status=422, dry_run=False)
    assert (refused["problems"][0]["row"], refused["problems"][0]["column"]) == (row, column)
    assert stored(farm) == {}


def test_a_year_is_dry_by_the_rain_entered_for_it(bench: Bench, farm: Farm) -> None:
    """The harvest's own rain comes first, then the year's, then the farm's weather."""
    for year in (2021, 2022, 2023):
        bench.store(bench.upload(yield_table(), f"maize {year}.csv"))
    assert {layer["year_kind"] for layer in bench.siting()["layers"]} == {"unknown"}
    WeatherDay.objects.for_farm(farm).filter(date__year=2023).delete()
    for day in range(300):
        WeatherDay(farm=farm, date=date(2023, 1, 1) + timedelta(days=day), rain_mm=1.0).save()
    bench.api.put(PATH, years((2021, 200), (2022, 400), (2023, 300)))
    kinds = [layer["year_kind"] for layer in bench.siting()["layers"]]
    assert kinds == ["dry", "wet", "usual"]
    bench.api.put(PATH, years((2021, 200), (2022, 400)))
    assert [layer["year_kind"] for layer in bench.siting()["layers"]] == kinds
    assert {y["year"]: y["weather_mm"] for y in bench.api.get(PATH)}[2023] == 300
    first = bench.siting()["layers"][0]
    bench.api.put(f"{BASE}/siting-layers/{first['id']}", {"rain_mm": 900})
    assert bench.siting()["layers"][0]["year_kind"] == "wet"


def test_other_years_with_rain_are_compared_with(bench: Bench) -> None:
    """Two harvests make no usual year; the rain of years without a harvest does."""
    for year in (2021, 2023):
        bench.store(bench.upload(yield_table(), f"maize {year}.csv"))
    bench.api.put(PATH, years((2021, 361), (2022, 249), (2023, 180), (2024, 328)))
    # Mean 279.5 mm: 361 is 29 % more, 180 is 36 % less.
    layers = bench.siting()["layers"]
    assert [layer["year_kind"] for layer in layers] == ["wet", "dry"]
    # A harvest's own rain may be of other months than a year's.
    bench.api.put(f"{BASE}/siting-layers/{layers[0]['id']}", {"rain_mm": 361})
    assert {layer["year_kind"] for layer in bench.siting()["layers"]} == {"unknown"}
