"""Crops of the farm's own, seasons and what is seen of them, limits by method, many blocks."""

from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from server.blocks.models import Block, CropSeason
from server.farms.models import Farm, Role
from server.limits.models import RefillRule
from server.soils.models import Horizon
from tests.server.conftest import Api, new_block

BASE = "/farms/thistlewick"


def at(block: Block) -> str:
    return f"{BASE}/blocks/{block.pk}"


def fields(answer: dict[str, Any]) -> set[str]:
    return {p["field"] for p in answer["problems"]}


def own(manager: Api, **changes: Any) -> dict[str, Any]:
    book = manager.get(f"{BASE}/crops/potato")
    names = (
        "stage_days", "kc", "surface", "root_initial_mm", "root_schedule_mm", "root_deep_mm", "p",
        "tension_kpa", "salt", "degree_days", "canopy",
    )  # fmt: skip
    return {
        "name": "Potato, earlies",
        "book_key": "potato",
        "reason": "our own trial",
        **{n: book[n] for n in names},
        **changes,
    }


def test_a_copy_keeps_only_what_differs(manager: Api, block: Block) -> None:
    made = manager.post(f"{BASE}/crops", own(manager, p=0.3, stage_days=[20, 25, 35, 20]), 201)
    mine = manager.get(f"{BASE}/crops/{made['key']}")
    assert {d["value"]: (d["own"], d["book"]) for d in mine["differences"]} == {
        "p": ("0.3", "0.35"),
        "stage_days": ("20 / 25 / 35 / 20", "25 / 30 / 45 / 30"),
    }
    assert mine["sources"]["p"] == "the farm's own: our own trial"
    assert mine["sources"]["kc"] == "FAO-56 table 12, from memory"
    season = CropSeason.objects.for_farm(block.farm).get(block=block)
    body = {"crop_key": made["key"], "planted_on": "2026-04-20"}
    manager.put(f"{at(block)}/seasons/{season.pk}", body)
    assert manager.get(at(block))["crop"] == "Potato, earlies"
    assert manager.client.delete(f"/api{BASE}/crops/{made['key']}").status_code == 422
    manager.put(f"{at(block)}/seasons/{season.pk}", {**body, "crop_key": "potato"})
    assert manager.client.delete(f"/api{BASE}/crops/{made['key']}").status_code == 200


@pytest.mark.parametrize(
    ("change", "kcb", "height"),
    [
        ({}, [0.15, 1.1, 0.65], 0.6),
        ({"kc": [0.5, 1.1, 0.75]}, None, 0.6),
        ({"kc": [0.5, 1.1, 0.75], "kcb": [0.15, 1.05, 0.65]}, [0.15, 1.05, 0.65], 0.6),
        # As the book has it, but beside a Kc that the book has not: a person left it there.
        ({"kc": [0.5, 1.12, 0.75], "kcb": [0.15, 1.1, 0.65]}, [0.15, 1.1, 0.65], 0.6),
        ({"kcb": None, "height_m": None}, None, 0.6),
        ({"height_m": 0.8}, [0.15, 1.1, 0.65], 0.8),
    ],
    ids=["left out", "own Kc", "both own", "book's beside own", "not known", "taller"],
)
def test_basal_values_and_height_of_a_copy(
    manager: Api, change: dict[str, Any], kcb: list[float] | None, height: float
) -> None:
    made = manager.post(f"{BASE}/crops", own(manager, **change), 201)
    mine = manager.get(f"{BASE}/crops/{made['key']}")
    assert (mine["kcb"], mine["height_m"]) == (kcb, height)
    assert ("kcb" in mine["sources"]) == (kcb is not None)


def test_wet_soil_apart_needs_a_basal_coefficient(manager: Api) -> None:
    """The book has none for grazed pasture."""
    said = "Grazed pasture, rotated has no basal coefficient (Kcb)."
    refused = manager.post(
        f"{BASE}/blocks", new_block(crop_key="pasture-grazed", dual=True), status=422
    )
    assert [p["field"] for p in refused["problems"]] == ["dual"]
    assert refused["problems"][0]["message"].startswith(said)
    made = manager.post(f"{BASE}/blocks", new_block(dual=True), status=201)
    change = {"block_ids": [made["id"]], "crop_key": "pasture-grazed", "planted_on": "2026-06-01"}
    refused = manager.post(f"{BASE}/bulk", change, status=422)
    assert refused["problems"][0]["message"].startswith(
        "Teasel Corner calculates soil evaporation apart, and "
    )
    manager.post(f"{BASE}/blocks", new_block(name="B", crop_key="pasture-grazed"), status=201)


