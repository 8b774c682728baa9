"""The soil library: described, described anew from a date, laboratory sheets."""

from typing import Any

import pytest

from server.blocks.models import Block
from server.farms.models import Role
from server.soils.laboratory_file import gravel_by_volume
from server.soils.models import SoilProfile
from tests.server.conftest import Api

BASE = "/farms/thistlewick"
LOAM = {"top_mm": 0, "bottom_mm": 300, "texture": "loam"}
CLAY = {"top_mm": 300, "bottom_mm": 900, "texture": "clay"}


def soils(api: Api) -> dict[str, dict[str, Any]]:
    return {s["name"]: s for s in api.get(f"{BASE}/soils")}


def soil_of(api: Api, block: Block) -> dict[str, Any]:
    setup = api.get(f"{BASE}/blocks/{block.pk}/setup")
    found: dict[str, Any] = api.get(f"{BASE}/soils/{setup['soil_id']}")
    return found


def test_library_says_what_each_soil_holds_and_who_stands_on_it(manager: Api) -> None:
    quern = soils(manager)["Quern loam over clay loam as seen on Quern Field"]
    assert quern["blocks"] == ["Quern Field"]
    assert len(quern["horizons"]) == 3
    assert sum(h["available_mm"] for h in quern["horizons"]) == pytest.approx(quern["available_mm"])
    assert 0 < quern["sigma_mm"] < quern["available_mm"]


def test_a_soil_in_use_is_described_anew_from_a_date(manager: Api, block: Block) -> None:
    soil = soil_of(manager, block)
    limits = f"{BASE}/blocks/{block.pk}/limits"
    before = {d: manager.get(f"{limits}?on={d}")["taw_mm"] for d in ("2026-06-25", "2026-07-14")}
    changed = {
        "name": soil["name"],
        "horizons": [{**h, "method": "book"} for h in soil["horizons"]],
        "from_on": "2026-07-01",
        "reason": "cores of 30 June",
    }
    made = manager.put(f"{BASE}/soils/{soil['id']}", changed)
    assert made["id"] != soil["id"]
    after = {d: manager.get(f"{limits}?on={d}")["taw_mm"] for d in before}
    # The past is judged by the limits that were in force then.
    assert after["2026-06-25"] == before["2026-06-25"]
    assert after["2026-07-14"] != before["2026-07-14"]
    library = manager.get(f"{BASE}/soils")
    assert [s["id"] for s in library if s["name"] == soil["name"]] == [made["id"]]
    newest = manager.get(limits)["changes"][0]
    assert (newest["kind"], newest["reason"]) == ("soil", "cores of 30 June")
    assert newest["made_by"]
    manager.client.delete(f"/api{limits}/soil/{newest['id']}")
    assert manager.get(f"{limits}?on=2026-07-14")["taw_mm"] == before["2026-07-14"]
    undone = manager.get(limits)["changes"][0]
    assert undone["undone_by"]


def test_a_block_named_twice_is_one_block(manager: Api, block: Block) -> None:
    soil = manager.post(f"{BASE}/soils", {"name": "Slade", "horizons": [LOAM, CLAY]}, status=201)
    before = block.soils.count()
    body = {"block_ids": [block.pk] * 900, "from_on": "2026-06-01"}
    manager.post(f"{BASE}/soils/{soil['id']}/blocks", body)
    assert block.soils.count() == before + 1
    body = {"block_ids": [block.pk] * 2001, "from_on": "2026-06-02"}
    manager.post(f"{BASE}/soils/{soil['id']}/blocks", body, status=422)


def test_a_soil_changed_for_ever_changes_the_past_too(manager: Api, block: Block) -> None:
    soil = soil_of(manager, block)
    limits = f"{BASE}/blocks/{block.pk}/limits?on=2026-06-01"
    before = manager.get(limits)["taw_mm"]
    stony = [{**h, "gravel": 40} for h in soil["horizons"]]
    manager.put(f"{BASE}/soils/{soil['id']}", {"name": "Stony", "horizons": stony})
    assert manager.get(limits)["taw_mm"] == pytest.approx(0.6 * before)


def test_a_soil_that_nobody_uses_is_mended_in_place_and_removed(manager: Api) -> None:
    made = manager.post(f"{BASE}/soils", {"name": "Spare", "horizons": [LOAM, CLAY]}, status=201)
    same = manager.put(f"{BASE}/soils/{made['id']}", {"name": "Spare two", "horizons": [LOAM]})
    assert same["id"] == made["id"]
    assert len(manager.get(f"{BASE}/soils/{made['id']}")["horizons"]) == 1
    assert manager.client.delete(f"/api{BASE}/soils/{made['id']}").status_code == 200
    manager.get(f"{BASE}/soils/{made['id']}", status=404)


def test_a_soil_in_use_is_not_removed(manager: Api, block: Block) -> None:
    soil = soil_of(manager, block)
    answer = manager.client.delete(f"/api{BASE}/soils/{soil['id']}")
    assert answer.status_code == 422
    assert "blocks stand on it" in answer.json()["message"]


