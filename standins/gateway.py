"""A simulated logger gateway: a process of its own that sends every 15 minutes of farm time.

It knows nothing of the application but its address and a device's token, and speaks the same
ingest API as any logger. What its probes read is simulated.

    python -m standins.gateway run --url http://127.0.0.1:8420 --faults FILE
    python -m standins.gateway fault dead_depth --instrument "Probe A1" --depth 30 --faults FILE
    python -m standins.gateway clear --faults FILE
"""

import argparse
import json
import os
import random
import sys
import time
import urllib.error
import urllib.request
from dataclasses import dataclass
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

from server.demo.farm import BLOCKS, NOW, SEED
from server.demo.simulated_season import simulate_on
from standins.faults import (
    CLOCK_ERROR,
    LATE,
    MEANING,
    Fault,
    FaultKind,
    Twister,
    WrongFault,
    check_fault,
    read_faults,
    write_faults,
)

QUARTER = timedelta(minutes=15)
DAYS_AHEAD = 40
TICKS_PER_DAY = 96
BATTERY_FULL_V, BATTERY_LOSS_V = 3.62, 0.0001  # a tick
SIGNAL_DBM = -81.0
LONGEST_PAUSE_S = 60.0
# What is not taken as it is; sending it again would bring nothing, and keep the next waiting.
REFUSED = frozenset({400, 413, 422})


@dataclass(frozen=True)
class Clock:
    """The farm's instant, and how many farm seconds a real one is."""

    now: datetime
    rate: float


class Door:
    """The ingest API, as a device sees it."""

    def __init__(self, url: str, token: str) -> None:
        self._url, self._token = url.rstrip("/"), token

    def _ask(self, path: str, body: Any = None) -> Any:
        data = None if body is None else json.dumps(body).encode()
        headers = {"Authorization": f"Bearer {self._token}", "Content-Type": "application/json"}
        request = urllib.request.Request(f"{self._url}{path}", data, headers)  # noqa: S310
        with urllib.request.urlopen(request, timeout=60) as answer:  # noqa: S310
            return json.loads(answer.read())

    def clock(self) -> Clock:
        said = self._ask("/api/ingest/clock")
        return Clock(datetime.fromisoformat(said["now"]), said["rate"])

    def channels(self) -> list[dict[str, Any]]:
        return list(self._ask("/api/ingest/channels"))

    def send(self, body: dict[str, Any]) -> dict[str, Any]:
        return dict(self._ask("/api/ingest", body))