@pytest.mark.parametrize(
    "change, field",
    [
        ({"p": 0.95}, "p"),
        ({"kcb": [0.15, 1.3, 0.65]}, "kcb"),
        ({"kcb": [0.15, 1.1]}, "kcb"),
        ({"height_m": 50}, "height_m"),
        ({"kc": [0.5, 3, 0.7]}, "kc"),
        ({"root_initial_mm": 900}, "root_schedule_mm"),
        ({"name": "Potato"}, "name"),
        ({"name": ""}, "name"),
        ({"book_key": "turnip"}, "book_key"),
        ({"surface": "moss"}, "surface"),
    ],
)
def test_copies_that_can_not_be(manager: Api, change: dict[str, Any], field: str) -> None:
    answer = manager.post(f"{BASE}/crops", own(manager, **change), status=422)
    assert field in fields(answer)


def season_of(manager: Api, block: Block) -> dict[str, Any]:
    found: dict[str, Any] = manager.get(f"{at(block)}/seasons")[0]
    return found


def test_a_stage_seen_moves_the_season(manager: Api, block: Block) -> None:
    before = manager.get(f"{at(block)}/limits")
    season = season_of(manager, block)
    events = f"{at(block)}/seasons/{season['id']}/events"
    seen = {"kind": "stage", "on": "2026-07-10", "stage_key": "tuber-set"}
    manager.post(events, seen, status=201)
    after = manager.get(f"{at(block)}/limits")
    assert before["stage"] == "mid season"
    assert after["stage"] == "development"
    # The days before it stay as they were.
    day = 60
    assert before["curve"]["kc"][day] == after["curve"]["kc"][day]
    event = season_of(manager, block)["events"][0]
    assert event["label"] == "tubers set"
    assert manager.client.delete(f"/api{events}/{event['id']}").status_code == 200
    assert manager.get(f"{at(block)}/limits")["stage"] == "mid season"


@pytest.mark.parametrize(
    "event, field",
    [
        ({"kind": "stage", "on": "2026-08-30", "stage_key": "tuber-set"}, "on"),
        ({"kind": "stage", "on": "2026-03-30", "stage_key": "tuber-set"}, "on"),
        ({"kind": "stage", "on": "2026-06-30", "stage_key": "V10"}, "stage_key"),
        ({"kind": "cut", "on": "2026-06-30"}, "kind"),
        ({"kind": "cover", "on": "2026-06-30", "cover": 0.5, "height_m": 1}, "kind"),
    ],
)
def test_what_can_not_have_been_seen(
    manager: Api, block: Block, event: dict[str, Any], field: str
) -> None:
    season = season_of(manager, block)
    answer = manager.post(f"{at(block)}/seasons/{season['id']}/events", event, status=422)
    assert fields(answer) == {field}


def test_stages_follow_each_other(manager: Api, farm: Farm) -> None:
    maize = Block.objects.for_farm(farm).get(name="Long Tye")
    season = season_of(manager, maize)
    assert [e["stage_key"] for e in season["events"]] == ["V6", "V10", "VT"]
    answer = manager.post(
        f"{at(maize)}/seasons/{season['id']}/events",
        {"kind": "stage", "on": "2026-06-20", "stage_key": "V8"},
        status=422,
    )
    assert "V10" in answer["problems"][0]["message"]


def test_warmth_needs_degree_days(manager: Api, block: Block) -> None:
    season = season_of(manager, block)
    body = {"crop_key": "celery", "planted_on": "2026-04-20", "clock": "degree-days"}
    answer = manager.put(f"{at(block)}/seasons/{season['id']}", body, status=422)
    assert fields(answer) == {"clock"}
    manager.put(f"{at(block)}/seasons/{season['id']}", {**body, "crop_key": "potato"})
    assert manager.get(f"{at(block)}")["answer"]["state"] != "no_reliable_data"


def test_a_season_can_not_begin_after_what_was_seen(manager: Api, farm: Farm) -> None:
    maize = Block.objects.for_farm(farm).get(name="Long Tye")
    season = season_of(manager, maize)
    body = {"crop_key": "maize-grain", "planted_on": "2026-06-20"}
    answer = manager.put(f"{at(maize)}/seasons/{season['id']}", body, status=422)
    assert "2026-05-29" in answer["problems"][0]["message"]


