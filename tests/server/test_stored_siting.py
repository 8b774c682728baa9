"""What an earlier version stored of siting opens in this one."""

import json
from pathlib import Path

import pytest

from server.siting.models import LayerFile, ProbeSpot, SitingLayer, SitingSettings
from tests.server.siting_bench import BASE, Bench, siting_bench, three_years  # noqa: F401

STORED = json.loads((Path(__file__).with_name("samples") / "siting-1.json").read_text())


@pytest.fixture
def stored(bench: Bench) -> Bench:
    """Three years of yield whose JSON is as the first version wrote it."""
    three_years(bench)
    LayerFile.unscoped.update(**STORED["layer_file"])
    SitingLayer.unscoped.filter(block=bench.block).update(**STORED["layer"])
    SitingSettings(block_id=bench.block, **STORED["settings"]).save()
    return bench


def test_a_file_opens(stored: Bench) -> None:
    file = LayerFile.unscoped.filter(layers__block=stored.block)[0]
    found = stored.detail(file.pk)
    assert found["look"]["near"] == "Quern Field"
    assert (found["look"]["fitting"], found["look"]["placed"]) == ("", True)
    assert found["reading"]["rain_mm"] == 190
    assert found["summary"]["report"]["without_position"] == 2


def test_layers_and_zones_open(stored: Bench) -> None:
    found = stored.siting()
    (first, *_) = found["layers"]
    assert first["facts"]["variogram"]["range_m"] == 210
    assert first["cleaning"] == {"headland_m": 6.0, "spreads": 3.5}
    assert [z["name"] for z in found["zones"]] == ["East", "", ""]
    assert found["settings"]["distances"] == {"trees": 25.0}
    points = stored.api.post(f"{BASE}/siting-layers/{first['id']}/points", {}, 200)
    assert (points["put_back"], points["put_aside"]) == ([3], [17])


def test_a_spot_opens(stored: Bench) -> None:
    spot = stored.siting()["spots"][0]
    longitude, latitude = spot["position"]
    body = {"longitude": longitude, "latitude": latitude, "name": "Old", "why": "even"}
    made = stored.api.post(f"{BASE}/blocks/{stored.block}/siting/spots", body, 201)
    ProbeSpot.unscoped.filter(pk=made["id"]).update(**STORED["spot"])
    sheet = stored.api.get(f"{BASE}/probe-spots/{made['id']}")
    assert sheet["spot"]["position"] == [3.0642, 56.4029]
