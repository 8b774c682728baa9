"""Findings as they are made, kept, decided and shown; the core's own tests hold what they say."""

from datetime import timedelta
from io import BytesIO
from typing import Any
from unittest import mock

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from PIL import Image

from core.diagnosis.cause import Cause
from server.blocks.models import Block
from server.farms.models import Farm, Role
from server.findings import bring_up as bring_up_module
from server.findings.bring_up import bring_up
from server.findings.models import Finding, FindingsRead
from server.instruments.models import InstrumentEvent
from server.water.models import Irrigation
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


def named(farm: Farm, name: str) -> Block:
    block: Block = Block.objects.for_farm(farm).get(name=name)
    return block


def of_block(api: Api, block: Block, past: bool = False) -> list[dict[str, Any]]:
    rows: list[dict[str, Any]] = api.get(
        f"{BASE}/findings?block={block.pk}&past={str(past).lower()}"
    )
    return rows


def one(api: Api, block: Block, cause: Cause, past: bool = False) -> dict[str, Any]:
    (found,) = [f for f in of_block(api, block, past) if f["cause"] == cause]
    return found


def decide(api: Api, finding: dict[str, Any], status: str, code: int = 201, **more: Any) -> Any:
    body = {"status": status, "note": "", **more}
    return api.post(f"{BASE}/findings/{finding['id']}/decisions", body, code)


def test_what_the_demo_shows(manager: Api, farm: Farm) -> None:
    """Each of these is so in the simulated season."""
    bring_up(farm)
    found = {(f["block"], f["cause"]) for f in manager.get(f"{BASE}/findings")}
    assert {
        ("Quern Field", "sensor_flat"),
        ("Gorse Piece", "sensor_silent"),
        ("Gorse Piece", "not_run"),
        ("Low Ings", "not_logged"),
        ("Quern Field", "run_too_short"),
        ("Gorse Piece", "rate_off"),
    } <= found
    assert len(found) <= 10


def test_all_of_a_finding(manager: Api, farm: Farm) -> None:
    finding = one(manager, named(farm, "Low Ings"), Cause.NOT_LOGGED)
    assert finding["name"] == "Water that nobody logged"
    assert finding["status"] == "open"
    assert finding["figure"] == "water"
    assert finding["typical_expected"] == 0.0
    (evidence,) = finding["evidence"]
    assert evidence["seen"] == finding["typical_seen"]
    assert 30 < evidence["seen"] < 50
    assert evidence["from_at"].startswith("2026-07-04T")
    # 118,000 m2, all of which is wetted.
    assert finding["cost_m3_week"] == pytest.approx(finding["cost_mm_week"] * 118.0)


def test_instruments_first_then_the_costliest(manager: Api, farm: Farm) -> None:
    bring_up(farm)
    rows = manager.get(f"{BASE}/findings")
    order = ["instrument", "application", "soil_water", "settings"]
    ranks = [min(order.index(f["group"]), 2) if f["group"] != "settings" else 3 for f in rows]
    assert [r for r in ranks if r in (0, 3)] == sorted(r for r in ranks if r in (0, 3))
    assert ranks[0] == 0
    costs = [f["cost_mm_week"] for f in rows if f["group"] == "application"]
    assert costs[0] == max(costs)


def test_logging_what_ran_settles_it(manager: Api, farm: Farm) -> None:
    block = named(farm, "Low Ings")
    finding = one(manager, block, Cause.NOT_LOGGED)
    seen = Finding.objects.for_farm(farm).get(pk=finding["id"])
    Irrigation(
        block=block,
        started_at=seen.first_at - timedelta(hours=1),
        ended_at=seen.first_at + timedelta(hours=10),
        gross_mm=55.0,
    ).save()
    assert not [f for f in of_block(manager, block) if f["cause"] == Cause.NOT_LOGGED]
    gone = one(manager, block, Cause.NOT_LOGGED, past=True)
    assert gone["lapsed_at"] is not None


def test_nothing_changed_nothing_is_looked_at(farm: Farm) -> None:
    block = named(farm, "Low Ings")
    assert bring_up(farm, [block.pk]) == [block.pk]
    assert bring_up(farm, [block.pk]) == []
    FindingsRead.objects.for_farm(farm).filter(pk=block.pk).update(
        on=farm.now().date() - timedelta(days=1)
    )
    assert bring_up(farm, [block.pk]) == [block.pk]


