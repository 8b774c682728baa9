"""Spots chosen, exported, installed; which kind suits; similar blocks."""

import json
from typing import Any

import numpy as np
import pytest
from defusedxml.ElementTree import fromstring

from server.blocks.limit_changes import timeline
from server.blocks.models import Block
from server.farms.models import Farm
from server.instruments.models import Instrument
from server.soils.convert import soil_profile
from tests.server.siting_bench import BASE, Bench, siting_bench, three_years  # noqa: F401


def at(position: list[float]) -> dict[str, float]:
    return {"longitude": position[0], "latitude": position[1]}


def test_a_spot_is_chosen_once_by_name_and_taken_along(bench: Bench, farm: Farm) -> None:
    three_years(bench)
    position = bench.siting()["spots"][0]["position"]
    path = f"{BASE}/blocks/{bench.block}/siting/spots"
    body = {**at(position), "name": "Spot 1", "why": "near the median & even"}
    spot = bench.api.post(path, body, 201)
    assert spot["score"] > 50
    assert spot["made_by"]
    refused = bench.api.post(path, body, 422)
    assert refused["problems"][0]["field"] == "name"
    gpx = bench.api.client.get(f"/api{BASE}/probe-spots/export?form=gpx")
    point = fromstring(gpx.content)[0]
    assert float(point.get("lat") or 0) == pytest.approx(position[1], abs=1e-6)
    assert [child.text for child in point][1:3] == ["Quern Field Spot 1", "near the median & even"]
    geojson = json.loads(
        bench.api.client.get(f"/api{BASE}/probe-spots/export?form=geojson").content
    )
    assert geojson["features"][0]["geometry"]["coordinates"] == pytest.approx(position, abs=1e-6)
    bench.api.delete(f"{BASE}/probe-spots/{spot['id']}")
    assert bench.siting()["chosen"] == []


def chosen(bench: Bench) -> Any:
    three_years(bench)
    position = bench.siting()["spots"][0]["position"]
    body = {**at(position), "name": "Spot 1", "why": "near the median"}
    return bench.api.post(f"{BASE}/blocks/{bench.block}/siting/spots", body, 201)


def test_a_spot_tells_how_a_kind_is_installed(bench: Bench) -> None:
    spot = chosen(bench)
    path = f"{BASE}/probe-spots/{spot['id']}"
    sheet = bench.api.get(f"{path}?kind=tensiometer")
    assert (sheet["block"], sheet["spot"]["name"]) == ("Quern Field", "Spot 1")
    assert sheet["usual_depths_mm"] == [300, 600, 900]
    assert any("50 mm" in step for step in sheet["steps"])
    assert any("buried" in caution.lower() for caution in sheet["cautions"])


def test_an_instrument_at_a_spot_goes_onto_a_round(bench: Bench) -> None:
    spot = chosen(bench)
    walk = bench.api.get(f"{BASE}/rounds")["rounds"][0]
    path = f"{BASE}/probe-spots/{spot['id']}/instrument"
    body = {"label": "Probe Q9", "kind": "capacitance_probe", "depths_mm": [100, 300, 600]}
    made = bench.api.post(path, {**body, "round_id": walk["id"]}, 201)
    instrument = Instrument.unscoped.get(pk=made["instrument"])
    assert instrument.position == spot["position"]
    assert instrument.site == "Spot 1: near the median"
    stops = bench.api.get(f"{BASE}/rounds")["rounds"][0]["stops"]
    assert stops[-1]["instrument_id"] == made["instrument"]
    assert len(stops) == len(walk["stops"]) + 1
    assert "stands at this spot already" in bench.api.post(path, body, 422)["message"]
    # Its cable's reach counts from now on.
    terms = {x["term"]: x["value"] for x in bench.siting()["spots"][0]["terms"]}
    assert "cable" in terms


def test_an_instrument_without_depths_is_refused_whole(bench: Bench) -> None:
    spot = chosen(bench)
    path = f"{BASE}/probe-spots/{spot['id']}/instrument"
    body = {"label": "Probe Q9", "kind": "capacitance_probe", "depths_mm": []}
    refused = bench.api.post(path, body, 422)
    assert refused["problems"][0]["field"] == "depths_mm"
    assert not Instrument.unscoped.filter(label="Probe Q9").exists()


def test_which_kind_suits_a_block(bench: Bench, farm: Farm) -> None:
    """Potatoes (p 0.35 in FAO-56, table 22): at refill 35 % of each horizon's water is gone."""
    path = f"{BASE}/blocks/{bench.block}/instrument-choice"
    found = bench.api.post(path, {"visits_a_week": 2})
    assert (found["crop"], found["p"]) == ("Potato", 0.35)
    block = Block.objects.for_farm(farm).get(pk=bench.block)
    profile = soil_profile(timeline(block.soils.all())[-1].soil)
    full, wilt = profile.theta_full, profile.theta_wilt
    in_roots = len(found["refill_kpa"])
    kpa = np.full(len(full), 100.0)
    kpa[:in_roots] = found["refill_kpa"]
    left = profile.curve.theta_at(kpa) * (1 - profile.gravel)
    gone = ((full - left) / (full - wilt))[:in_roots]
    assert gone == pytest.approx([0.35] * in_roots, abs=1e-6)
    tensiometer = next(k for k in found["kinds"] if k["kind"] == "tensiometer")
    assert f"{min(found['refill_kpa']):.0f} kPa" in tensiometer["ruled_out"][0]
    logged = bench.api.post(path, {"logged": True, "prices": {"granular_matrix": 240}})
    assert {k["kind"] for k in logged["kinds"] if k["ruled_out"]} == {"tensiometer", "feel_check"}
    priced = next(k for k in logged["kinds"] if k["kind"] == "granular_matrix")
    assert priced["cost"] == 240
    bench.api.post(path, {"visits_a_week": -1}, 422)


def test_a_block_without_a_crop_has_no_refill_point_to_see(bench: Bench, farm: Farm) -> None:
    block = Block.objects.for_farm(farm).get(pk=bench.block)
    block.seasons.all().delete()
    found = bench.api.post(f"{BASE}/blocks/{bench.block}/instrument-choice", {})
    assert (found["crop"], found["p"], found["refill_kpa"]) == ("", None, [])
    assert found["root_mm"] == 600


def test_similar_blocks_and_their_sites(bench: Bench) -> None:
    cover = bench.api.get(f"{BASE}/siting")
    names = [b["name"] for g in cover["groups"] for b in g["blocks"]]
    assert sorted(names) == sorted(set(names))
    tye = next(g for g in cover["groups"] if g["blocks"][0]["name"] == "Long Tye")
    assert tye["blocks"][0]["has_layers"]
    assert tye["sites"] == len(tye["blocks"][0]["sites"]) > 0
    assert cover["groups"][0]["sites"] == 0 or all(g["sites"] for g in cover["groups"])


def test_a_spot_outside_the_block_is_refused(bench: Bench) -> None:
    three_years(bench)
    path = f"{BASE}/blocks/{bench.block}/siting"
    body = {**at([3.05, 56.4]), "name": "Far", "why": "why"}
    assert "outside the block" in bench.api.post(f"{path}/spots", body, 422)["message"]
    bench.api.get(f"{path}/spot?longitude=3.05&latitude=56.4", status=422)
