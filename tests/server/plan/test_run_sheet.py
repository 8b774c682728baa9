"""The run sheet of the demo farm: planned, changed, announced, planned again."""

import csv
import io
from datetime import datetime, timedelta
from itertools import pairwise
from typing import Any

import pytest
from icalendar import Calendar

from server.farms.models import Farm, Role
from server.plan.models import AnnouncedSet, Announcement, RunSheet
from server.plan.tasks import each_morning, propose_for_today
from server.supply.models import NetworkVersion
from server.water.models import Irrigation
from tests.server.conftest import Api
from tests.server.plan.conftest import SHEET, Jobs


def one_set(sheet: dict[str, Any], **wanted: Any) -> dict[str, Any]:
    return next(s for s in sheet["sets"] if all(s[k] == v for k, v in wanted.items()))


def as_sent(rows: list[dict[str, Any]], **changes: Any) -> list[dict[str, Any]]:
    return [
        {"id": s["id"], "start": s["start"], "hours": s["hours"], "pinned": s["pinned"], **changes}
        for s in rows
    ]


def test_a_farm_without_a_network_gets_a_sheet(manager: Api, farm: Farm, run_jobs: Jobs) -> None:
    """Each supply is one source without limits; every block has its money; nothing is broken."""
    NetworkVersion.objects.for_farm(farm).delete()
    manager.post(f"{SHEET}/plan", {}, 202)
    run_jobs()
    planned = manager.get(SHEET)
    sheet = planned["sheet"]
    assert sheet["sets"]
    assert not any(s["limited"] for s in sheet["sources"])
    assert sheet["broken"] == []
    assert sheet["value_assumed"]
    assert len(sheet["starts"]) == 120
    assert {b["id"] for b in sheet["blocks"]} >= {s["block_id"] for s in sheet["sets"]}
    assert sheet["outcome"]["total"] == pytest.approx(sheet["totals"]["total"], abs=0.05)
    assert sheet["outcome"]["total"] <= sheet["outcome"]["by_urgency_total"]
    now = planned["now"]
    assert all(s["starts_at"] >= now[:13] for s in sheet["sets"])


def test_a_change_is_tried_then_made_then_undone(planned: dict[str, Any], manager: Api) -> None:
    """A set an hour longer brings as much more as its block takes in an hour; the try saves
    nothing, the change does, and what it was is there again after the undo."""
    sheet = planned["sheet"]
    one = sheet["sets"][0]
    own = [s for s in sheet["sets"] if s["block_id"] == one["block_id"]]
    sets = as_sent(own)
    sets[0]["hours"] = one["hours"] + 1
    body = {"edit": 1, "blocks": [{"block_id": one["block_id"], "sets": sets}]}
    tried = manager.post(f"{SHEET}/try", body)
    longer = one_set(tried, id=one["id"])
    assert longer["net_mm"] == pytest.approx(one["net_mm"] * (1 + 1 / one["hours"]), rel=1e-3)
    assert len(tried["store"]["middle_mm"]) == 41
    assert manager.get(SHEET)["sheet"]["edit"] == 1
    made = manager.post(f"{SHEET}/changes", body)["sheet"]
    assert (made["edit"], made["can_undo"]) == (2, True)
    assert one_set(made, id=one["id"])["net_mm"] == longer["net_mm"]
    assert made["totals"] == tried["totals"]
    # What was not touched stays to the last digit.
    others = [s for s in sheet["sets"] if s["id"] != one["id"]]
    assert [one_set(made, id=s["id"]) for s in others] == others
    stale = manager.post(f"{SHEET}/changes", body, 422)
    assert "Someone else changed the run sheet" in stale["message"]
    back = manager.post(f"{SHEET}/undo", {"edit": 2})["sheet"]
    assert back["sets"] == sheet["sets"]
    assert back["edit"] == 1
    assert "Nothing was changed" in manager.post(f"{SHEET}/undo", {"edit": 1}, 422)["message"]