def test_looked_at_again_it_is_the_same_one(farm: Farm) -> None:
    block = named(farm, "Quern Field")
    bring_up(farm, [block.pk])
    before = list(Finding.objects.for_farm(farm).filter(block=block).order_by("pk").values())
    FindingsRead.objects.for_farm(farm).all().delete()
    bring_up(farm, [block.pk])
    after = list(Finding.objects.for_farm(farm).filter(block=block).order_by("pk").values())
    assert before == after


def test_one_block_that_fails_keeps_no_other_out(farm: Farm) -> None:
    broken = named(farm, "Quern Field").pk
    sound = bring_up_module.seen_block

    def look(of: Farm, block: Block, now: Any) -> Any:
        if block.pk == broken:
            raise ValueError("broken")
        return sound(of, block, now)

    with mock.patch.object(bring_up_module, "seen_block", look):
        done = bring_up(farm)
    assert broken not in done
    assert len(done) == Block.objects.for_farm(farm).count() - 1


def test_confirmed_with_what_was_found(manager: Api, farm: Farm) -> None:
    block = named(farm, "Gorse Piece")
    finding = one(manager, block, Cause.NOT_RUN)
    made = decide(manager, finding, "confirmed", note="Valve 3 was shut")
    assert made["status"] == "confirmed"
    (decision,) = made["decisions"]
    assert (decision["note"], decision["has_photo"]) == ("Valve 3 was shut", False)
    assert decision["made_by"] == "Maud Pellander"
    # Looked at anew it stays confirmed.
    FindingsRead.objects.for_farm(farm).all().delete()
    assert one(manager, block, Cause.NOT_RUN)["status"] == "confirmed"


def test_a_picture_from_the_field(manager: Api, farm: Farm) -> None:
    finding = one(manager, named(farm, "Gorse Piece"), Cause.NOT_RUN)
    decision = decide(manager, finding, "confirmed")["decisions"][0]
    picture = BytesIO()
    Image.new("RGB", (40, 30), "brown").save(picture, "PNG")
    path = f"/api{BASE}/finding-decisions/{decision['id']}/photo"
    assert manager.client.get(path).status_code == 404
    file = SimpleUploadedFile("valve.png", picture.getvalue(), "image/png")
    assert manager.client.post(path, {"file": file}).status_code == 201
    shown = manager.client.get(path)
    assert shown["Content-Type"] == "image/jpeg"
    assert shown.content[:2] == b"\xff\xd8"
    assert one(manager, named(farm, "Gorse Piece"), Cause.NOT_RUN)["decisions"][0]["has_photo"]


def test_dismissed_for_a_while(manager: Api, farm: Farm) -> None:
    block = named(farm, "Low Ings")
    finding = one(manager, block, Cause.NOT_LOGGED)
    refused = decide(manager, finding, "dismissed", 422)
    assert refused["problems"][0]["field"] == "note"
    yesterday = str(farm.now().date() - timedelta(days=1))
    refused = decide(manager, finding, "dismissed", 422, note="A shower", until=yesterday)
    assert refused["problems"][0]["field"] == "until"
    decide(manager, finding, "dismissed", note="A shower", until=str(farm.now().date()))
    assert not of_block(manager, block)
    # The day after it is shown again, as one of its own.
    Finding.objects.for_farm(farm).filter(pk=finding["id"]).update(
        until=farm.now().date() - timedelta(days=1)
    )
    FindingsRead.objects.for_farm(farm).all().delete()
    again = one(manager, block, Cause.NOT_LOGGED)
    assert again["id"] != finding["id"]
    # And what was said of the one like it stands beside it.
    assert [e["note"] for e in again["earlier"]] == ["A shower"]


def test_dismissed_for_good(manager: Api, farm: Farm) -> None:
    block = named(farm, "Low Ings")
    decide(manager, one(manager, block, Cause.NOT_LOGGED), "dismissed", note="A neighbour's water")
    FindingsRead.objects.for_farm(farm).all().delete()
    assert not of_block(manager, block)
    assert one(manager, block, Cause.NOT_LOGGED, past=True)["status"] == "dismissed"


