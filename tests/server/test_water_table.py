"""Water tables below blocks: stated, read in wells, and what follows from them everywhere."""

from datetime import date
from typing import Any

import pytest

from server.blocks.models import Block
from server.farms.models import Farm
from server.readings.water_table import HOLDS_DAYS, water_tables
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


@pytest.fixture
def well(manager: Api, block: Block) -> dict[str, Any]:
    body = {"label": "W1", "kind": "observation_well", "depths_mm": []}
    return manager.post(f"{BASE}/blocks/{block.pk}/instruments", body, status=201)


def read(api: Api, well: dict[str, Any], on: str, depth_cm: float) -> None:
    values = [{"channel_id": well["channels"][0]["id"], "value": depth_cm}]
    body = {"time": f"{on}T05:00", "unit": "cm", "values": values}
    api.post(f"{BASE}/instruments/{well['id']}/readings", body)


def steps(api: Api, block: Block) -> dict[str, Any]:
    return {s["key"]: s for s in api.get(f"{BASE}/blocks/{block.pk}")["steps"]}


def state(api: Api, block: Block, **changes: Any) -> None:
    form = api.get(f"{BASE}/blocks/{block.pk}/setup")
    api.put(f"{BASE}/blocks/{block.pk}/setup", {**form, **changes, "horizons": []})


def on(farm: Farm, block: Block, *days: str) -> list[float]:
    fresh = Block.objects.for_farm(farm).prefetch_related("instruments__channels").get(pk=block.pk)
    found = water_tables([fresh], farm.now()).get(block.pk)
    if found is None:
        return []
    return [float(found.on(date.fromisoformat(d), 1)[0]) for d in days]


def test_a_stated_table_feeds_the_crop_and_is_kept(manager: Api, farm: Farm, block: Block) -> None:
    assert "capillary_rise" not in steps(manager, block)
    assert on(farm, block) == []
    state(manager, block, water_table_mm=1500)
    setup = manager.get(f"{BASE}/blocks/{block.pk}/setup")
    assert setup["water_table_mm"] == 1500
    step = steps(manager, block)["capillary_rise"]
    assert step["value"] > 0
    table = next(t for t in step["terms"] if t["symbol"] == "zw")
    assert (table["value"], table["source"]) == (1500, "water table, as entered")
    assert on(farm, block, "2026-07-01") == [1500]


def test_a_well_goes_before_what_is_stated(
    manager: Api, farm: Farm, block: Block, well: dict[str, Any]
) -> None:
    state(manager, block, water_table_mm=1500)
    read(manager, well, "2026-07-01", 180)
    read(manager, well, "2026-07-10", 120)
    found = on(farm, block, "2026-06-30", "2026-07-01", "2026-07-09", "2026-07-10", "2026-07-14")
    assert found == [1500, 1800, 1800, 1200, 1200]
    terms = steps(manager, block)["capillary_rise"]["terms"]
    table = next(t for t in terms if t["symbol"] == "zw")
    assert (table["value"], table["source"]) == (
        1200,
        "water table, read in an observation well",
    )


def test_a_level_read_long_ago_does_not_hold(
    manager: Api, farm: Farm, block: Block, well: dict[str, Any]
) -> None:
    read(manager, well, "2026-05-01", 90)
    assert HOLDS_DAYS == 60
    assert on(farm, block, "2026-06-29", "2026-06-30") == [900, float("inf")]


def test_of_two_wells_the_mean_counts_and_a_doubted_reading_does_not(
    manager: Api, farm: Farm, block: Block, well: dict[str, Any]
) -> None:
    body = {"label": "W2", "kind": "observation_well", "depths_mm": []}
    other = manager.post(f"{BASE}/blocks/{block.pk}/instruments", body, status=201)
    read(manager, well, "2026-07-08", 100)
    read(manager, other, "2026-07-10", 140)
    assert on(farm, block, "2026-07-09", "2026-07-10") == [1000, 1200]


def test_roots_end_above_the_table_on_every_page(manager: Api, block: Block) -> None:
    state(manager, block, water_table_mm=300)
    shown = manager.get(f"{BASE}/blocks/{block.pk}")
    limits = manager.get(f"{BASE}/blocks/{block.pk}/limits")
    line = next(b for b in manager.get(f"{BASE}/block-list") if b["id"] == block.pk)
    assert shown["root_mm"] == limits["root_mm"] == 300
    assert "water_table_in_roots" in shown["answer"]["reasons"]
    taw = next(s for s in shown["steps"] if s["key"] == "taw")["value"]
    assert limits["taw_mm"] == pytest.approx(taw)
    assert line["taw_mm"] == pytest.approx(taw)


@pytest.mark.parametrize("depth", [-1, 10_001])
def test_what_is_no_depth(manager: Api, block: Block, depth: float) -> None:
    form = manager.get(f"{BASE}/blocks/{block.pk}/setup")
    body = {**form, "water_table_mm": depth, "horizons": []}
    assert manager.put(f"{BASE}/blocks/{block.pk}/setup", body, status=422)


def test_water_each_day_is_kept_where_nothing_moves(manager: Api, farm: Farm) -> None:
    drip = Block.objects.for_farm(farm).get(name="Alder Reach")
    state(manager, drip, little_and_often=True)
    assert manager.get(f"{BASE}/blocks/{drip.pk}/setup")["little_and_often"] is True
    assert "daily_due" in steps(manager, drip)
    answer = manager.get(f"{BASE}/blocks/{drip.pk}")["answer"]
    assert answer["run"]["pulses"] >= 1
    form = manager.get(f"{BASE}/blocks/{drip.pk}/setup")
    pivot = {"kind": "pivot", "flow_m3_h": 200, "efficiency": 0.85}
    manager.put(f"{BASE}/blocks/{drip.pk}/setup", {**form, "system": pivot, "horizons": []})
    assert manager.get(f"{BASE}/blocks/{drip.pk}/setup")["little_and_often"] is False
