"""A simulated valve controller: a process of its own with four valves and a flow meter at each.

It knows nothing of the application but its address and a token, asks it every two seconds and does
what docs/valves.md says of a controller. Its water is simulated.

    python -m standins.valve_controller run --url http://127.0.0.1:8420 --field FILE
    python -m standins.valve_controller lock-out --valve 2 --field FILE
"""

import argparse
import json
import os
import sys
import time
import urllib.error
import urllib.request
import uuid
from collections.abc import Callable
from pathlib import Path
from typing import Any

from server.demo.controller import VALVES
from standins.valve_box import Box, BoxValve
from standins.valve_field import Fault, Field, WrongField, read_field, write_field

LONGEST_H, CONTACT_S = 14.0, 60.0
ASK_AGAIN_S = 2.0
TIMEOUT_S = 10


class Line:
    """The application, as a controller reaches it."""

    def __init__(self, url: str, token: str) -> None:
        self._url, self._token = url.rstrip("/"), token

    def exchange(self, body: dict[str, Any]) -> dict[str, Any]:
        headers = {"Authorization": f"Bearer {self._token}", "Content-Type": "application/json"}
        address = f"{self._url}/api/controller/messages"
        request = urllib.request.Request(address, json.dumps(body).encode(), headers)  # noqa: S310
        with urllib.request.urlopen(request, timeout=TIMEOUT_S) as answer:  # noqa: S310
            return dict(json.loads(answer.read()))


class Controller:
    """The box, the line, and the time that passes between two exchanges.

    Parameters
    ----------
    clock : seconds of a clock that only goes forward
    """

    def __init__(
        self,
        line: Line,
        field: Path,
        flows_ls: dict[int, float],
        longest_s: float,
        contact_s: float,
        clock: Callable[[], float] = time.monotonic,
    ) -> None:
        self._line, self._field, self._clock = line, field, clock
        self._flows, self._limits = flows_ls, (longest_s, contact_s)
        self._rate, self.ask_again_s = 1.0, ASK_AGAIN_S
        self._contact_at = self._at = clock()
        self._starts = read_field(field).starts
        self.box = self._started()

    def _started(self) -> Box:
        valves = {n: BoxValve(f) for n, f in self._flows.items()}
        return Box(valves, uuid.uuid4().hex, *self._limits)

    def step(self) -> bool:
        """Let time pass, and exchange messages; whether there was contact."""
        around = read_field(self._field)
        if around.starts != self._starts:
            self._starts, self.box = around.starts, self._started()
        now = self._clock()
        self.box.pass_time((now - self._at) * self._rate, now - self._contact_at, around)
        self._at = now
        if around.silent:
            return False
        answers = len(self.box.answers)
        told = self._line.exchange({"boot": self.box.boot, "messages": self.box.messages()})
        self._contact_at = self._clock()
        self.box.told(answers, told["events_until"])
        self._rate, self.ask_again_s = told["rate"], told["ask_again_s"]
        for message in told["messages"]:
            if message["topic"] == "controller/stop":
                self.box.stop(message["payload"]["stopped"])
            else:
                self.box.obey(message["topic"], message["payload"])
        return True


def run(controller: Controller) -> None:
    """Ask for as long as the process lives."""
    contact: bool | None = None
    while True:
        try:
            had, why = controller.step(), "the radio is off"
        except WrongField as wrong:
            had, why = False, str(wrong)
        except (urllib.error.URLError, TimeoutError, OSError) as error:
            if isinstance(error, urllib.error.HTTPError) and error.code == 401:
                sys.exit("valve controller (simulated): its token is not accepted; it stops.")
            had, why = False, str(error)
        if had != contact:
            said = "has contact" if had else f"no contact: {why}"
            print(f"valve controller (simulated): {said}", flush=True)
        contact = had
        # What it was told is done, and told of, at once.
        time.sleep(controller.ask_again_s if not controller.box.answers else 0.1)


def change_field(around: Field, what: str, valve: int | None) -> str:
    """Let something happen in the field; what to say of it.

    Raises
    ------
    WrongField
    """
    numbers = [v.number for v in VALVES]
    if what == "clear":
        around.locked_out, around.faults, around.silent = set(), {}, False
        return "All valves are well again, nothing is locked out."
    if what in ("silent", "heard"):
        around.silent = what == "silent"
        return "The controller has no contact." if around.silent else "It has contact again."
    if what == "restart":
        around.starts += 1
        return "The controller lost power and starts again."
    if valve not in numbers:
        raise WrongField(f"Say which valve by --valve, one of {', '.join(map(str, numbers))}.")
    if what == "lock-out":
        around.locked_out |= {valve}
        return f"Valve {valve} is locked out."
    if what == "unlock":
        around.locked_out -= {valve}
        return f"Valve {valve} is not locked out any more."
    around.faults[valve] = Fault(what)
    return f"Valve {valve}: {what}."


def main() -> None:
    parser = argparse.ArgumentParser(description="A simulated valve controller.")
    steps = parser.add_subparsers(dest="step", required=True)
    running = steps.add_parser("run", help="the token comes from FURROW_CONTROLLER_TOKEN")
    running.add_argument("--url", required=True)
    running.add_argument("--longest-h", type=float, default=LONGEST_H)
    running.add_argument("--contact-s", type=float, default=CONTACT_S)
    running.add_argument("--field", type=Path, required=True)
    happenings = ("lock-out", "unlock", *map(str, Fault), "silent", "heard", "restart", "clear")
    for what in happenings:
        one = steps.add_parser(what)
        one.add_argument("--valve", type=int)
        one.add_argument("--field", type=Path, required=True)
    given = parser.parse_args()
    try:
        if given.step == "run":
            line = Line(given.url, os.environ["FURROW_CONTROLLER_TOKEN"])
            flows = {v.number: v.flow_ls for v in VALVES}
            longest_s = given.longest_h * 3600
            run(Controller(line, given.field, flows, longest_s, given.contact_s))
        around = read_field(given.field)
        said = change_field(around, given.step, given.valve)
        write_field(given.field, around)
        print(said)
    except WrongField as wrong:
        sys.exit(str(wrong))


if __name__ == "__main__":
    main()