def test_done_and_seen_again(manager: Api, farm: Farm) -> None:
    """What goes on after it was put right is another finding; what does not, is not shown."""
    quern, gorse = named(farm, "Quern Field"), named(farm, "Gorse Piece")
    for block, cause in ((quern, Cause.SENSOR_FLAT), (gorse, Cause.NOT_RUN)):
        decide(manager, one(manager, block, cause), "done", note="Put right")
    assert not [f for f in of_block(manager, quern) if f["cause"] == Cause.SENSOR_FLAT]
    # A day before, when the sensor still stood still after it.
    day = timedelta(days=1)
    for finding in Finding.objects.for_farm(farm).filter(status="done"):
        finding.decisions.update(made_at=farm.now() - day)
    FindingsRead.objects.for_farm(farm).all().delete()
    assert one(manager, quern, Cause.SENSOR_FLAT)["status"] == "open"
    assert not [f for f in of_block(manager, gorse) if f["cause"] == Cause.NOT_RUN]


def test_a_decision_is_taken_back(manager: Api, farm: Farm) -> None:
    block = named(farm, "Low Ings")
    finding = one(manager, block, Cause.NOT_LOGGED)
    decide(manager, finding, "confirmed", note="Ran by hand")
    made = decide(manager, finding, "dismissed", note="No")
    last = made["decisions"][-1]["id"]
    path = f"/api{BASE}/finding-decisions/{last}"
    assert manager.client.delete(path).status_code == 200
    back = one(manager, block, Cause.NOT_LOGGED)
    assert (back["status"], len(back["decisions"])) == ("confirmed", 1)
    assert manager.client.delete(path).status_code == 404
    entries = manager.get(f"{BASE}/changes")["changes"]
    assert {"finding_confirmed", "finding_dismissed"} <= {c["done"] for c in entries}


def test_who_may_decide(as_role: Any, farm: Farm, manager: Api, stranger: Api) -> None:
    finding = one(manager, named(farm, "Low Ings"), Cause.NOT_LOGGED)
    decide(as_role(Role.VIEWER), finding, "confirmed", 403)
    decide(as_role(Role.SCOUT), finding, "confirmed", note="Seen")
    decide(stranger, finding, "confirmed", 404)
    assert stranger.client.get(f"/api{BASE}/findings").status_code == 404
    barrow = stranger.get("/farms/barrow/findings")
    assert barrow == []


def test_on_the_board_by_its_costliest(manager: Api, farm: Farm) -> None:
    bring_up(farm)
    marks = {m["block_id"]: m for m in manager.get(f"{BASE}/finding-marks")}
    gorse = marks[named(farm, "Gorse Piece").pk]
    assert (gorse["cause"], gorse["count"]) == ("sensor_silent", 3)
    assert named(farm, "Sallow Bank").pk not in marks
    decide(manager, one(manager, named(farm, "Low Ings"), Cause.NOT_LOGGED), "done")
    marks = {m["block_id"]: m for m in manager.get(f"{BASE}/finding-marks")}
    assert named(farm, "Low Ings").pk not in marks


def test_a_round_takes_its_check_along(manager: Api, farm: Farm) -> None:
    block = named(farm, "Low Ings")
    bring_up(farm, [block.pk])
    instrument = block.instruments.get()
    body = {"name": "By the ings", "every_days": 7, "instruments": [instrument.pk]}
    made = manager.post(f"{BASE}/rounds", body, 201)
    (stop,) = made["stops"]
    assert [c["name"] for c in stop["checks"]] == ["Water that nobody logged"]
    assert stop["checks"][0]["check"].startswith("Ask who ran it")


def test_an_instrument_that_is_doubted_is_not_spoken_of(manager: Api, farm: Farm) -> None:
    block = named(farm, "Quern Field")
    assert one(manager, block, Cause.SENSOR_FLAT)
    InstrumentEvent(
        instrument=block.instruments.get(), kind="suspect", at=farm.now() - timedelta(days=1)
    ).save()
    FindingsRead.objects.for_farm(farm).all().delete()
    assert of_block(manager, block) == []


def test_a_list_takes_as_many_questions_as_one(manager: Api, farm: Farm) -> None:
    bring_up(farm)

    def questions(path: str) -> int:
        with CaptureQueriesContext(
            connection,
        ) as asked:
            manager.get(path)
        return len(asked)

    block = named(farm, "Low Ings")
    alone = questions(f"{BASE}/findings?block={block.pk}")
    assert questions(f"{BASE}/findings") <= alone + 1