def test_what_breaks_a_rule_is_told_and_may_be_done(planned: dict[str, Any], manager: Api) -> None:
    """Two irrigations of a block at once, and one in a hold: told, not forbidden. Outside the days
    of the sheet, in the past, of a block that is not on it: refused, with the field."""
    sheet = planned["sheet"]
    one = sheet["sets"][0]
    block = one["block_id"]

    def body(*sets: dict[str, Any], of: int = block) -> dict[str, Any]:
        return {"edit": 1, "blocks": [{"block_id": of, "sets": list(sets)}]}

    twice = manager.post(f"{SHEET}/try", body(*as_sent([one]), {"start": one["start"], "hours": 4}))
    assert "overlap" in {b["rule"] for b in twice["broken"]}
    held = next(b for b in sheet["blocks"] if len(b["held"]) > 5)
    at = held["held"][-1]
    there = manager.post(f"{SHEET}/try", body({"start": at, "hours": 4}, of=held["id"]))
    assert any(b["rule"] == "not allowed" and at in b["slots"] for b in there["broken"])
    blown = next(b for b in sheet["blocks"] if b["windy"])
    at = blown["windy"][-1]
    assert at not in blown["held"]
    assert sheet["wind_m_s"][at] > 4.7
    there = manager.post(f"{SHEET}/try", body({"start": at, "hours": 4}, of=blown["id"]))
    assert any(b["rule"] == "wind" and at in b["slots"] for b in there["broken"])
    past = manager.post(f"{SHEET}/try", body({"start": 0, "hours": 2}), 422)
    assert past["problems"] == [
        {
            "field": "blocks.0.sets.0.start",
            "message": "It would start in the past.",
            "row": None,
            "column": "",
        }
    ]
    late = manager.post(f"{SHEET}/try", body({"start": 119, "hours": 4}), 422)
    assert "ends after the days" in late["problems"][0]["message"]
    nobody = manager.post(f"{SHEET}/try", body({"start": 50, "hours": 4}, of=10**6), 422)
    assert nobody["problems"][0]["field"] == "blocks.0.block_id"


def test_announced_irrigations_are_scheduled_moved_and_cancelled(
    planned: dict[str, Any], manager: Api, farm: Farm
) -> None:
    sheet = planned["sheet"]
    before = set(Irrigation.objects.for_farm(farm).values_list("pk", flat=True))
    told = manager.post(f"{SHEET}/announce", {"edit": 1})
    assert told["announced"]["number"] == 1
    assert told["announced"]["differs"] == 0
    made = Irrigation.objects.for_farm(farm).exclude(pk__in=before)
    assert made.count() == len(sheet["sets"])
    assert {r.status for r in made} == {"planned"}
    one = told["sheet"]["sets"][0]
    assert one["status"] == "announced"
    row = made.get(pk=one["irrigation_id"])
    assert row.gross_mm == pytest.approx(one["gross_mm"])
    hours = (row.ended_at - row.started_at) / timedelta(hours=1)
    assert hours == pytest.approx(one["hours"], abs=0.001)
    again = manager.post(f"{SHEET}/announce", {"edit": told["sheet"]["edit"]}, 422)
    assert "Everybody was told" in again["message"]
    # One moved by four hours, one left out, one new.
    own = [s for s in told["sheet"]["sets"] if s["block_id"] == one["block_id"]]
    sets = as_sent(own)
    sets[0]["start"] += 2
    gone = sets.pop()
    sets.append({"start": gone["start"] + 6, "hours": 1.0})
    body = {"edit": told["sheet"]["edit"], "blocks": [{"block_id": one["block_id"], "sets": sets}]}
    changed = manager.post(f"{SHEET}/changes", body)
    assert changed["announced"]["differs"] == 2
    manager.post(f"{SHEET}/announce", {"edit": changed["sheet"]["edit"]})
    row.refresh_from_db()
    moved = one_set(changed["sheet"], id=one["id"])
    assert row.started_at == datetime.fromisoformat(moved["starts_at"])
    second = Announcement.objects.for_farm(farm).get(number=2)
    assert {c["change"] for c in second.changes} == {"moved"}
    assert made.filter(status="cancelled").count() == 0


