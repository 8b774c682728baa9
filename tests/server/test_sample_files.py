"""The samples beside each import are taken as they stand."""

from pathlib import Path
from typing import Any

from server.instruments.models import Instrument
from tests.server.conftest import Api
from tests.server.test_imports import Bench, bench  # noqa: F401

BASE = "/farms/thistlewick"
SAMPLES = Path(__file__).parents[2] / "web" / "public" / "samples"


def sample(name: str) -> bytes:
    return (SAMPLES / name).read_bytes()


def test_readings(bench: Bench) -> None:  # noqa: F811
    """Both columns are found by their headings, and no row is refused."""
    up = bench.upload(sample("readings.csv"), "readings.csv")
    assert up["layout"]["time_column"] == 0
    assert up["preview"]["heading"] == ["time", "VWC 10 cm (%)", "VWC 40 cm (%)"]
    assert [c["unit"] for c in up["layout"]["columns"]] == ["%", "%"]


def test_outlines(manager: Api) -> None:
    shown = manager.upload(f"{BASE}/map/import", "blocks.geojson", sample("blocks.geojson"))
    assert [line["name"] for line in shown["lines"]] == ["Sample East", "Sample West"]


def test_weather(manager: Api) -> None:
    data = sample("weather-days.csv")
    shown = manager.upload(f"{BASE}/weather-file", "weather-days.csv", data, dry_run=True)
    assert (shown["stored"], shown["days"]) == (False, 7)


def test_a_laboratory_sheet(manager: Api) -> None:
    data = sample("laboratory.csv")
    shown = manager.upload(f"{BASE}/laboratory", "laboratory.csv", data, dry_run=True)
    assert [s["name"] for s in shown["soils"]] == ["Sample loam", "Sample sand"]
    assert shown["ignored"] == []


def test_a_worksheet(manager: Api, farm: Any) -> None:
    probe = Instrument.objects.for_farm(farm).get(label="Probe A1")
    path = f"{BASE}/instruments/{probe.pk}/worksheet/file"
    told = manager.upload(path, "worksheet.csv", sample("worksheet.csv"))
    assert len(told["samples"]) == 6


def test_there_is_no_sample_that_nobody_offers() -> None:
    offered = (Path(__file__).parents[2] / "web/src/form/FileButton.tsx").read_text("utf-8")
    assert all(f'"{p.name}"' in offered for p in SAMPLES.iterdir())


def test_a_soil_survey(manager: Api) -> None:
    data = sample("soil-survey.geojson")
    read = manager.upload(f"{BASE}/soil-surveys", "soil-survey.geojson", data)
    assert [(s["name"], s["state"]) for s in read["soils"]] == [
        ("Sample gravelly loam", "new"),
        ("Sample silt", "new"),
        ("Sample clay hollow", "new"),
    ]
    assert [h["gravel"] for h in read["soils"][0]["horizons"]] == [18, 35]
    assert read["ignored"] == []
