"""The rest of the season beside the run sheet: latest starts, and a licence over its blocks."""

from typing import Any

import pytest

from server.farms.models import Farm
from server.weather.models import WeatherDay
from tests.server.conftest import Api
from tests.server.plan.conftest import SHEET, Jobs


def test_the_rest_of_the_season(planned: dict[str, Any], manager: Api, farm: Farm) -> None:
    """By when each source must begin; the bore's licence over its blocks, by hand from its own
    figures: what is given and what is lacking come to what is needed."""
    found = manager.get(f"{SHEET}/season")
    season = found["season"]
    assert season["years"] == 40
    of = {s["name"]: s for s in season["sources"]}
    assert set(of) == {"North bore", "River pump", "Hill tank", "Head ditch", "Carr sluice"}
    names = {b["id"]: b["name"] for b in found["blocks"]}
    for source in of.values():
        begin = source["begin_by"]
        assert 0 <= begin["kept"] <= 1
        if begin["on"] is not None:
            assert begin["kept"] >= 0.8
            assert begin["on"] >= season["from_on"]
        assert {names[b] for b in begin["never"]} <= set(names.values())
    licence = of["North bore"]["licence"]
    assert of["River pump"]["licence"] is None
    assert 0 < licence["left_m3"] < 260_000
    need = licence["need_m3"]
    assert 0 < need["low"] <= need["middle"] <= need["high"]
    for share in licence["shares"]:
        assert share["given_mm"] + share["lacking_mm"] >= share["need_mm"] - 0.2
    # What is left of enough water is what is not needed.
    if licence["worth_1000_m3"] == 0:
        unused = licence["unused_m3"]["middle"]
        assert unused == pytest.approx(licence["left_m3"] - need["middle"], abs=2)


def test_without_weather_on_record_nothing_is_said_of_the_season(
    manager: Api, farm: Farm, run_jobs: Jobs
) -> None:
    WeatherDay.objects.for_farm(farm).filter(date__lt=farm.now().date()).update(et0_mm=None)
    manager.post(f"{SHEET}/plan", {}, 202)
    run_jobs()
    found = manager.get(f"{SHEET}/season")
    assert found["season"] is not None
    assert (found["season"]["years"], found["season"]["sources"]) == (0, [])


def test_a_sheet_stands_where_the_season_cant_be_worked_out(
    manager: Api, run_jobs: Jobs, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr("server.plan.making.season_ahead", broken)
    manager.post(f"{SHEET}/plan", {}, 202)
    run_jobs()
    assert manager.get(SHEET)["sheet"]["sets"]
    assert manager.get(f"{SHEET}/season")["season"] is None