def test_an_orchards_cover_scales_its_use(manager: Api, farm: Farm) -> None:
    walnuts = Block.objects.for_farm(farm).get(name="Upper Hanger")
    season = season_of(manager, walnuts)
    before = manager.get(f"{at(walnuts)}/limits")["kc"]
    manager.post(
        f"{at(walnuts)}/seasons/{season['id']}/events",
        {"kind": "cover", "on": "2026-07-12", "cover": 0.25, "height_m": 3.0},
        status=201,
    )
    assert manager.get(f"{at(walnuts)}/limits")["kc"] < before - 0.2


def test_limits_by_three_methods_and_layers(manager: Api, block: Block) -> None:
    found = manager.get(f"{at(block)}/limits")
    refill_methods = {s["refill_method"]: s for s in found["refill_methods"]}
    assert set(refill_methods) == {"crop_p", "flat", "tension"}
    assert [s for s in refill_methods if refill_methods[s]["in_force"]] == ["crop_p"]
    assert refill_methods["flat"]["raw_mm"] == pytest.approx(0.5 * found["taw_mm"])
    assert refill_methods["tension"]["value"] == 40
    assert found["refill_mm"] == pytest.approx(refill_methods["crop_p"]["refill_mm"])
    for total, layer in (("full_mm", "full_mm"), ("wilt_mm", "wilt_mm"), ("refill_mm",) * 2):
        assert sum(x[layer] for x in found["layers"]) == pytest.approx(found[total])
    curve = found["curve"]
    assert len({len(v) for v in curve.values() if isinstance(v, list)}) == 1
    assert {w["name"] for w in found["windows"]} >= {"flowering", "ripening"}


def test_a_refill_rule_is_dated_signed_and_undone(manager: Api, block: Block) -> None:
    rule = {"refill_method": "tension", "value": 35, "from_on": "2026-07-01", "reason": "scab year"}
    before = manager.get(f"{at(block)}/limits?on=2026-06-20")["refill_mm"]
    manager.post(f"{at(block)}/limits/refill", rule, status=201)
    now = manager.get(f"{at(block)}/limits")
    assert next(s for s in now["refill_methods"] if s["in_force"])["refill_method"] == "tension"
    # Each layer stands at the limit, where it is not wetter than full.
    assert {round(x["refill_kpa"]) for x in now["layers"]} <= {33, 35}
    assert manager.get(f"{at(block)}/limits?on=2026-06-20")["refill_mm"] == before
    change = next(c for c in now["changes"] if c["kind"] == "refill")
    assert (change["value"], change["reason"], change["from_on"]) == (35, "scab year", "2026-07-01")
    path = f"/api{at(block)}/limits/refill/{change['id']}"
    assert manager.client.delete(path).status_code == 200
    assert manager.client.delete(path).status_code == 404
    assert RefillRule.objects.for_farm(block.farm).filter(block=block).count() == 1


def test_the_boards_answer_goes_by_the_rule_in_force(manager: Api, block: Block) -> None:
    careful = {"refill_method": "flat", "value": 0.4, "reason": "seed crop"}
    manager.post(f"{at(block)}/limits/refill", careful, status=201)
    before = manager.get(at(block))["answer"]["usable_mm"]
    rule = {"refill_method": "flat", "value": 0.6, "reason": "seed crop is off"}
    manager.post(f"{at(block)}/limits/refill", rule, status=201)
    after = manager.get(at(block))
    assert after["answer"]["usable_mm"] > before
    assert next(s for s in after["refill_methods"] if s["in_force"])["p"] == 0.6


@pytest.mark.parametrize(
    "rule",
    [
        {"refill_method": "flat", "value": 0.95},
        {"refill_method": "tension", "value": 3},
        {"refill_method": "crop_p", "value": 35},
    ],
)
def test_rules_out_of_range_are_refused(manager: Api, block: Block, rule: dict[str, Any]) -> None:
    answer = manager.post(f"{at(block)}/limits/refill", rule, status=422)
    assert fields(answer) == {"value"}


