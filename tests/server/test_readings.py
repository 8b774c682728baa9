"""Readings typed by hand: the same twice changes nothing."""

from typing import Any

import pytest

from server.blocks.models import Block
from server.readings.models import Reading
from tests.server.conftest import Api, new_block

BASE = "/farms/thistlewick"


@pytest.fixture
def probe(manager: Api) -> dict[str, Any]:
    """A new block with a probe that has read nothing yet."""
    made = manager.post(f"{BASE}/blocks", new_block(), status=201)
    body = {"label": "P", "kind": "capacitance_probe", "depths_mm": [100, 200, 400]}
    instrument = manager.post(f"{BASE}/blocks/{made['id']}/instruments", body, status=201)
    return {**instrument, "block": made["id"]}


def stored(probe: dict) -> list[tuple[float, str]]:
    rows = Reading.unscoped.filter(channel__instrument=probe["id"]).order_by("time", "channel")
    return [(r.value, str(r.in_unit)) for r in rows]


@pytest.fixture
def tensiometers(manager: Api, probe: dict) -> dict[str, Any]:
    body = {"label": "T", "kind": "tensiometer", "depths_mm": [150, 300]}
    return manager.post(f"{BASE}/blocks/{probe['block']}/instruments", body, status=201)


def by_hand(instrument: dict, values: list[float]) -> dict[str, Any]:
    ids = [c["id"] for c in instrument["channels"]]
    return {
        "time": "2026-07-14T05:30",
        "unit": "cbar",
        "values": [{"channel_id": i, "value": v} for i, v in zip(ids, values, strict=False)],
    }


def test_readings_by_hand(manager: Api, tensiometers: dict) -> None:
    path = f"{BASE}/instruments/{tensiometers['id']}"
    assert manager.post(f"{path}/readings", by_hand(tensiometers, [35, 28]))["new"] == 2
    assert manager.post(f"{path}/readings", by_hand(tensiometers, [35, 28]))["unchanged"] == 2
    last = manager.get(f"{path}/last")
    assert {(r["value"], r["unit"]) for r in last} == {(35, "cbar"), (28, "cbar")}
    # 05:30 on the farm's clock, in summer.
    assert {r["time"] for r in last} == {"2026-07-14T03:30:00Z"}


@pytest.mark.parametrize(
    "values, changes, field, says",
    [
        ([35, 6000], {}, "values.1", "can't be a soil-water tension"),
        ([35], {"time": "2026-07-14T09:00"}, "time", "future"),
        ([35], {"time": "2026-03-29T02:30"}, "time", "skipped"),
        ([], {}, "values", "at least one"),
        ([35], {"unit": "%"}, "unit", "do not read in %"),
        (
            [35],
            {"values": [{"channel_id": 1, "value": 3}]},
            "values.0",
            "does not belong to this instrument",
        ),
    ],
)
def test_hand_readings_that_can_not_be(
    manager: Api, tensiometers: dict, values: list, changes: dict, field: str, says: str
) -> None:
    path = f"{BASE}/instruments/{tensiometers['id']}/readings"
    body = {**by_hand(tensiometers, values), **changes}
    answer = manager.post(path, body, status=422)
    problem = next(p for p in answer["problems"] if p["field"] == field)
    assert says in problem["message"]
    assert stored(tensiometers) == []


def test_a_marked_sensor_takes_no_part(manager: Api, block: Block) -> None:
    before = manager.get(f"{BASE}/blocks/{block.pk}")
    channel = next(c for i in before["instruments"] for c in i["channels"] if c["depth_mm"] == 100)
    manager.patch(f"{BASE}/channels/{channel['id']}", {"suspect": True})
    after = manager.get(f"{BASE}/blocks/{block.pk}")
    doubted = {r["depth_mm"]: r["doubt"] for r in after["layers"] if r["doubt"]}
    assert doubted[100] == "marked suspect"
    assert after["answer"]["deficit_mm"] != before["answer"]["deficit_mm"]
    manager.patch(f"{BASE}/channels/{channel['id']}", {"suspect": False})
    undone = manager.get(f"{BASE}/blocks/{block.pk}")
    assert undone["answer"]["deficit_mm"] == before["answer"]["deficit_mm"]