class Gateway:
    """Reads the simulated probes and sends, with the faults it was asked for."""

    def __init__(self, door: Door, faults: Path) -> None:
        self._door, self._faults = door, faults
        self._readings = simulate_on(DAYS_AHEAD)
        self._depths = depths_cm()
        self._units = {i.label: str(i.unit) for b in BLOCKS for i in b.instruments}
        silent = {i.label for b in BLOCKS for i in b.instruments if i.silent_days}
        mine = self._readings.keys() - silent
        self._channels = [c for c in door.channels() if c["instrument"] in mine]
        self._twister = Twister(SEED)
        self._start = first_tick(NOW)
        # What it missed while it was not running is lost, as with a logger without power.
        clock = door.clock()
        self.rate = clock.rate
        self._next = max(self._last(clock.now) + 1, 0)
        self._held: list[dict[str, Any]] = []

    def _last(self, now: datetime) -> int:
        """The tick that came last; -1 before the first."""
        return min((now - self._start) // QUARTER, DAYS_AHEAD * TICKS_PER_DAY - 1)

    def due(self, now: datetime) -> list[int]:
        """Ticks that have come and were not read yet, at most a day of them."""
        return list(range(self._next, self._last(now) + 1))[:TICKS_PER_DAY]

    def step(self) -> str | None:
        """Read what is due and send it; what was done, None when nothing was due."""
        clock = self._door.clock()
        self.rate = clock.rate
        ticks = self.due(clock.now)
        if not ticks:
            return None
        faults = read_faults(self._faults)
        packet = self._packet(ticks, clock.now, faults)
        self._next = ticks[-1] + 1
        if self._twister.is_dropped(faults):
            return f"{packet['batch']}: lost on its way"
        self._held.append(packet)
        if any(f.kind is FaultKind.LATE_FLUSH for f in faults):
            waited = (ticks[-1] - self._held[0]["first_tick"]) * QUARTER
            if waited < LATE:
                return f"{packet['batch']}: held back, {len(self._held)} packets wait"
        return self._flush()

    def _flush(self) -> str:
        """Send what waits, oldest first; a packet that fails is sent again the next time."""
        done = []
        while self._held:
            body = {k: v for k, v in self._held[0].items() if k != "first_tick"}
            try:
                answer = self._door.send(body)
            except urllib.error.HTTPError as error:
                if error.code not in REFUSED:
                    raise
                self._held.pop(0)
                done.append(f"{body['batch']}: not taken ({error.code})")
                continue
            self._held.pop(0)
            done.append(f"{body['batch']}: {answer['new']} new, {answer['refused_count']} refused")
        return "; ".join(done[-3:])

    def _packet(self, ticks: list[int], now: datetime, faults: list[Fault]) -> dict[str, Any]:
        wrong = any(f.kind is FaultKind.WRONG_CLOCK for f in faults)
        error = CLOCK_ERROR if wrong else timedelta(0)
        times = [(self._start + k * QUARTER + error).isoformat() for k in ticks]
        series = []
        for channel in self._channels:
            label, depth = channel["instrument"], channel["depth_mm"] / 10
            raw = self._readings[label][:, self._depths[label].index(depth)]
            values = [self._twister.twist(faults, label, depth, float(raw[k]), k) for k in ticks]
            series.append(
                {
                    "channel": channel["id"],
                    "unit": self._units[label],
                    "times": times,
                    "values": values,
                }
            )
        return {
            "batch": f"gateway {times[0]}",
            "sent_at": (now + error).isoformat(),
            "battery_v": round(BATTERY_FULL_V - BATTERY_LOSS_V * ticks[-1], 2),
            "signal_dbm": SIGNAL_DBM,
            "series": series,
            "first_tick": ticks[0],
        }


def first_tick(now: datetime) -> datetime:
    """The quarter of an hour that comes next."""
    minute = now.minute // 15 * 15
    return now.replace(minute=minute, second=0, microsecond=0) + QUARTER


def depths_cm() -> dict[str, list[float]]:
    """Depths of the demo's instruments."""
    return {i.label: [float(d) for d in i.depths_cm] for b in BLOCKS for i in b.instruments}


def pause_after(failures: int, error: Exception, chance: float | None = None) -> float:
    """Seconds to wait after so many failures in a row.

    Each pause is twice as long as the one before, up to `LONGEST_PAUSE_S`, and differs by chance:
    loggers that an outage cut off together do not come back together. Never shorter than the
    application asks for.
    """
    asked = 0.0
    if isinstance(error, urllib.error.HTTPError):
        said = error.headers.get("Retry-After", "")
        asked = float(said) if said.isdigit() else 0.0
    part = random.uniform(0.5, 1.0) if chance is None else chance  # noqa: S311 - no secret
    return asked + min(LONGEST_PAUSE_S, 2.0 ** min(failures, 10)) * part


def run(url: str, token: str, faults: Path) -> None:
    """Send for as long as the process lives."""
    gateway = Gateway(Door(url, token), faults)
    print(f"gateway (simulated): sends to {url} every 15 minutes of farm time", flush=True)
    failures = 0
    while True:
        try:
            said = gateway.step()
            rate = gateway.rate
        except WrongFault as wrong:
            said, rate = str(wrong), 1.0
        except (urllib.error.URLError, TimeoutError) as error:
            if isinstance(error, urllib.error.HTTPError) and error.code == 401:
                sys.exit("gateway (simulated): its token is not accepted; it stops.")
            failures += 1
            wait = pause_after(failures, error)
            print(
                f"gateway (simulated): can't reach the application ({error}); "
                f"tries again in {wait:.0f} s",
                flush=True,
            )
            time.sleep(wait)
            continue
        failures = 0
        if said:
            print(f"gateway (simulated): {said}", flush=True)
        else:
            # A fifth of a quarter of an hour; a clock that stands is looked at now and then.
            time.sleep(min(max(QUARTER.total_seconds() / max(rate, 1e-3) / 5, 0.2), 30))


def main() -> None:
    parser = argparse.ArgumentParser(description="A simulated logger gateway.")
    steps = parser.add_subparsers(dest="step", required=True)
    running = steps.add_parser("run", help="send; the token comes from FURROW_GATEWAY_TOKEN")
    running.add_argument("--url", required=True)
    asking = steps.add_parser("fault", help="make something go wrong")
    asking.add_argument(
        "kind",
        choices=[str(k) for k in FaultKind],
        help="; ".join(f"{k}: {MEANING[k]}" for k in MEANING),
    )
    asking.add_argument("--instrument", default="")
    asking.add_argument("--depth", type=float, help="in cm; without it all depths")
    clearing = steps.add_parser("clear", help="make everything well again")
    for sub in (running, asking, clearing):
        sub.add_argument("--faults", type=Path, required=True)
    given = parser.parse_args()
    try:
        if given.step == "run":
            run(given.url, os.environ["FURROW_GATEWAY_TOKEN"], given.faults)
        elif given.step == "clear":
            write_faults(given.faults, [])
            print("The gateway and its probes are well again.")
        else:
            fault = Fault(FaultKind(given.kind), given.instrument, given.depth)
            check_fault(fault, depths_cm())
            write_faults(given.faults, [*read_faults(given.faults), fault])
            print(f"From the next packet on: {MEANING[fault.kind]}.")
    except WrongFault as wrong:
        sys.exit(str(wrong))


if __name__ == "__main__":
    main()
