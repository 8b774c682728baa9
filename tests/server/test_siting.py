"""A block's layers looked at together: cleaned, years, zones, ranked spots."""

import base64
from typing import Any

import numpy as np
import pytest

from server.demo.plan import polygon
from server.farms.models import Farm, Role
from server.siting.models import LayerFile, SitingLayer
from tests.server.conftest import Api
from tests.server.siting_bench import (
    BASE,
    Bench,
    net,
    siting_bench,  # noqa: F401
    table,
    three_years,
    yield_table,
)


def test_years_zones_and_spots_of_a_block(bench: Bench) -> None:
    three_years(bench)
    found = bench.siting()
    assert [layer["year_kind"] for layer in found["layers"]] == ["dry", "wet", "usual"]
    assert found["suggested"] == 2
    west, east = sorted(found["zones"], key=lambda z: z["level"]["all"])
    assert west["level"]["all"] == pytest.approx(6 / 7.6 * 100, abs=4)
    assert east["level"]["dry"] == pytest.approx(9 / 7.6 * 100, abs=4)
    assert sum(z["area_m2"] for z in found["zones"]) == pytest.approx(90_000, rel=0.05)
    best = found["spots"][0]
    assert best["zone"] == found["zone"]
    assert best["kept_off"] is None
    assert {x["term"] for x in best["terms"]} >= {"near the median", "even around", "walk"}
    assert found["pair"]["spot"]["zone"] != found["zone"]
    assert 0.5 < found["pair"]["gain"] <= 1


def test_a_purpose_moves_the_spots(bench: Bench) -> None:
    three_years(bench)
    path = f"{BASE}/blocks/{bench.block}/siting"
    limiting = bench.api.put(path, {"purpose": "limiting"})
    poorest = min(limiting["zones"], key=lambda z: z["level"]["dry"])
    assert limiting["zone"] == poorest["zone"]
    assert limiting["spots"][0]["zone"] == poorest["zone"]
    chosen = bench.api.put(path, {"purpose": "decisions", "zone": 1 - poorest["zone"]})
    assert chosen["zone"] == 1 - poorest["zone"]


def test_zones_are_named_and_merged(bench: Bench) -> None:
    three_years(bench)
    path = f"{BASE}/blocks/{bench.block}/siting"
    named = bench.api.put(path, {"zone_names": ["East", "West"]})
    assert [z["name"] for z in named["zones"]] == ["East", "West"]
    merged = bench.api.put(path, {**named["settings"], "merged": {"1": 0}})
    assert [z["zone"] for z in merged["zones"]] == [0]
    assert merged["pair"] is None
    again = bench.api.put(path, {**merged["settings"], "zone_count": 3})
    assert len(again["zones"]) == 3
    assert "East" in [z["name"] for z in again["zones"]]
    assert again["settings"]["merged"] == {}


def test_names_and_edits_go_with_the_zones_that_stay(bench: Bench) -> None:
    three_years(bench)
    path = f"{BASE}/blocks/{bench.block}/siting"
    ring = polygon((1000, 160), (1100, 160), (1100, 300), (1000, 300))["coordinates"][0]
    named = bench.api.put(
        path, {"zone_names": ["East", "West"], "zone_edits": [{"zone": 2, "ring": ring}]}
    )
    assert [z["name"] for z in named["zones"]] == ["East", "West", ""]
    drawn = named["zones"][2]["area_m2"]
    assert drawn == pytest.approx(14_000, rel=0.03)
    layer = bench.siting()["layers"][0]
    left = bench.api.put(f"{BASE}/siting-layers/{layer['id']}", {"used": False})
    assert left["years"] == 2
    level = {z["name"]: z["level"]["all"] for z in left["zones"]}
    assert level["West"] < level["East"]
    assert left["zones"][2]["area_m2"] == drawn


def test_an_area_is_given_to_the_other_zone_and_taken_back(bench: Bench) -> None:
    three_years(bench)
    path = f"{BASE}/blocks/{bench.block}/siting"
    before = {z["zone"]: z["area_m2"] for z in bench.siting()["zones"]}
    ring = polygon((1000, 160), (1100, 160), (1100, 300), (1000, 300))["coordinates"][0]
    open_ring = ring[:-1]
    given = bench.api.put(path, {"zone_edits": [{"zone": 1, "ring": open_ring}]})
    after = {z["zone"]: z["area_m2"] for z in given["zones"]}
    assert after[1] - before[1] == before[0] - after[0] == pytest.approx(14_000, rel=0.03)
    assert given["settings"]["zone_edits"] == [{"zone": 1, "ring": ring}]
    back = bench.api.put(path, {**given["settings"], "zone_edits": []})
    assert {z["zone"]: z["area_m2"] for z in back["zones"]} == before


def test_what_was_said_of_zones_is_nothing_after_the_block_was_drawn_anew(bench: Bench) -> None:
    three_years(bench)
    bench.api.put(f"{BASE}/blocks/{bench.block}/siting", {"zone_names": ["East", "West"]})
    ground = polygon((800, 180), (1000, 160), (1010, 470), (810, 475))
    bench.api.put(f"{BASE}/blocks/{bench.block}/outline", {"geometry": ground})
    for layer in bench.siting()["layers"]:
        bench.api.put(f"{BASE}/siting-layers/{layer['id']}", {})
    assert {z["name"] for z in bench.siting()["zones"]} == {""}


