"""What fails keeps to itself: a block, a farm, a person, a number."""

import json
import math
from typing import Any

import pytest
from django.http import HttpRequest

from core.advice.inputs import BlockInputs
from core.regime.assess import assess_blocks
from server.advice import answers as answers_module
from server.advice import record
from server.advice.models import Advice, StoredAnswer
from server.base.json_out import FiniteJson, finite
from server.blocks.models import Block
from server.devices.body import _number
from server.farms.models import Farm, Membership, Role
from server.readings.models import ReadingBatch
from server.today import tasks
from tests.server.conftest import Api

BASE = "/farms/thistlewick"


def test_an_instrument_with_only_doubted_readings(manager: Api, farm: Farm, block: Block) -> None:
    """The morning of every farm failed on it: it has no last word, which is no number."""
    body = {"label": "T9", "kind": "tensiometer", "depths_mm": [300]}
    made = manager.post(f"{BASE}/blocks/{block.pk}/instruments", body, status=201)
    values = [{"channel_id": made["channels"][0]["id"], "value": 88}]
    reading = {"time": "2026-07-14T05:00", "unit": "kPa", "values": values}
    manager.post(f"{BASE}/instruments/{made['id']}/readings", reading)
    Advice.objects.for_farm(farm).filter(block=block, day=farm.now().date()).delete()
    tasks.morning(0)
    row = Advice.objects.for_farm(farm).get(block=block, day=farm.now().date())
    words = {i["label"]: i["last_hours"] for i in row.inputs["instruments"]}
    assert words["T9"] is None
    assert words["Probe Q1"] is not None


def failing_on(name: str) -> Any:
    """The core, where one block's answer can't be worked out."""

    def assess(blocks: list[BlockInputs], **more: Any) -> Any:
        if any(name in [s.label for s in b.sites] for b in blocks):
            raise FloatingPointError("as planted")
        return assess_blocks(blocks, **more)

    return assess