def test_the_only_soil_can_not_be_undone(manager: Api, farm: Farm) -> None:
    block = Block.objects.for_farm(farm).get(name="Low Ings")
    soil = next(c for c in manager.get(f"{at(block)}/limits")["changes"] if c["kind"] == "soil")
    answer = manager.client.delete(f"/api{at(block)}/limits/soil/{soil['id']}")
    assert answer.status_code == 422


def test_forty_blocks_get_the_same_crop_in_one_go(manager: Api, farm: Farm) -> None:
    ids = [
        manager.post(f"{BASE}/blocks", new_block(name=f"Plot {i}"), status=201)["id"]
        for i in range(40)
    ]
    with CaptureQueriesContext(connection) as few:
        manager.get(f"{BASE}/block-list")
    body = {"block_ids": ids, "crop_key": "onion-dry", "planted_on": "2026-06-01"}
    assert manager.post(f"{BASE}/bulk", body) == {"blocks": 40}
    lines = {x["id"]: x for x in manager.get(f"{BASE}/block-list")}
    assert all(lines[i]["crop_key"] == "onion-dry" for i in ids)
    assert all(lines[i]["taw_mm"] > lines[i]["raw_mm"] > 0 for i in ids)
    manager.post(
        f"{BASE}/bulk", {"block_ids": ids, "refill_method": "flat", "value": 0.4, "reason": "x"}
    )
    lines = {x["id"]: x for x in manager.get(f"{BASE}/block-list")}
    assert all(lines[i]["raw_mm"] == pytest.approx(0.4 * lines[i]["taw_mm"]) for i in ids)
    assert len(few) <= 16


@pytest.mark.parametrize(
    "change, status",
    [
        ({"crop_key": "onion-dry"}, 422),
        ({"crop_key": "turnip", "planted_on": "2026-06-01"}, 422),
        ({}, 422),
        ({"soil_id": 999_999}, 404),
        ({"refill_method": "tension", "value": 1}, 422),
        ({"crop_key": "celery", "planted_on": "2026-06-01", "clock": "degree-days"}, 422),
    ],
)
def test_many_are_changed_all_or_none(
    manager: Api, farm: Farm, change: dict[str, Any], status: int
) -> None:
    ids = list(Block.objects.for_farm(farm).values_list("pk", flat=True))
    before = manager.get(f"{BASE}/block-list")
    manager.post(f"{BASE}/bulk", {"block_ids": ids, **change}, status=status)
    assert manager.get(f"{BASE}/block-list") == before


def test_a_foreign_block_spoils_the_whole_change(stranger: Api, block: Block) -> None:
    body = {"block_ids": [block.pk], "refill_method": "flat"}
    stranger.post("/farms/barrow/bulk", body, status=404)
    stranger.get(f"/farms/barrow/blocks/{block.pk}/limits", status=404)


def test_salt_in_soil_and_water(manager: Api, farm: Farm) -> None:
    onions = Block.objects.for_farm(farm).get(name="Marl Pit")
    found = manager.get(f"{at(onions)}/limits")
    # ECe 1.1 where all the roots are; the threshold is 1.2. Nine tenths of the yield are left at
    # 1.2 + 10 / 16 = 1.825: LR = 0.9 / (5 x 1.825 - 0.9).
    assert found["ece"] == pytest.approx(1.1)
    assert found["relative_yield"] == 1
    assert found["leaching"] == {
        "share": pytest.approx(0.9 / 8.225),
        "ece_ds_m": pytest.approx(1.825),
        "yield_left": pytest.approx(0.9),
        "falls_short": False,
    }


def test_measured_salt_lowers_use_and_is_said(manager: Api, farm: Farm) -> None:
    """Onions at ECe 3.0: 16 % a dS/m above 1.2, Ky 1.1: 1 - 0.288 / 1.1 of their Kc."""
    onions = Block.objects.for_farm(farm).get(name="Marl Pit")
    before = {s["key"]: s["value"] for s in manager.get(at(onions))["steps"]}
    assert "ks_salt" not in before
    Horizon.objects.for_farm(farm).filter(profile__block_soils__block=onions).update(ece=3.0)
    shown = manager.get(at(onions))
    after = {s["key"]: s["value"] for s in shown["steps"]}
    assert "salt_lowers_use" in shown["answer"]["reasons"]
    assert after["ks_salt"] == pytest.approx(1 - 0.16 * 1.8 / 1.1)
    assert after["kc"] == pytest.approx(before["kc"] * after["ks_salt"])


