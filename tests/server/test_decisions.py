"""Advice accepted, changed, declined, taken back; what would be; looking back."""

from datetime import timedelta
from typing import Any

import pytest

from server.advice.models import Advice, Decision
from server.advice.record import record_day
from server.blocks.models import Block
from server.farms.models import Farm, Role
from server.water.models import Irrigation
from server.weather.models import WeatherDay
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


def decisions(block: Block) -> str:
    return f"{BASE}/blocks/{block.pk}/decisions"


def row_of(manager: Api, block: Block) -> dict[str, Any]:
    return next(r for r in manager.get(f"{BASE}/board")["rows"] if r["id"] == block.pk)


def test_accepting_plans_the_set_as_it_is_shown(manager: Api, farm: Farm, block: Block) -> None:
    before = row_of(manager, block)
    made = manager.post(decisions(block), {"kind": "accepted"}, 201)
    row = Irrigation.objects.for_farm(farm).get(pk=made["set_id"])
    assert row.status == "planned"
    assert row.started_at.isoformat() == "2026-07-14T04:10:00+00:00"
    assert before["answer"]["start_at"] == "2026-07-14T06:10:00+02:00"
    assert row.gross_mm == pytest.approx(before["answer"]["amount"]["gross_mm"])
    after = row_of(manager, block)
    assert after["decision"]["kind"] == "accepted"
    assert after["decision"]["made_by"] == "Maud Pellander"
    assert after["answer"]["state"] != "irrigate_now"
    assert "planned_in_time" in after["answer"]["reasons"]
    kept = Decision.objects.for_farm(farm).get(pk=made["id"])
    assert kept.shown["state"] == "irrigate_now"


def test_a_change_needs_no_reason_but_keeps_it(manager: Api, farm: Farm, block: Block) -> None:
    made = manager.post(
        decisions(block),
        {"kind": "changed", "start_at": "2026-07-14T21:00", "hours": 2, "reason": "cheap power"},
        201,
    )
    row = Irrigation.objects.for_farm(farm).get(pk=made["set_id"])
    assert row.gross_mm == pytest.approx(8.4)
    assert row_of(manager, block)["decision"]["reason"] == "cheap power"


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"kind": "declined"}, "why"),
        ({"kind": "declined", "why": "other"}, "reason"),
        ({"kind": "changed", "start_at": "2026-07-10T20:00", "hours": 2}, "started_at"),
    ],
)
def test_refused_decisions_leave_nothing(
    manager: Api, farm: Farm, block: Block, body: dict[str, Any], field: str
) -> None:
    sets, made = Irrigation.objects.for_farm(farm).count(), Decision.objects.for_farm(farm).count()
    answer = manager.post(decisions(block), body, 422)
    assert [p["field"] for p in answer["problems"]] == [field]
    assert Irrigation.objects.for_farm(farm).count() == sets
    assert Decision.objects.for_farm(farm).count() == made


def test_one_decision_at_a_time_and_it_can_be_taken_back(
    manager: Api, farm: Farm, block: Block
) -> None:
    first = manager.post(decisions(block), {"kind": "accepted"}, 201)
    again = manager.post(decisions(block), {"kind": "declined", "why": "wind"}, 422)
    assert "Maud Pellander has accepted" in again["message"]
    manager._read(manager.client.delete(f"/api{BASE}/decisions/{first['id']}"), 200)
    assert Irrigation.objects.for_farm(farm).get(pk=first["set_id"]).status == "cancelled"
    assert row_of(manager, block)["decision"] is None
    manager.post(decisions(block), {"kind": "declined", "why": "wind"}, 201)
    assert Decision.objects.for_farm(farm).filter(pk=first["id"]).exists()
    assert row_of(manager, block)["answer"]["state"] == "irrigate_now"


def test_water_that_ran_can_not_be_taken_back(manager: Api, block: Block) -> None:
    made = manager.post(decisions(block), {"kind": "accepted"}, 201)
    manager.post(f"{BASE}/water/{made['set_id']}/begin", {})
    answer = manager._read(manager.client.delete(f"/api{BASE}/decisions/{made['id']}"), 422)
    assert "running already" in answer["message"]


def test_many_at_once_all_or_none(manager: Api, farm: Farm) -> None:
    rows = manager.get(f"{BASE}/board")["rows"]
    due = [r["id"] for r in rows if r["answer"]["state"] in ("irrigate_now", "below_refill")]
    silent = next(r for r in rows if r["answer"]["state"] == "no_reliable_data")
    answer = manager.post(f"{BASE}/decisions/accept", {"block_ids": [*due, silent["id"]]}, 422)
    assert "No irrigation is advised for Gorse Piece." in [p["message"] for p in answer["problems"]]
    assert not Decision.objects.for_farm(farm).filter(advice__day="2026-07-14").exists()
    assert manager.post(f"{BASE}/decisions/accept", {"block_ids": due}, 201) == {
        "accepted": len(due)
    }