def test_a_cancelled_one_leaves_the_sheet_and_a_begun_one_stays(
    planned: dict[str, Any], manager: Api
) -> None:
    told = manager.post(f"{SHEET}/announce", {"edit": 1})["sheet"]
    one, other = told["sets"][0], told["sets"][1]
    manager.post(f"/farms/thistlewick/water/{one['irrigation_id']}/begin", {})
    running = manager.get(SHEET)["sheet"]
    assert one_set(running, id=one["id"])["status"] == "running"
    # Whoever leaves it out of a change does not stop it.
    body = {"edit": running["edit"], "blocks": [{"block_id": one["block_id"], "sets": []}]}
    left = manager.post(f"{SHEET}/changes", body)["sheet"]
    assert [s["id"] for s in left["sets"] if s["block_id"] == one["block_id"]] == [one["id"]]
    manager._send("delete", f"/farms/thistlewick/water/{other['irrigation_id']}", {}, 200)
    assert other["id"] not in {s["id"] for s in manager.get(SHEET)["sheet"]["sets"]}


def test_planned_again_it_is_proposed_and_what_is_pinned_stays(
    planned: dict[str, Any], manager: Api, run_jobs: Jobs
) -> None:
    sheet = planned["sheet"]
    one = sheet["sets"][-1]
    own = [s for s in sheet["sets"] if s["block_id"] == one["block_id"]]
    sets = as_sent(own)
    sets[-1] |= {"start": one["start"] - 3, "pinned": True}
    body = {"edit": 1, "blocks": [{"block_id": one["block_id"], "sets": sets}]}
    manager.post(f"{SHEET}/changes", body)
    manager.post(f"{SHEET}/plan", {}, 202)
    run_jobs()
    found = manager.get(SHEET)
    assert found["sheet"]["id"] == sheet["id"]
    proposal = found["proposal"]
    assert proposal["same_days"]
    taken = manager.post(f"{SHEET}/proposals/{proposal['id']}/take", {})
    assert taken["proposal"] is None
    held = one_set(taken["sheet"], block_id=one["block_id"], pinned=True)
    assert held["starts_at"] == sheet["starts"][one["start"] - 3]
    assert held["hours"] == one["hours"]
    assert manager.post(f"{SHEET}/proposals/{proposal['id']}/take", {}, 404)


def test_what_is_pinned_stays_only_as_long_as_it_is_still_to_come(
    planned: dict[str, Any], manager: Api, run_jobs: Jobs
) -> None:
    sheet = planned["sheet"]
    blocks = {s["block_id"]: s for s in sheet["sets"]}
    early, cancelled = list(blocks.values())[:2]
    body = {
        "edit": 1,
        "blocks": [
            {
                "block_id": one["block_id"],
                "sets": as_sent(
                    [s for s in sheet["sets"] if s["block_id"] == one["block_id"]], pinned=True
                ),
            }
            for one in (early, cancelled)
        ],
    }
    changed = manager.post(f"{SHEET}/changes", body)["sheet"]
    told = manager.post(f"{SHEET}/announce", {"edit": changed["edit"]})["sheet"]
    runs, gone = (
        next(s for s in told["sets"] if s["block_id"] == one["block_id"])
        for one in (early, cancelled)
    )
    manager.post(f"/farms/thistlewick/water/{runs['irrigation_id']}/begin", {})
    manager._send("delete", f"/farms/thistlewick/water/{gone['irrigation_id']}", {}, 200)
    manager.post(f"{SHEET}/plan", {}, 202)
    run_jobs()
    proposal = manager.get(SHEET)["proposal"]
    taken = manager.post(f"{SHEET}/proposals/{proposal['id']}/take", {})["sheet"]
    pinned = [s for s in taken["sets"] if s["pinned"]]
    still = [s for s in told["sets"] if s["pinned"] and s["id"] not in (runs["id"], gone["id"])]
    assert [(s["block_id"], s["starts_at"]) for s in pinned] == [
        (s["block_id"], s["starts_at"]) for s in still
    ]
    made = RunSheet.unscoped.get(pk=taken["id"])
    own = [f for b in made.inputs["blocks"] for f in b["fixed"]]
    assert [f["irrigation_id"] for f in own].count(runs["irrigation_id"]) == 1


