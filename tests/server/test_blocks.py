"""Setting up blocks: what is made, what is refused and how it is said."""

from typing import Any

import pytest

from server.blocks.models import Block
from server.soils.models import SoilProfile
from tests.server.conftest import Api, new_block

BASE = "/farms/thistlewick"


def test_new_block_is_on_the_board_without_a_word(manager: Api) -> None:
    made = manager.post(f"{BASE}/blocks", new_block(), status=201)
    row = next(r for r in manager.get(f"{BASE}/board")["rows"] if r["id"] == made["id"])
    assert row["answer"]["state"] == "no_reliable_data"
    assert row["answer"]["reasons"] == ["no_instrument"]
    whole = manager.get(f"{BASE}/blocks/{made['id']}")
    assert [h["texture"] for h in whole["horizons"]] == ["loam", "clay loam"]
    # Limits are known before any reading is.
    assert whole["limits"]["full_mm"] > whole["limits"]["refill_mm"] > whole["limits"]["wilt_mm"]
    assert whole["answer"]["deficit_mm"] is None


def test_set_up_comes_back_as_it_went_in(manager: Api) -> None:
    sent = new_block(rain_room_mm=4, refill_method="flat")
    made = manager.post(f"{BASE}/blocks", sent, status=201)
    back = manager.get(f"{BASE}/blocks/{made['id']}/setup")
    for name in ("name", "area_m2", "crop_key", "planted_on", "rain_room_mm", "refill_method"):
        assert back[name] == sent[name]
    soil = manager.get(f"{BASE}/soils/{back['soil_id']}")
    assert soil["name"] == back["soil_name"] == "Soil of Teasel Corner"
    assert soil["horizons"][0]["sand"] == 40
    assert soil["horizons"][1]["texture"] == "clay loam"
    assert soil["blocks"] == ["Teasel Corner"]
    again = manager.put(f"{BASE}/blocks/{made['id']}/setup", back)
    assert again["id"] == made["id"]
    assert manager.get(f"{BASE}/blocks/{made['id']}/setup") == back


def fields(answer: dict[str, Any]) -> set[str]:
    return {p["field"] for p in answer["problems"]}


HORIZONS = new_block()["horizons"]
SYSTEM = new_block()["system"]


@pytest.mark.parametrize(
    "changes, field",
    [
        ({"name": "  "}, "name"),
        ({"name": "quern field"}, "name"),
        ({"area_m2": 0}, "area_m2"),
        ({"area_m2": "wide"}, "area_m2"),
        ({"horizons": []}, "horizons.0.bottom_mm"),
        ({"horizons": [{**HORIZONS[0], "clay": 50}]}, "horizons.0.sand"),
        ({"horizons": [HORIZONS[0], {**HORIZONS[1], "bottom_mm": 200}]}, "horizons.1.bottom_mm"),
        ({"horizons": [HORIZONS[0], {**HORIZONS[1], "top_mm": 400}]}, "horizons.1.top_mm"),
        ({"horizons": [{**HORIZONS[0], "gravel": 120}]}, "horizons.0.gravel"),
        ({"horizons": [{"top_mm": 0, "bottom_mm": 300}]}, "horizons.0.texture"),
        ({"horizons": [{**HORIZONS[0], "texture": "moon dust"}]}, "horizons.0.texture"),
        ({"crop_key": "turnip"}, "crop_key"),
        ({"planted_on": None}, "planted_on"),
        ({"crop_key": None}, "crop_key"),
        ({"planted_on": "2026-02-30"}, "planted_on"),
        ({"system": {**SYSTEM, "efficiency": 0}}, "system.efficiency"),
        ({"system": {**SYSTEM, "rate_mm_h": None}}, "system.rate_mm_h"),
        ({"system": {**SYSTEM, "largest_mm": 5, "smallest_mm": 9}}, "system.largest_mm"),
        ({"rain_room_mm": -1}, "rain_room_mm"),
    ],
)
def test_what_can_not_be_names_its_field(manager: Api, changes: dict, field: str) -> None:
    before = Block.unscoped.count(), SoilProfile.unscoped.count()
    answer = manager.post(f"{BASE}/blocks", new_block(**changes), status=422)
    assert field in fields(answer)
    assert all(p["message"] for p in answer["problems"])
    assert (Block.unscoped.count(), SoilProfile.unscoped.count()) == before


