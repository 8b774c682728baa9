"""A simulated box with valves: what it does by itself, whatever the application says.

It opens a valve only on a command that is not late, for as long as was asked and never longer than
it allows; it closes all when it is stopped or has no contact, and a valve that somebody locks out.
When it starts, everything is closed.
"""

import math
from dataclasses import dataclass, field
from typing import Any

from standins.valve_field import Fault, Field

# How fast a line fills, and a valve closes: after so long the flow is two thirds of the way [s].
FILLS_S, CLOSES_S = 40.0, 5.0
BURST_FACTOR, BLOCKED_FACTOR, LEAK_SHARE = 1.8, 0.45, 0.06
# Commands that were answered are known for so many.
REMEMBERED = 200


@dataclass
class BoxValve:
    """One valve: design flow [L/s], and how it stands; times [s]."""

    design_ls: float
    open: bool = False
    since_s: float = 0.0
    left_s: float = 0.0
    flow_ls: float = 0.0
    volume_m3: float = 0.0
    command: str | None = None
    locked_out: bool = False


@dataclass
class Box:
    """All valves of one controller, from one start to the next.

    Parameters
    ----------
    boot : names this start
    longest_s : no valve stays open longer [s]
    contact_s : without contact for so long, all close [s]
    """

    valves: dict[int, BoxValve]
    boot: str
    longest_s: float
    contact_s: float
    stopped: bool = False
    events: list[dict[str, Any]] = field(default_factory=list)
    answers: list[tuple[str, dict[str, Any]]] = field(default_factory=list)
    _answered: dict[str, dict[str, Any]] = field(default_factory=dict)
    _last_event: int = 0
    _clock_s: float = 0.0

    def pass_time(self, seconds: float, without_contact_s: float, around: Field) -> None:
        """Let farm time pass [s]; ``without_contact_s`` is real time."""
        self._clock_s += seconds
        for number, valve in self.valves.items():
            self._lock(number, valve, number in around.locked_out)
            if valve.open and without_contact_s > self.contact_s:
                self._close(number, "contact_lost")
            elif valve.open:
                seconds_open = min(seconds, valve.left_s)
                self._run(valve, seconds_open, around.fault_of(number))
                valve.left_s -= seconds
                if valve.left_s <= 0:
                    self._close(number, "run_time", ago_s=-valve.left_s)
            else:
                self._run(valve, seconds, around.fault_of(number))

    def _run(self, valve: BoxValve, seconds: float, fault: Fault | None) -> None:
        target = valve.design_ls if valve.open else 0.0
        if valve.open and fault is Fault.BURST:
            target *= BURST_FACTOR
        elif valve.open and fault is Fault.BLOCKED:
            target *= BLOCKED_FACTOR
        elif valve.open and fault is Fault.STUCK:
            target = 0.0
        elif not valve.open and fault is Fault.LEAK:
            target = valve.design_ls * LEAK_SHARE
        part = 1 - math.exp(-seconds / (FILLS_S if valve.open else CLOSES_S))
        before = valve.flow_ls
        valve.flow_ls += (target - before) * part
        if valve.open:
            # Exactly what an exponential lets through.
            litres = target * seconds + (before - target) * FILLS_S * part
            valve.volume_m3 += litres / 1000
        valve.since_s += seconds

    def _lock(self, number: int, valve: BoxValve, locked: bool) -> None:
        if locked == valve.locked_out:
            return
        valve.locked_out = locked
        self._tell(number, "locked_out" if locked else "lock_removed")
        if locked and valve.open:
            self._close(number, "locked_out")

    def _close(self, number: int, why: str, ago_s: float = 0.0) -> None:
        valve = self.valves[number]
        self._tell(
            number,
            "closed",
            ago_s,
            why=why,
            command=valve.command,
            volume_m3=round(valve.volume_m3, 4),
        )
        valve.open, valve.since_s, valve.left_s, valve.command = False, 0.0, 0.0, None

    def _tell(self, number: int, kind: str, ago_s: float = 0.0, **more: Any) -> None:
        self._last_event += 1
        self.events.append(
            {
                "valve": number,
                "at_s": self._clock_s - ago_s,
                "id": self._last_event,
                "kind": kind,
                **more,
            }
        )

    def stop(self, stopped: bool) -> None:
        """Be stopped, or not any more; nothing opens by that."""
        self.stopped = stopped
        if stopped:
            for number, valve in self.valves.items():
                if valve.open:
                    self._close(number, "stopped")

    def obey(self, topic: str, payload: dict[str, Any]) -> None:
        """Do a command once, however often it comes, and answer it each time."""
        key = str(payload["command"])
        answer = self._answered.get(key)
        if answer is None:
            answer = self._do(int(topic.split("/")[1]), key, payload)
            self._answered[key] = answer
            while len(self._answered) > REMEMBERED:
                self._answered.pop(next(iter(self._answered)))
        self.answers.append((topic.replace("/command", "/answer"), answer))

    def _do(self, number: int, key: str, payload: dict[str, Any]) -> dict[str, Any]:
        def refused(why: str) -> dict[str, Any]:
            return {"command": key, "done": False, "why": why}

        valve = self.valves.get(number)
        if valve is None:
            return refused("no_valve")
        if payload["do"] == "close":
            if valve.open:
                self._close(number, "command")
            return {"command": key, "done": True}
        if payload["expires_in_s"] <= 0:
            return refused("too_late")
        if self.stopped:
            return refused("stopped")
        if valve.locked_out:
            return refused("locked_out")
        if not 0 < payload["run_s"] <= self.longest_s:
            return refused("too_long")
        if not valve.open:
            valve.open, valve.since_s, valve.volume_m3 = True, 0.0, 0.0
            valve.command, valve.left_s = key, float(payload["run_s"])
            self._tell(number, "opened", command=key)
        return {"command": key, "done": True}

    def messages(self) -> list[dict[str, Any]]:
        """Everything to tell: answers, events that were not confirmed, and how all stands."""
        out = [{"topic": t, "payload": p} for t, p in self.answers]
        for event in self.events:
            payload = {k: v for k, v in event.items() if k not in ("valve", "at_s")}
            payload["age_s"] = round(self._clock_s - event["at_s"], 1)
            out.append({"topic": f"valve/{event['valve']}/event", "payload": payload})
        state = {
            "longest_s": self.longest_s,
            "contact_s": self.contact_s,
            "stopped": self.stopped,
        }
        out.append({"topic": "controller/state", "payload": state})
        for number, valve in self.valves.items():
            payload = {
                "open": valve.open,
                "since_s": round(valve.since_s, 1),
                "flow_ls": round(valve.flow_ls, 2),
                "volume_m3": round(valve.volume_m3, 4),
                "locked_out": valve.locked_out,
            }
            if valve.open:
                payload["closes_in_s"] = round(valve.left_s, 1)
            out.append({"topic": f"valve/{number}/state", "payload": payload})
        return out

    def told(self, answers: int, events_until: int) -> None:
        """The application has the first so many answers, and events up to one."""
        del self.answers[:answers]
        self.events = [e for e in self.events if e["id"] > events_until]