def test_only_those_who_decide_decide(as_role: Any, stranger: Api, block: Block) -> None:
    for role in (Role.IRRIGATOR, Role.SCOUT, Role.VIEWER):
        as_role(role).post(decisions(block), {"kind": "accepted"}, 403)
    as_role(Role.ADVISER).post(decisions(block), {"kind": "declined", "why": "rain"}, 201)
    stranger.post(decisions(block), {"kind": "accepted"}, 404)


def tried(manager: Api, block: Block, **said: Any) -> dict[str, Any]:
    return manager.post(f"{BASE}/blocks/{block.pk}/what-if", said)


def test_what_if_nothing_is_what_is(manager: Api, block: Block) -> None:
    now = manager.get(f"{BASE}/blocks/{block.pk}")
    same = tried(manager, block)
    assert same["ahead"] == now["ahead"]
    assert same["answer"]["start_at"] == now["answer"]["start_at"]


def left(answer: dict[str, Any], day: int = 5) -> float:
    return answer["ahead"][day]["usable_mm"]


def test_what_if_moves_the_ribbon_the_right_way(manager: Api, farm: Farm, block: Block) -> None:
    bare = tried(manager, block)
    sets = Irrigation.objects.for_farm(farm).count()
    given = tried(manager, block, set_start_hours=20, set_hours=4)
    longer = tried(manager, block, set_start_hours=20, set_hours=6)
    assert left(bare) < left(given) <= left(longer)
    assert left(tried(manager, block, rain_mm=[0, 12])) > left(bare)
    assert left(tried(manager, block, et_factor=1.3)) < left(bare)
    assert tried(manager, block, p=0.6)["raw_mm"] > tried(manager, block, p=0.4)["raw_mm"]
    assert tried(manager, block, refill_method="tension")["raw_mm"] != bare["raw_mm"]
    late = tried(manager, block, stage_key=manager_stage(manager, block, -2))
    assert left(late) > left(bare)
    assert Irrigation.objects.for_farm(farm).count() == sets


def manager_stage(manager: Api, block: Block, index: int) -> str:
    return manager.get(f"{BASE}/blocks/{block.pk}")["stages"][index]["key"]


@pytest.mark.parametrize(
    ("said", "field"),
    [
        ({"stage_key": "flag leaf of a fern"}, "stage_key"),
        ({"set_start_hours": 3}, "set_hours"),
        ({"p": 0.95}, "p"),
    ],
)
def test_what_can_not_be_tried(
    manager: Api, block: Block, said: dict[str, Any], field: str
) -> None:
    answer = manager.post(f"{BASE}/blocks/{block.pk}/what-if", said, 422)
    assert [p["field"] for p in answer["problems"]] == [field]


def test_history_tells_what_was_said_done_and_came_of_it(
    manager: Api, farm: Farm, block: Block
) -> None:
    found = manager.get(f"{BASE}/blocks/{block.pk}/advice")
    days = [r["day"] for r in found["rows"]]
    assert days == sorted(days, reverse=True)
    assert len(days) == 13
    assert any(r["decisions"] for r in found["rows"])
    assert any(r["given_mm"] > 0 for r in found["rows"])
    assert all(r["low_mm"] is not None for r in found["rows"][1:])


def test_the_past_is_not_rewritten_but_answered_anew(
    manager: Api, farm: Farm, block: Block
) -> None:
    rows = manager.get(f"{BASE}/blocks/{block.pk}/advice")["rows"]
    one = f"{BASE}/blocks/{block.pk}/advice/{rows[3]['id']}"
    before = manager.get(one)
    # Nothing was learned since: now says what then was said.
    assert before["same_rules"]
    assert before["now_says"]["deficit_mm"] == pytest.approx(before["answer"]["deficit_mm"])
    assert before["working"]["steps"]
    assert before["inputs"]["forecast_issued_at"]
    # A rain that nobody had written down comes to light.
    on = farm.now().date() - timedelta(days=5)
    WeatherDay.objects.for_farm(farm).filter(date=on).update(rain_mm=30)
    after = manager.get(one)
    assert after["answer"] == before["answer"]
    assert after["now_says"]["deficit_mm"] < before["answer"]["deficit_mm"] - 1


def test_the_days_advice_is_put_on_record_once(farm: Farm, block: Block) -> None:
    there = Advice.objects.for_farm(farm).get(block=block, day=farm.now().date())
    assert record_day(farm, farm.now()) == 0
    assert Advice.objects.for_farm(farm).get(block=block, day=farm.now().date()).pk == there.pk
    assert record_day(farm, farm.now() + timedelta(days=1)) == 12
