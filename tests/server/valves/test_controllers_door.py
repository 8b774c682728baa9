"""What a valve controller may send, who may send it, and what comes twice or broken."""

from uuid import uuid4

from django.test import Client

from server.farms.models import Farm
from server.valves.models import ValveCommand, ValveController, ValveRun
from tests.server.valves.conftest import HERE, HOUR, Yard


def test_what_comes_twice_counts_once(yard: Yard) -> None:
    yard.open(4)
    told = {"id": 1, "kind": "opened", "age_s": 5.0}
    event = {"topic": "valve/4/event", "payload": told}
    yard.line.exchange({"boot": yard.controller.box.boot, "messages": [event, event]})
    assert [k for k, _ in yard.record()].count("opened") == 1
    command = ValveCommand.unscoped.get(kind="open")
    payload = {"command": str(command.key), "do": "open", "run_s": HOUR, "expires_in_s": 9}
    yard.controller.box._close(4, "command")
    yard.controller.box.obey("valve/4/command", payload)
    assert not yard.controller.box.valves[4].open


def test_a_valve_opened_again_without_a_word_of_its_closing(yard: Yard) -> None:
    yard.open(4, 30)
    first = ValveRun.unscoped.get()
    second = ValveCommand.unscoped.get(pk=first.command_id)
    second.pk, second.key = None, uuid4()
    second.save()
    told = {"id": 9, "kind": "opened", "age_s": 0.0, "command": str(second.key)}
    event = {"topic": "valve/4/event", "payload": told}
    yard.line.exchange({"boot": yard.controller.box.boot, "messages": [event]})
    first.refresh_from_db()
    assert first.ended_by == "command"
    assert ValveRun.unscoped.get(closed_at=None).command_id == second.pk


def test_messages_that_cant_be_read_are_named_and_the_others_taken(yard: Yard) -> None:
    messages = [
        {"topic": "valve/x/state", "payload": {}},
        {"topic": "valve/4/state", "payload": {"open": True, "since_s": -1}},
        # A valve that the farm does not have is nobody's business.
        {"topic": "valve/9/state", "payload": {"open": True, "since_s": 1}},
        {"topic": "valve/1/state", "payload": {"open": True, "since_s": 1, "flow_ls": 3.5}},
    ]
    told = yard.line.exchange({"boot": yard.controller.box.boot, "messages": messages})
    assert [(r["place"], r["reason"].split(":")[0]) for r in told["refused"]] == [
        (0, "there is no such topic"),
        (1, "since_s"),
    ]
    assert yard.valve(4)["is_open"] is False
    assert (yard.valve(1)["is_open"], yard.valve(1)["flow_ls"]) == (True, 3.5)


def test_only_its_own_token_lets_a_controller_in(yard: Yard, farm: Farm) -> None:
    body, kind = {"boot": "b", "messages": []}, "application/json"
    wrong = Client(headers={"Authorization": "Bearer efv_wrong"})
    assert wrong.post("/api/controller/messages", body, content_type=kind).status_code == 401
    box = ValveController.objects.for_farm(farm).get()
    yard.manager._send("delete", f"{HERE}/controllers/{box.pk}/token", {}, 200)
    gone = yard.line.client.post("/api/controller/messages", body, content_type=kind)
    assert gone.status_code == 401
    assert "no contact" in yard.against(4)
    issued = yard.manager.post(f"{HERE}/controllers/{box.pk}/token", {})
    again = Client(headers={"Authorization": f"Bearer {issued['token']}"})
    assert again.post("/api/controller/messages", body, content_type=kind).status_code == 200
