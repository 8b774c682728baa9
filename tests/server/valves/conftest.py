"""The farm's simulated valves: its controller at the application's real door, a clock, people."""

import json
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from django.core.management import call_command
from django.test import Client
from django.utils import timezone

from server.demo.controller import VALVES
from server.farms.models import Farm
from server.water.models import Irrigation
from standins.valve_controller import Controller, Line, change_field
from standins.valve_field import read_field, write_field
from tests.server.conftest import Api

HERE = "/farms/thistlewick/valves"
HOUR = 3600.0


class LineWithoutNetwork(Line):
    """The application's door by the test client; ``cut`` while nothing gets through."""

    def __init__(self, token: str) -> None:
        super().__init__("", token)
        self.client = Client(headers={"Authorization": f"Bearer {token}"})
        self.cut = False

    def exchange(self, body: dict[str, Any]) -> dict[str, Any]:
        if self.cut:
            raise TimeoutError
        path = "/api/controller/messages"
        answer = self.client.post(path, json.dumps(body), content_type="application/json")
        assert answer.status_code == 200, answer.content[:500]
        return dict(json.loads(answer.content))


@dataclass
class Yard:
    """The farm's people, its controller, and a clock that goes when it is told to."""

    manager: Api
    controller: Controller
    line: LineWithoutNetwork
    clock: list[datetime]
    path: Path
    ids: dict[int, int] = field(default_factory=dict)

    def wait(self, seconds: float, every: float | None = None) -> None:
        """Let time go by, the controller asking now and then."""
        # Never so seldom that it counts as cut off.
        every = every or min(max(10.0, seconds / 30), 50.0)
        while seconds > 0:
            self.clock[0] += timedelta(seconds=min(every, seconds))
            seconds -= every
            self.ask()

    def ask(self) -> None:
        try:
            self.controller.step()
            # As the process does: what it did is told at once.
            if self.controller.box.answers:
                self.controller.step()
        except TimeoutError:
            assert self.line.cut

    def happen(self, what: str, valve: int | None = None) -> None:
        around = read_field(self.path)
        change_field(around, what, valve)
        write_field(self.path, around)

    def prepare(self, valve: int, minutes: float = 60.0, **more: Any) -> dict[str, Any]:
        body = {"minutes": minutes, **more}
        done: dict[str, Any] = self.manager.post(f"{HERE}/{self.ids[valve]}/openings", body, 201)
        return done

    def open(self, valve: int, minutes: float = 60.0, **more: Any) -> None:
        made = self.prepare(valve, minutes, **more)
        self.manager.post(f"{HERE}/openings/{made['command_id']}/confirm", {})
        self.wait(4, every=2)

    def against(self, valve: int, minutes: float = 60.0) -> str:
        body = {"minutes": minutes}
        said = self.manager.post(f"{HERE}/{self.ids[valve]}/openings", body, 422)
        return " ".join(p["message"] for p in said["problems"])

    def valve(self, number: int) -> dict[str, Any]:
        rows = self.manager.get(HERE)["valves"]
        found: dict[str, Any] = next(v for v in rows if v["number"] == number)
        return found

    def record(self) -> list[tuple[str, str]]:
        return [(e["kind"], e["why"]) for e in self.manager.get(HERE)["record"]][::-1]


@pytest.fixture
def yard(farm: Farm, manager: Api, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Yard:
    clock = [datetime(2026, 9, 1, 12, tzinfo=UTC)]
    monkeypatch.setattr(timezone, "now", lambda: clock[0])
    call_command("demo_clock", rate=1.0)
    call_command("demo_controller", token_file=tmp_path / "token")
    line = LineWithoutNetwork((tmp_path / "token").read_text())
    path = tmp_path / "field.json"
    flows = {v.number: v.flow_ls for v in VALVES}

    def seconds() -> float:
        return clock[0].timestamp()

    controller = Controller(line, path, flows, 6 * HOUR, 60.0, seconds)
    made = Yard(manager, controller, line, clock, path)
    made.ask()
    made.ids = {v["number"]: v["id"] for v in manager.get(HERE)["valves"]}
    return made


def irrigations(yard: Yard, number: int) -> list[Irrigation]:
    block = yard.valve(number)["block_id"]
    rows = Irrigation.unscoped.filter(block=block, note="").order_by("-pk")
    return [r for r in rows if r.status != "planned"]