def test_a_planned_crop_leaves_the_one_in_the_ground_alone(manager: Api, block: Block) -> None:
    """The form shows and changes the season under way, not the newest."""
    body = {"crop_key": "celery", "planted_on": "2026-08-01"}
    manager.post(f"{at(block)}/seasons", body, status=201)
    setup = manager.get(f"{at(block)}/setup")
    assert setup["crop_key"] == "potato"
    manager.put(f"{at(block)}/setup", setup)
    crops = {s["planted_on"]: s["crop_key"] for s in manager.get(f"{at(block)}/seasons")}
    assert crops == {"2026-08-01": "celery", "2026-04-20": "potato"}
    clash = {**setup, "planted_on": "2026-08-01"}
    assert fields(manager.put(f"{at(block)}/setup", clash, status=422)) == {"planted_on"}


def test_roots_below_the_described_soil_are_refused_with_the_cure(
    manager: Api, farm: Farm, block: Block
) -> None:
    """Quern Field is described to 100 cm; walnut roots to 170."""
    setup = manager.get(f"{at(block)}/setup")
    answer = manager.put(f"{at(block)}/setup", {**setup, "crop_key": "walnut"}, status=422)
    assert fields(answer) == {"soil_id"}
    assert "70 cm deeper, or mark the layer" in answer["problems"][0]["message"]
    season = {"crop_key": "walnut", "planted_on": "2027-04-01"}
    assert fields(manager.post(f"{at(block)}/seasons", season, status=422)) == {"crop_key"}
    many = {"block_ids": [block.pk], **season}
    assert "Quern Field" in manager.post(f"{BASE}/bulk", many, status=422)["problems"][0]["message"]
    fresh = new_block(crop_key="walnut")
    assert fields(manager.post(f"{BASE}/blocks", fresh, status=422)) == {"horizons.1.bottom_mm"}
    soil = manager.get(f"{BASE}/soils/{setup['soil_id']}")
    shallow = {"name": soil["name"], "horizons": soil["horizons"][:1]}
    answer = manager.put(f"{BASE}/soils/{soil['id']}", shallow, status=422)
    assert fields(answer) == {"horizons.0.bottom_mm"}
    # A layer that stops roots says why no more is known.
    stopped = [*fresh["horizons"], {"top_mm": 900, "bottom_mm": 950, "texture": "clay"}]
    stopped[-1]["stops_roots"] = True
    manager.post(f"{BASE}/blocks", new_block(crop_key="walnut", horizons=stopped), status=201)


def test_a_foreign_block_can_not_be_put_on_our_soil(stranger: Api, block: Block) -> None:
    horizons = [{"top_mm": 0, "bottom_mm": 900, "texture": "loam"}]
    soil = stranger.post("/farms/barrow/soils", {"name": "S", "horizons": horizons}, status=201)
    body = {"block_ids": [block.pk]}
    stranger.post(f"/farms/barrow/soils/{soil['id']}/blocks", body, status=404)


def test_a_scout_sees_stages_but_sets_no_limits(as_role: Any, block: Block) -> None:
    scout = as_role(Role.SCOUT)
    season = season_of(scout, block)
    seen = {"kind": "stage", "on": "2026-07-10", "stage_key": "rows-closed"}
    scout.post(f"{at(block)}/seasons/{season['id']}/events", seen, status=201)
    scout.post(f"{at(block)}/limits/refill", {"refill_method": "flat"}, status=403)


def test_an_alfalfa_kc_waits_for_the_farms_ratio(manager: Api, farm: Farm, block: Block) -> None:
    season = season_of(manager, block)
    body = {"crop_key": "maize-grain-alfalfa", "planted_on": "2026-05-01"}
    manager.put(f"{at(block)}/seasons/{season['id']}", body)
    assert manager.get(at(block))["answer"]["reasons"] == ["surfaces_differ"]
    limits = manager.get(f"{at(block)}/limits")
    assert "ratio" in limits["why_not"]
    assert limits["layers"] == []
    stated = {"low": None, "expected": None, "high": None, "alfalfa_ratio": 1.2}
    manager.put(f"{BASE}/stated-et", stated)
    assert manager.get(at(block))["answer"]["state"] != "no_reliable_data"
    assert manager.get(f"{at(block)}/limits")["kc"] == pytest.approx(1.1 * 1.2, abs=0.05)
    manager.put(f"{BASE}/stated-et", {**stated, "alfalfa_ratio": 12}, status=422)