def test_distances_keep_spots_away(bench: Bench) -> None:
    three_years(bench)
    path = f"{BASE}/blocks/{bench.block}/siting"
    far = bench.api.put(path, {"distances": {"edge and headland": 80}})
    assert far["settings"]["distances"] == {"edge and headland": 80}
    wide = bench.api.put(path, {"distances": {"edge and headland": 400}})
    assert wide["spots"] == []
    assert wide["pair"] is None
    lon, lat = far["spots"][0]["position"]
    query = f"longitude={lon}&latitude={lat}"
    spot = bench.api.get(f"{path}/spot?{query}")
    assert (spot["score"], spot["kept_off"]) == (None, "edge and headland")


@pytest.mark.parametrize(
    "changed",
    [
        {"distances": {"edge and headland": 900}},
        {"zone_count": 9},
        {"row_heading": 360},
        {"lane_spacing_m": 0.2},
        {"purpose": "best"},
        {"zone_edits": [{"zone": 6, "ring": [[3, 56], [3.1, 56], [3, 56.1]]}]},
        {"zone_edits": [{"zone": 0, "ring": [[3, 56], [3.1, 56]]}]},
        {"zone_edits": [{"zone": 0, "ring": [[300, 56], [3.1, 56], [3, 56.1]]}]},
    ],
)
def test_settings_out_of_range_are_refused(bench: Bench, changed: Any) -> None:
    bench.api.put(f"{BASE}/blocks/{bench.block}/siting", changed, status=422)


def test_cleaning_is_changed_and_shown(bench: Bench) -> None:
    bench.store(bench.upload(yield_table()))
    layer = bench.siting()["layers"][0]
    assert layer["facts"]["not_checked"] == ["speed", "overlap"]
    path = f"{BASE}/siting-layers/{layer['id']}"
    wide = bench.api.put(path, {"cleaning": {"headland_m": 40}})["layers"][0]
    assert wide["cleaning"] == {"headland_m": 40}
    assert wide["facts"]["dropped"]["headland"] > layer["facts"]["dropped"]["headland"]
    aside = bench.api.put(path, {"put_aside": [700, 701]})["layers"][0]
    assert aside["facts"]["dropped"]["put_aside"] == 2
    left_out = bench.api.put(path, {"used": False})["layers"][0]
    assert left_out["facts"]["dropped"]["put_aside"] == 2
    refused = bench.api.put(path, {"cleaning": {"headland_m": 100, "spreads": 1}}, status=200)
    assert refused["layers"][0]["facts"]["points"] < wide["facts"]["points"]
    bench.api.put(path, {"cleaning": {"headland_m": 500}}, status=422)


def test_no_point_left_is_refused_and_nothing_changes(bench: Bench) -> None:
    bench.store(bench.upload(yield_table()))
    layer = bench.siting()["layers"][0]
    path = f"{BASE}/siting-layers/{layer['id']}"
    every = list(range(layer["point_count"]))
    refused = bench.api.put(path, {"put_aside": every}, status=422)
    assert "No point is left" in refused["message"]
    assert bench.siting()["layers"][0]["facts"] == layer["facts"]


def test_a_coarse_table_of_yields_is_gridded_by_distance(bench: Bench) -> None:
    coarse = table("Lon,Lat,Yield", *(a[::19] for a in net()))
    assert bench.store(bench.upload(coarse, "few 2020.csv"))["state"] == "stored"
    facts = bench.siting()["layers"][0]["facts"]
    assert facts["by"] == "inverse distance"
    assert "delay" in facts["not_checked"]


def test_a_block_drawn_anew_needs_its_layers_made_again(bench: Bench) -> None:
    bench.store(bench.upload(yield_table()))
    ground = polygon((800, 180), (1000, 160), (1010, 470), (810, 475))
    bench.api.put(f"{BASE}/blocks/{bench.block}/outline", {"geometry": ground})
    stale = bench.siting()
    assert stale["layers"][0]["stale"]
    assert stale["zones"] == []
    layer = stale["layers"][0]["id"]
    made = bench.api.put(f"{BASE}/siting-layers/{layer}", {"used": True})
    assert not made["layers"][0]["stale"]
    assert made["spots"]


def test_a_block_without_an_outline_says_so(bench: Bench) -> None:
    bench.api.put(f"{BASE}/blocks/{bench.block}/outline", {"geometry": None})
    refused = bench.api.get(f"{BASE}/blocks/{bench.block}/siting", status=422)
    assert "Quern Field has no outline" in refused["message"]


def test_one_year_alone_is_allowed_and_known_as_such(bench: Bench) -> None:
    bench.store(bench.upload(yield_table()))
    found = bench.siting()
    assert found["years"] == 1
    assert not found["difference_told"]
    assert found["layers"][0]["year_kind"] == "unknown"
    assert found["spots"]