def test_a_block_that_fails_says_so_and_the_others_stand(
    manager: Api, farm: Farm, block: Block, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = {b["id"]: b["answer"]["state"] for b in manager.get(f"{BASE}/board")["rows"]}
    monkeypatch.setattr(answers_module, "assess_blocks", failing_on("Probe Q1"))
    StoredAnswer.objects.for_farm(farm).delete()
    rows = {b["id"]: b["answer"] for b in manager.get(f"{BASE}/board")["rows"]}
    assert rows[block.pk]["state"] == "no_reliable_data"
    assert rows[block.pk]["reasons"] == ["not_worked_out"]
    assert {i: a["state"] for i, a in rows.items() if i != block.pk} == {
        i: state for i, state in before.items() if i != block.pk
    }


def test_a_block_that_fails_keeps_no_other_from_its_record(
    farm: Farm, block: Block, monkeypatch: pytest.MonkeyPatch
) -> None:
    today = farm.now().date()
    Advice.objects.for_farm(farm).filter(day=today).delete()
    made = record._advice

    def failing(loaded: Any, of: Block) -> Advice:
        if of.pk == block.pk:
            raise FloatingPointError("as planted")
        return made(loaded, of)

    monkeypatch.setattr(record, "_advice", failing)
    written = record.record_day(farm, farm.now())
    assert written == Block.objects.for_farm(farm).count() - 1
    monkeypatch.undo()
    # It is tried again with the next round.
    assert record.record_day(farm, farm.now()) == 1


def test_a_farm_that_fails_keeps_no_other_from_its_morning(
    farm: Farm, stranger: Api, monkeypatch: pytest.MonkeyPatch
) -> None:
    seen = []

    def failing(of: Farm, now: Any) -> int:
        seen.append(of.slug)
        raise FloatingPointError("as planted")

    monkeypatch.setattr(tasks, "record_day", failing)
    monkeypatch.setattr(tasks, "MORNING", farm.now().time().min)
    tasks.morning(0)
    assert set(seen) == {"thistlewick", "barrow"}
    monkeypatch.setattr(tasks, "needs_refresh", lambda of: seen.append(of.slug) or 1 / 0)
    tasks.freshen(0)
    assert len(seen) == 4


def test_a_summary_that_fails_keeps_no_other_from_being_sent(
    farm: Farm, monkeypatch: pytest.MonkeyPatch, mailoutbox: list[Any]
) -> None:
    members = Membership.objects.filter(farm=farm)
    members.update(morning_mail=True)
    first = members.order_by("pk")[0].user
    made = tasks._mail

    def failing(of: Farm, user: Any, *more: Any) -> Any:
        if user.pk == first.pk:
            raise FloatingPointError("as planted")
        return made(of, user, *more)

    monkeypatch.setattr(tasks, "_mail", failing)
    assert tasks.send_mornings(farm) == members.count() - 1
    monkeypatch.undo()
    # What was not sent is tried again, and nothing twice.
    members.update(morning_mail=True)
    assert tasks.send_mornings(farm) == 1


def test_no_number_that_is_not_finite_goes_out() -> None:
    data = {"a": [1.5, math.inf, {"b": math.nan}], "c": (2, -math.inf)}
    assert finite(data) == {"a": [1.5, None, {"b": None}], "c": [2, None]}
    request = HttpRequest()
    request.method, request.path = "GET", "/api/x"
    text = FiniteJson().render(request, data, response_status=200)
    assert json.loads(text) == {"a": [1.5, None, {"b": None}], "c": [2, None]}
    assert FiniteJson().render(request, {"a": 1.5}, response_status=200) == '{"a": 1.5}'


@pytest.mark.parametrize("name", ["half \ud800 a character", "nothing \x00 at all"])
def test_text_that_no_database_holds(manager: Api, block: Block, name: str) -> None:
    form = manager.get(f"{BASE}/blocks/{block.pk}/setup")
    body = {**form, "name": name, "horizons": []}
    answer = manager.put(f"{BASE}/blocks/{block.pk}/setup", body, status=422)
    assert answer["problems"][0]["message"]


def test_whole_numbers_without_bounds_are_none() -> None:
    assert math.isnan(_number(10**400))
    assert _number(7) == 7.0


def test_what_others_brought_in_a_scout_does_not_take_away(
    manager: Api, as_role: Any, farm: Farm, block: Block
) -> None:
    body = {"label": "T9", "kind": "tensiometer", "depths_mm": [300]}
    made = manager.post(f"{BASE}/blocks/{block.pk}/instruments", body, status=201)
    values = [{"channel_id": made["channels"][0]["id"], "value": 30}]
    reading = {"time": "2026-07-14T05:00", "unit": "kPa", "values": values}
    scout = as_role(Role.SCOUT)
    path = f"{BASE}/instruments/{made['id']}/readings"
    manager.post(path, reading)
    theirs = ReadingBatch.objects.for_farm(farm).latest("pk")
    scout.post(path, {**reading, "time": "2026-07-14T05:30"})
    own = ReadingBatch.objects.for_farm(farm).latest("pk")
    assert own.pk != theirs.pk
    assert scout.client.delete(f"/api{BASE}/batches/{theirs.pk}").status_code == 403
    assert scout.client.delete(f"/api{BASE}/batches/{own.pk}").status_code == 200
    assert manager.client.delete(f"/api{BASE}/batches/{theirs.pk}").status_code == 200


def test_a_block_that_can_not_be_loaded_keeps_no_other_from_its_advice(
    manager: Api, farm: Farm, block: Block
) -> None:
    """No soil is nothing that the interface leaves behind; nobody knows what a repair by hand
    does."""
    block.soils.all().delete()
    StoredAnswer.objects.for_farm(farm).delete()
    others = Block.objects.for_farm(farm).count() - 1
    assert len(manager.get(f"{BASE}/board")["rows"]) == others
    Advice.objects.for_farm(farm).filter(day=farm.now().date()).delete()
    assert record.record_day(farm, farm.now()) == others
