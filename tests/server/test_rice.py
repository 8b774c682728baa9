"""Rice fields over the API: described, answered from their tubes, dried step by step."""

from collections.abc import Callable
from datetime import date, timedelta
from typing import Any

import pytest

from server.blocks.models import Block
from server.farms.models import Farm, Role
from server.paddies.models import Paddy
from tests.server.conftest import Api

BASE = "/farms/thistlewick/blocks"


@pytest.fixture
def rice(farm: Farm) -> Block:
    return Block.objects.for_farm(farm).get(name="Reed Carr")


def as_it_is(**changes: Any) -> dict[str, Any]:
    return {
        "bund_mm": 180,
        "started": "transplanted",
        "refill_to_mm": 50,
        "keep_ponded_until": None,
        "drying_from": None,
        "percolation_mm_day": None,
        "porosity": None,
        "nitrogen": [],
        **changes,
    }


def test_the_answer_is_that_of_its_tubes(manager: Api, rice: Block) -> None:
    answer = manager.get(f"{BASE}/{rice.pk}")["answer"]
    assert answer["regime"] == "ponded"
    ponded = answer["ponded"]
    assert ponded["phase"] == "wetting_and_drying"
    assert ponded["level"]["low"] < ponded["level"]["middle"] < ponded["level"]["high"]
    assert ponded["lower_mm"] == -150
    assert ponded["falls"] > 20
    assert answer["amount"]["hours"] > 5


def test_board_and_page_say_the_same(manager: Api, rice: Block) -> None:
    rows = manager.get("/farms/thistlewick/board")["rows"]
    line = next(r["answer"] for r in rows if r["id"] == rice.pk)
    page = manager.get(f"{BASE}/{rice.pk}")["answer"]
    assert line["start_at"] == page["start_at"]
    assert line["ponded"]["porosity"] == pytest.approx(page["ponded"]["porosity"])
    assert line["ponded"]["cycles"] == page["ponded"]["cycles"]


def test_the_page_has_levels_behind_and_ahead_of_now(manager: Api, rice: Block) -> None:
    levels = manager.get(f"{BASE}/{rice.pk}")["levels"]
    behind = [p for p in levels if p["dry_mm"] is None]
    ahead = [p for p in levels if p["dry_mm"] is not None]
    assert behind[0]["hours"] == -168
    assert behind[-1]["hours"] == 0
    assert ahead[-1]["hours"] == 240
    assert all(p["dry_mm"] <= p["wet_mm"] for p in ahead)


def test_a_reading_by_hand_moves_it(manager: Api, rice: Block) -> None:
    tubes = [i for i in rice.instruments.all() if i.kind == "rice_tube"]
    for tube in tubes:
        values = [{"channel_id": tube.channels.get().pk, "value": 4.0}]
        body = {"time": rice.farm.now().isoformat(), "unit": "cm", "values": values}
        manager.post(f"/farms/thistlewick/instruments/{tube.pk}/readings", body)
    ponded = manager.get(f"{BASE}/{rice.pk}")["answer"]["ponded"]
    assert ponded["level"]["middle"] == pytest.approx(40, abs=3)


def test_a_clogged_tube_is_not_heard_until_it_stands_as_the_water_outside(
    manager: Api, rice: Block
) -> None:
    """Ponded, one tube stands 40 mm lower than the water around it: the other one counts alone."""
    clogged, other = (i for i in rice.instruments.all() if i.kind == "rice_tube")
    now = rice.farm.now()
    for tube, level in ((clogged, 1.0), (other, 5.0)):
        body = {
            "time": now.isoformat(),
            "unit": "cm",
            "values": [{"channel_id": tube.channels.get().pk, "value": level}],
        }
        manager.post(f"/farms/thistlewick/instruments/{tube.pk}/readings", body)
    log = f"/farms/thistlewick/instruments/{clogged.pk}/events"

    def answer() -> dict[str, Any]:
        found: dict[str, Any] = manager.get(f"{BASE}/{rice.pk}")["answer"]
        return found

    assert answer()["ponded"]["level"]["middle"] == pytest.approx(30, abs=3)
    entry = {"kind": "serviced", "done": ["clean"], "proof": -40.0}
    assert manager.post(log, entry, 201)["passed"] is False
    found = answer()
    assert found["ponded"]["level"]["middle"] == pytest.approx(50, abs=3)
    assert "sensor_excluded" in found["reasons"]
    assert manager.post(log, {**entry, "proof": -2.0}, 201)["passed"] is True
    assert answer()["ponded"]["level"]["middle"] == pytest.approx(30, abs=3)


def test_a_block_is_described_and_no_longer(manager: Api, block: Block) -> None:
    path = f"{BASE}/{block.pk}/paddy"
    assert manager.get(path) == {"paddy": None}
    saved = manager.put(path, as_it_is(bund_mm=220, nitrogen=["2026-07-20", "2026-07-10"]))
    assert saved["nitrogen"] == ["2026-07-10", "2026-07-20"]
    assert saved["threshold_mm"] == -150
    # Another crop than rice is kept above refill, within bunds too.
    assert manager.get(f"{BASE}/{block.pk}")["answer"]["regime"] == "above_refill"
    assert manager.client.delete(f"/api{path}").status_code == 200
    assert manager.get(path) == {"paddy": None}