def test_several_problems_are_told_at_once(manager: Api) -> None:
    bad = new_block(name="", crop_key=None, system={**SYSTEM, "efficiency": 3})
    answer = manager.post(f"{BASE}/blocks", bad, status=422)
    assert {"name", "crop_key", "system.efficiency"} <= fields(answer)


def test_a_block_takes_a_soil_of_the_library(manager: Api, block: Block) -> None:
    soils = {s["name"]: s["id"] for s in manager.get(f"{BASE}/soils")}
    setup = manager.get(f"{BASE}/blocks/{block.pk}/setup")
    before = manager.get(f"{BASE}/blocks/{block.pk}")["limits"]
    setup["soil_id"] = soils["Gorse loamy sand"]
    manager.put(f"{BASE}/blocks/{block.pk}/setup", setup)
    after = manager.get(f"{BASE}/blocks/{block.pk}")
    assert after["soil"] == "Gorse loamy sand"
    assert after["limits"] != before
    assert fields(
        manager.put(f"{BASE}/blocks/{block.pk}/setup", {**setup, "soil_id": 999_999}, status=422)
    ) == {"soil_id"}


def test_a_design_is_worked_out_to_its_rate(manager: Api) -> None:
    figures = {"emitter_l_h": 2, "emitter_spacing_m": 0.4, "line_spacing_m": 1.5}
    system = {"kind": "drip", "efficiency": 0.9, "design": {**figures, "wetted_fraction": 0.4}}
    made = manager.post(f"{BASE}/blocks", new_block(system=system), status=201)
    back = manager.get(f"{BASE}/blocks/{made['id']}/setup")["system"]
    assert back["rate_mm_h"] == pytest.approx(10 / 3)
    assert back["flow_m3_h"] is None
    system["design"]["wetted_fraction"] = 4
    answer = manager.post(f"{BASE}/blocks", new_block(name="B", system=system), status=422)
    assert fields(answer) == {"system.design.wetted_fraction"}


def test_soil_preview(manager: Api) -> None:
    body = {"horizons": HORIZONS, "crop_key": "potato", "planted_on": "2026-05-01"}
    preview = manager.post(f"{BASE}/soil-preview", body)
    assert preview["stage"] == "mid season"
    assert preview["root_mm"] == 400
    # p stands at its table value, for an ordinary 5 mm a day.
    assert preview["raw_mm"] == pytest.approx(0.35 * preview["taw_mm"])
    top = preview["horizons"][0]
    by_method = {m["method"]: m for m in top["methods"]}
    assert top["available_mm_per_m"] == by_method["regression"]["available_mm_per_m"]
    assert by_method["book"]["available_mm_per_m"] == pytest.approx(130)
    assert "points" not in by_method["rosetta"]["problem"]
    assert "content at 33" in by_method["measured"]["problem"]
    assert [c["shape"] for c in top["curves"] if c["in_force"]] == ["power"]
    assert len(top["curves"][0]["theta"]) == len(preview["tensions_kpa"])
    bad = {"horizons": [{"top_mm": 0, "bottom_mm": 300, "sand": 90, "clay": 30}]}
    assert fields(manager.post(f"{BASE}/soil-preview", bad, status=422)) == {"horizons.0.sand"}
    bare = manager.post(f"{BASE}/soil-preview", {"horizons": HORIZONS})
    assert bare["root_mm"] is None


def test_catalogue(manager: Api) -> None:
    catalogue = manager.get("/catalogue")
    assert len(manager.get(f"{BASE}/crops")) >= 40
    assert len(catalogue["textures"]) == 12
    assert "pivot" in catalogue["moving_kinds"]


@pytest.mark.parametrize(
    "changes, field",
    [
        ({"label": " "}, "label"),
        ({"label": "probe q1"}, "label"),
        ({"depths_mm": []}, "depths_mm"),
        ({"depths_mm": [100, 100]}, "depths_mm"),
        ({"depths_mm": [0]}, "depths_mm"),
        ({"depths_mm": [90000]}, "depths_mm"),
        ({"kind": "divining rod"}, "kind"),
    ],
)
def test_instruments_that_can_not_be(manager: Api, block: Block, changes: dict, field: str) -> None:
    good = {"label": "New", "kind": "tensiometer", "depths_mm": [300, 150]}
    path = f"{BASE}/blocks/{block.pk}/instruments"
    assert field in fields(manager.post(path, {**good, **changes}, status=422))
    made = manager.post(path, good, status=201)
    assert [c["depth_mm"] for c in made["channels"]] == [150, 300]
    assert made["units"] == ["kPa", "cbar"]