def test_a_scout_sees_and_does_not_change(bench: Bench, as_role: Any) -> None:
    bench.store(bench.upload(yield_table()))
    scout = as_role(Role.SCOUT)
    layer = scout.get(f"{BASE}/blocks/{bench.block}/siting")["layers"][0]
    scout.put(f"{BASE}/siting-layers/{layer['id']}", {"used": False}, status=403)
    scout.put(f"{BASE}/blocks/{bench.block}/siting", {}, status=403)


def test_another_farms_layers_are_not_found(bench: Bench, stranger: Api, farm: Farm) -> None:
    up = bench.upload(yield_table())
    bench.store(up)
    layer = SitingLayer.objects.for_farm(farm).filter(block=bench.block)[0]
    for path in (f"siting-layers/{layer.pk}", f"layer-files/{up['summary']['id']}/reading"):
        stranger.put(f"{BASE}/{path}", up["reading"], status=404)
    stranger.get(f"{BASE}/blocks/{bench.block}/siting", status=404)
    assert LayerFile.objects.for_farm(farm).filter(pk=up["summary"]["id"]).exists()


def numbers(text: str, form: str) -> np.ndarray:
    return np.frombuffer(base64.b64decode(text), form)


def test_points_are_told_with_what_becomes_of_them_and_nothing_is_stored(bench: Bench) -> None:
    bench.store(bench.upload(yield_table()))
    layer = bench.siting()["layers"][0]
    path = f"{BASE}/siting-layers/{layer['id']}"
    found = bench.api.post(f"{path}/points", {}, 200)
    assert found["count"] == layer["point_count"] == len(numbers(found["x"], "<u2"))
    assert found["dropped"] == layer["facts"]["dropped"]
    why = numbers(found["why"], "u1")
    assert (why == 0).sum() == found["dropped"]["kept"]
    assert found["reasons"][int(why.max())] in found["dropped"]
    # The net is 312 by 320 m of the plan, whose degrees are those of a sphere.
    x, y = numbers(found["x"], "<u2"), numbers(found["y"], "<u2")
    assert found["step_m"] * x.max() == pytest.approx(312, rel=0.003)
    assert found["step_m"] * y.max() == pytest.approx(320, rel=0.003)
    assert numbers(found["value"], "<f4").max() < 12
    assert found["number"] is None
    wide = bench.api.post(f"{path}/points", {"cleaning": {"headland_m": 40}}, 200)
    assert wide["dropped"]["headland"] > found["dropped"]["headland"]
    assert bench.siting()["layers"][0]["facts"] == layer["facts"]


def test_points_in_an_area_are_left_out_and_put_back(bench: Bench) -> None:
    bench.store(bench.upload(yield_table()))
    layer = bench.siting()["layers"][0]
    path = f"{BASE}/siting-layers/{layer['id']}"
    ring = polygon((900, 250), (980, 250), (980, 330), (900, 330))["coordinates"][0][:-1]
    out = bench.api.post(f"{path}/points", {"area": {"ring": ring, "leave_out": True}}, 200)
    # A net of 8 m over 80 m by 80 m.
    assert len(out["put_aside"]) == pytest.approx(100, abs=11)
    assert out["dropped"]["put_aside"] > 80
    kept = bench.api.put(path, {"put_aside": out["put_aside"], "put_back": out["put_back"]})
    assert kept["layers"][0]["facts"]["dropped"] == out["dropped"]
    small = polygon((900, 250), (920, 250), (920, 330), (900, 330))["coordinates"][0]
    back = bench.api.post(f"{path}/points", {"area": {"ring": small, "leave_out": False}}, 200)
    assert 0 < len(back["put_aside"]) < len(out["put_aside"])
    assert len(back["put_back"]) == len(out["put_aside"]) - len(back["put_aside"])
    none = bench.api.post(f"{path}/points", {"put_aside": [], "put_back": []}, 200)
    assert none["dropped"] == layer["facts"]["dropped"]


def test_of_very_many_points_some_that_count_are_not_drawn(
    bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    bench.store(bench.upload(yield_table()))
    layer = bench.siting()["layers"][0]
    monkeypatch.setattr("server.siting.points.MOST_DRAWN", 600)
    found = bench.api.post(f"{BASE}/siting-layers/{layer['id']}/points", {}, 200)
    number, why = numbers(found["number"], "<u4"), numbers(found["why"], "u1")
    assert len(number) == len(why) <= 600 < found["count"]
    assert (np.diff(number.astype(int)) > 0).all()
    assert 0 < (why > 0).sum() <= 300
    assert found["dropped"] == layer["facts"]["dropped"]


def test_rules_that_are_not_told_stay(bench: Bench) -> None:
    bench.store(bench.upload(yield_table()))
    path = f"{BASE}/siting-layers/{bench.siting()['layers'][0]['id']}"
    bench.api.put(path, {"cleaning": {"headland_m": 30}})
    assert bench.api.put(path, {"used": False})["layers"][0]["cleaning"] == {"headland_m": 30}
    assert bench.api.put(path, {"cleaning": {}})["layers"][0]["cleaning"] == {}
