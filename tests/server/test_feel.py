"""Feel checks through the API: layers with their deficits, stored as shares of available water."""

import pytest

from tests.server.conftest import Api, new_block

BASE = "/farms/thistlewick"


def test_a_check_foot_by_foot_reaches_the_answer(manager: Api) -> None:
    block = manager.post(f"{BASE}/blocks", new_block(), status=201)
    body = {"label": "Auger", "kind": "feel_check", "depths_mm": [150, 450, 750]}
    made = manager.post(f"{BASE}/blocks/{block['id']}/instruments", body, status=201)
    said = manager.get(f"{BASE}/instruments/{made['id']}/feel")
    assert any("located and marked" in c for c in said["cautions"])
    layers = said["layers"]
    assert [(x["top_mm"], x["bottom_mm"]) for x in layers] == [(0, 300), (300, 600), (600, 900)]
    assert [x["group"] for x in layers] == ["medium", "fine", "fine"]
    for layer in layers:
        assert layer["deficits_mm"][-1] == 0
        assert layer["deficits_mm"][0] == pytest.approx(0.875 * layer["available_mm"])
    steps = next(g for g in said["groups"] if g["group"] == "fine")["steps"]
    values = [{"channel_id": x["channel_id"], "value": steps[2]["available"] * 100} for x in layers]
    sent = {"time": "2026-07-14T05:30", "unit": "% available", "values": values}
    assert manager.post(f"{BASE}/instruments/{made['id']}/readings", sent)["new"] == 3
    answer = manager.get(f"{BASE}/blocks/{block['id']}")
    # The first layer lies wholly in the roots: its deficit is the table's.
    first = answer["layers"][0]
    assert first["depth_mm"] == 150
    assert answer["answer"]["deficit_mm"] > 0
    assert first["deficit_mm"] == pytest.approx(layers[0]["deficits_mm"][2], rel=1e-6)


def test_only_a_feel_check_has_steps(manager: Api, farm: object) -> None:
    probe = manager.get(f"{BASE}/instruments")[0]
    assert (
        "can't be checked by feel"
        in manager.get(f"{BASE}/instruments/{probe['id']}/feel", status=422)["message"]
    )