def test_a_proposal_can_be_let_go(planned: dict[str, Any], manager: Api, run_jobs: Jobs) -> None:
    manager.post(f"{SHEET}/plan", {}, 202)
    run_jobs()
    proposal = manager.get(SHEET)["proposal"]
    manager._send("delete", f"{SHEET}/proposals/{proposal['id']}", {}, 200)
    assert manager.get(SHEET)["proposal"] is None


def test_why_a_block_is_where_it_is(planned: dict[str, Any], manager: Api) -> None:
    """The portable pump is where Tarn Breck has it when Marl Pit would rather begin; what nothing
    stands in the way of runs as it would rather."""
    of = {b["name"]: b["id"] for b in planned["sheet"]["blocks"]}
    waits = manager.get(f"{SHEET}/blocks/{of['Marl Pit']}")
    machine = next(w for w in waits["in_the_way"] if w["kind"] == "machine")
    assert machine["name"] == "Portable pump"
    assert of["Tarn Breck"] in machine["block_ids"]
    assert waits["rather_cost"] < waits["cost"]
    found = manager.get(f"{SHEET}/blocks/{of['Wick Terrace']}")
    assert found["in_the_way"] == []
    own = [s for s in planned["sheet"]["sets"] if s["block_id"] == of["Wick Terrace"]]
    assert [r["starts_at"] for r in found["rather"]] == [s["starts_at"] for s in own]
    assert len(found["store"]["middle_mm"]) == 41
    assert manager.get(f"{SHEET}/blocks/{10**6}", 404)