@pytest.mark.parametrize(
    ("wrong", "field"),
    [
        ({"bund_mm": 20}, "bund_mm"),
        ({"refill_to_mm": 175}, "refill_to_mm"),
        ({"percolation_mm_day": 300}, "percolation_mm_day"),
        ({"porosity": 0.7}, "porosity"),
    ],
)
def test_what_cannot_be_is_refused(
    manager: Api, rice: Block, wrong: dict[str, float], field: str
) -> None:
    refused = manager.put(f"{BASE}/{rice.pk}/paddy", as_it_is(**wrong), status=422)
    assert [p["field"] for p in refused["problems"]] == [field]
    assert Paddy.objects.for_farm(rice.farm).get(block=rice).bund_mm == 180


def test_describing_it_again_leaves_the_threshold(manager: Api, rice: Block) -> None:
    Paddy.objects.for_farm(rice.farm).filter(block=rice).update(threshold_mm=-200)
    assert manager.put(f"{BASE}/{rice.pk}/paddy", as_it_is())["threshold_mm"] == -200


def test_a_deeper_drying_is_a_step_that_somebody_stands_by(manager: Api, rice: Block) -> None:
    path = f"{BASE}/{rice.pk}/paddy/threshold"
    two_steps = manager.put(path, {"threshold_mm": -250, "no_harm": True}, status=422)
    assert "one step" in two_steps["problems"][0]["message"]
    unseen = manager.put(path, {"threshold_mm": -200}, status=422)
    assert unseen["problems"][0]["field"] == "no_harm"
    manager.put(path, {"threshold_mm": -200, "no_harm": True})
    answer = manager.get(f"{BASE}/{rice.pk}")["answer"]
    assert answer["ponded"]["lower_mm"] == -200
    # The dryings before it do not count for the next step.
    assert answer["ponded"]["cycles"] == 0
    again = manager.put(path, {"threshold_mm": -250, "no_harm": True}, status=422)
    assert "two dryings" in again["problems"][0]["message"]
    # Back goes at any time.
    manager.put(path, {"threshold_mm": -150})
    assert manager.get(f"{BASE}/{rice.pk}")["answer"]["ponded"]["lower_mm"] == -150


def test_no_deeper_drying_in_flowering(manager: Api, rice: Block) -> None:
    season = rice.seasons.get()
    season.planted_on = rice.farm.now().date() - timedelta(days=118)
    season.save()
    body = {"threshold_mm": -200, "no_harm": True}
    refused = manager.put(f"{BASE}/{rice.pk}/paddy/threshold", body, status=422)
    assert "not dried at this stage" in refused["problems"][0]["message"]
    ponded = manager.get(f"{BASE}/{rice.pk}")["answer"]["ponded"]
    assert ponded["phase"] == "flowering"
    assert ponded["lower_mm"] >= 50


def test_an_irrigator_marks_nitrogen_and_sets_nothing_up(
    as_role: Callable[[Role], Api], manager: Api, rice: Block
) -> None:
    irrigator = as_role(Role.IRRIGATOR)
    path = f"{BASE}/{rice.pk}/paddy"
    planned = manager.get(path)["paddy"]["nitrogen"]
    done = irrigator.post(f"{path}/nitrogen", {"on": planned[0]})
    assert done["nitrogen"] == planned[1:]
    assert rice.farm.now().date().isoformat() in done["nitrogen_done"]
    irrigator.post(f"{path}/nitrogen", {"on": planned[0]}, status=404)
    irrigator.put(path, as_it_is(), status=403)
    irrigator.put(f"{path}/threshold", {"threshold_mm": -200, "no_harm": True}, status=403)


def test_the_season_adds_up(manager: Api, rice: Block) -> None:
    season = manager.get(f"{BASE}/{rice.pk}/paddy/season")["season"]
    assert season["given_m3"] == pytest.approx(season["given_mm"] / 1000 * rice.area_m2, rel=1e-3)
    saved = 1 - season["given_mm"] / season["continuous_mm"]
    assert season["saved"]["middle"] == pytest.approx(saved, abs=2e-3)
    assert season["saved"]["low"] < season["saved"]["middle"] < season["saved"]["high"]
    assert date.fromisoformat(season["first"]) == rice.seasons.get().planted_on
    assert all(d["deepest_mm"] < 0 for d in season["dryings"])


def test_fields_of_one_supply_stand_side_by_side(manager: Api, rice: Block) -> None:
    supplies = manager.get("/farms/thistlewick/rice-fields")
    assert [s["supply"] for s in supplies] == ["Carr sluice"]
    fields = supplies[0]["fields"]
    assert [f["block"] for f in fields] == ["Reed Carr", "Osier Carr"]
    assert fields[0]["start_at"] <= fields[1]["start_at"]


def test_a_block_that_is_no_rice_field_has_no_season_of_one(manager: Api, block: Block) -> None:
    manager.get(f"{BASE}/{block.pk}/paddy/season", status=404)
    manager.put(f"{BASE}/{block.pk}/paddy/threshold", {"threshold_mm": -150}, status=404)
    assert manager.client.delete(f"/api{BASE}/{block.pk}/paddy").status_code == 404


def test_a_plan_of_all_blocks_has_its_floodings(manager: Api, rice: Block) -> None:
    sheet = manager.get("/farms/thistlewick/run-sheet")["sheet"]
    assert any(s["block_id"] == rice.pk for s in sheet["sets"])


def test_the_tube_sheet_is_a_page(manager: Api, rice: Block, block: Block) -> None:
    sheet = manager.client.get(f"/api{BASE}/{rice.pk}/tube-sheet.pdf")
    assert sheet.status_code == 200
    assert sheet.content.startswith(b"%PDF")
    assert manager.client.get(f"/api{BASE}/{block.pk}/tube-sheet.pdf").status_code == 404