@pytest.mark.parametrize(
    "change, field",
    [
        ({"name": " "}, "name"),
        ({"name": "marl CLAY"}, "name"),
        ({"horizons": [{**LOAM, "stops_roots": True}]}, "horizons.0.stops_roots"),
        ({"horizons": [LOAM, {**CLAY, "bulk_density": 9}]}, "horizons.1.bulk_density"),
        ({"horizons": [{**LOAM, "method": "fitted"}]}, "horizons.0.points"),
        (
            {"horizons": [{**LOAM, "points": [{"tension_kpa": 33, "theta": 28}]}]},
            "horizons.0.points",
        ),
        ({"horizons": [LOAM, {**CLAY, "top_mm": 500}]}, "horizons.1.top_mm"),
        ({"horizons": [LOAM, {**CLAY, "bottom_mm": 100}]}, "horizons.1.bottom_mm"),
    ],
)
def test_soils_that_can_not_be(manager: Api, change: dict[str, Any], field: str) -> None:
    count = SoilProfile.unscoped.count()
    body = {"name": "New", "horizons": [LOAM, CLAY], **change}
    answer = manager.post(f"{BASE}/soils", body, status=422)
    assert field in {p["field"] for p in answer["problems"]}
    assert SoilProfile.unscoped.count() == count


def test_roles_and_farms(manager: Api, as_role: Any, stranger: Api, block: Block) -> None:
    soil = soil_of(manager, block)
    as_role(Role.VIEWER).post(f"{BASE}/soils", {"name": "X", "horizons": [LOAM]}, status=403)
    stranger.get(f"{BASE}/soils/{soil['id']}", status=404)
    stranger.get(f"/farms/barrow/soils/{soil['id']}", status=404)
    assert stranger.get("/farms/barrow/soils") == []


def test_textures_cover_the_triangle(manager: Api) -> None:
    found = manager.get("/textures")
    assert len({p["texture"] for p in found["triangle"]}) == 12
    steps = {s["key"]: s for s in found["by_hand"]}
    ends = {a["texture"] for s in steps.values() for a in s["answers"] if a["texture"]}
    onward = {a["next_step"] for s in steps.values() for a in s["answers"] if a["next_step"]}
    assert onward == set(steps) - {"ball"}
    assert len(ends) == 11  # silt can't be told from silt loam by hand


SHEET = """Sample;Top (cm);Bottom (cm);Sand %;Silt %;Clay %;OC %;BD;Water at 33 kPa %;Water at 1500 kPa %;pH
North 1;0;30;42,5;37,5;20;1,2;1,38;27,4;13,1;6,4
North 1;30;80;35;35;30;0,5;1,45;;;6,6
South 2;0;25;70;18;12;0,9;;;;6,1
"""  # noqa: E501


def test_a_laboratory_sheet_is_shown_then_saved(manager: Api) -> None:
    shown = manager.upload(f"{BASE}/laboratory", "lab.csv", SHEET.encode(), dry_run=True)
    assert not shown["saved"]
    assert [s["name"] for s in shown["soils"]] == ["North 1", "South 2"]
    assert shown["ignored"] == ["pH"]
    top = shown["soils"][0]["horizons"][0]
    assert top["sand"] == 42.5
    assert top["organic_matter"] == pytest.approx(1.2 * 1.724, abs=1e-3)
    assert top["method"] == "measured"
    assert top["points"] == [
        {"tension_kpa": 33, "theta": pytest.approx(0.274)},
        {"tension_kpa": 1500, "theta": pytest.approx(0.131)},
    ]
    assert shown["soils"][0]["horizons"][1]["method"] == "regression"
    assert "North 1" not in soils(manager)
    manager.upload(f"{BASE}/laboratory", "lab.csv", SHEET.encode(), dry_run=False)
    assert {"North 1", "South 2"} <= set(soils(manager))
    again = manager.upload(f"{BASE}/laboratory", "lab.csv", SHEET.encode(), dry_run=True)
    assert all(s["exists"] for s in again["soils"])
    manager.upload(f"{BASE}/laboratory", "lab.csv", SHEET.encode(), status=422, dry_run=False)


@pytest.mark.parametrize(
    "sheet, row, column",
    [
        ("soil,top,bottom\nA,0,30\n", 1, "sand"),
        ("top,bottom,sand,clay\n0,30,40,20\n", 1, "soil"),
        ("soil,top,bottom,sand,clay\nA,0,30,forty,20\n", 2, "sand"),
        ("soil,top,bottom,sand,clay\nA,30,0,40,20\n", 2, "bottom"),
        ("soil,top,bottom,sand,clay\nA,0,30,40,20\n,30,60,40,20\n", 3, "soil"),
        ("soil,top,bottom,sand,silt,clay\nA,0,30,60,40,20\n", 2, "sand"),
        ("soil,top,bottom,sand,clay\nA,0,30,40,20\nA,40,60,40,20\n", 3, "top"),
        ("soil,top,bottom,Sand %,silt,clay\nA,30,60,60,40,20\nA,0,30,40,40,20\n", 2, "Sand %"),
        ("soil,top,bottom,sand,clay\nA,0,30,140,20\nA,40,60,140,20\n", 3, "sand"),
    ],
)
def test_a_bad_sheet_names_the_row(manager: Api, sheet: str, row: int, column: str) -> None:
    answer = manager.upload(f"{BASE}/laboratory", "l.csv", sheet.encode(), status=422)
    assert (row, column) in {(p["row"], p["column"]) for p in answer["problems"]}


def test_gravel_by_weight_becomes_volume() -> None:
    """Saxton & Rawls (2006) eq. 19 by hand: alpha 1.4/2.65, 30 % by weight is 18.5 %."""
    assert gravel_by_volume(30, 1.4) == pytest.approx(18.46, abs=0.01)
    assert gravel_by_volume(0, 1.4) == 0