def test_a_plan_that_fails_says_so_and_the_sheet_stands(
    planned: dict[str, Any], manager: Api, run_jobs: Jobs, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> None:
        raise ArithmeticError

    monkeypatch.setattr("server.plan.making.plan_inputs", broken)
    manager.post(f"{SHEET}/plan", {}, 202)
    run_jobs()
    found = manager.get(SHEET)
    assert found["failed"]
    assert found["sheet"]["id"] == planned["sheet"]["id"]


def test_where_the_search_fails_cheapest_fit_stands(
    manager: Api, run_jobs: Jobs, monkeypatch: pytest.MonkeyPatch
) -> None:
    def killed(*_: object) -> None:
        raise MemoryError

    monkeypatch.setattr("server.plan.making.make_plan", killed)
    manager.post(f"{SHEET}/plan", {}, 202)
    run_jobs()
    outcome = manager.get(SHEET)["sheet"]["outcome"]
    assert (outcome["method"], outcome["bound"]) == ("cheapest fit", None)


def test_who_may_not_decide_looks_only(planned: dict[str, Any], as_role: Any) -> None:
    scout = as_role(Role.SCOUT)
    assert scout.get(SHEET)["sheet"]["sets"]
    for path in ("plan", "undo", "announce"):
        scout.post(f"{SHEET}/{path}", {"edit": 1}, 403)


def test_two_who_ask_get_one_plan(manager: Api, farm: Farm) -> None:
    manager.post(f"{SHEET}/plan", {}, 202)
    manager.post(f"{SHEET}/plan", {}, 202)
    assert RunSheet.objects.for_farm(farm).count() == 1


def test_irrigations_that_a_person_scheduled_stand(planned: dict[str, Any], farm: Farm) -> None:
    """The demo has one scheduled by hand: the plan leaves it where it is and plans around it."""
    (stands,) = planned["sheet"]["standing"]
    assert not AnnouncedSet.objects.for_farm(farm).exists()
    others = [s for s in planned["sheet"]["sets"] if s["block_id"] == stands["block_id"]]
    end = stands["start"] + stands["slots"]
    assert all(s["start"] >= end or s["start"] + s["slots"] <= stands["start"] for s in others)


def test_the_demo_shares_what_it_has(planned: dict[str, Any]) -> None:
    """At no time do its pumps and its main carry more than they can, the ditch runs in its turn and
    the portable pump is in one place, with two hours to move; by the sheet's own figures."""
    sheet = planned["sheet"]
    assert sheet["broken"] == []
    blocks = {b["id"]: b for b in sheet["blocks"]}
    runs = sheet["sets"] + sheet["standing"]
    most = {"North bore": 400, "River pump": 600, "Hill tank": 200, "Head ditch": 430}
    most["Carr sluice"] = 280
    for slot in range(120):
        now = [r for r in runs if r["start"] <= slot < r["start"] + r["slots"]]
        for k, source in enumerate(sheet["sources"]):
            own = [blocks[r["block_id"]] for r in now if blocks[r["block_id"]]["source"] == k]
            assert sum(b["flow_m3_h"] for b in own) <= most[source["name"]] + 0.5
            assert not (own and slot in source["closed"])
    pump = sorted(
        (r["start"], r["start"] + r["slots"])
        for r in runs
        if blocks[r["block_id"]]["machine"] is not None
    )
    assert len(pump) > 2
    assert all(later[0] - 1 >= first[1] for first, later in pairwise(pump))


def test_as_a_table_and_to_print(planned: dict[str, Any], manager: Api) -> None:
    table = manager.client.get(f"/api{SHEET}.csv").content.decode()
    rows = list(csv.DictReader(io.StringIO(table)))
    sheet = planned["sheet"]
    # Whoever goes by the page finds what was scheduled by hand on it.
    (by_hand,) = [r for r in rows if r["status"] == "scheduled"]
    assert (by_hand["block"], by_hand["start"]) == ("Long Tye", "2026-07-16T06:00+02:00")
    assert (by_hand["run_hours"], by_hand["gross_mm"]) == ("24.00", "19.6")
    assert float(by_hand["volume_m3"]) == pytest.approx(24 * float(by_hand["flow_m3_h"]), rel=0.01)
    sets = [*sheet["sets"], *sheet["standing"]]
    assert len(rows) == len(sets)
    begin = [datetime.fromisoformat(r["start"]) for r in rows]
    assert begin == sorted(datetime.fromisoformat(s["starts_at"]) for s in sets)
    drawn = sum(float(r["volume_m3"]) for r in rows)
    assert drawn == pytest.approx(sum(s["volume_m3"] for s in sets), abs=len(sets))
    printed = manager.client.get(f"/api{SHEET}.pdf")
    assert printed.content.startswith(b"%PDF")
    assert printed["Content-Type"] == "application/pdf"


def test_an_irrigators_calendar_has_his_own_blocks(
    planned: dict[str, Any], manager: Api, as_role: Any
) -> None:
    told = manager.post(f"{SHEET}/announce", {"edit": 1})["sheet"]
    path = as_role(Role.IRRIGATOR).post("/farms/thistlewick/calendar", {})["path"]
    events = Calendar.from_ical(manager.client.get(path).content).walk("VEVENT")
    named = {str(e["summary"]).split(":")[0] for e in events}
    his = {b["name"] for b in told["blocks"] if b["irrigator"] in ("Tam Orrowby", None)}
    others = {b["name"] for b in told["blocks"]} - his
    assert named & his
    assert not named & others
    assert others


def test_each_morning_another_plan_is_proposed(
    planned: dict[str, Any], manager: Api, farm: Farm, run_jobs: Jobs
) -> None:
    """Once a day, from five on, where a sheet of before is in use."""
    assert propose_for_today(farm) is None
    tomorrow = farm.now() + timedelta(days=1)
    farm.fixed_now = tomorrow.replace(hour=4, minute=59)
    farm.save()
    assert propose_for_today(farm) is None
    farm.fixed_now = tomorrow
    farm.save()
    each_morning(0)
    each_morning(0)
    run_jobs()
    assert RunSheet.objects.for_farm(farm).count() == 2
    found = manager.get(SHEET)
    assert found["sheet"]["id"] == planned["sheet"]["id"]
    assert found["proposal"]["changes"]
    assert not found["proposal"]["same_days"]
