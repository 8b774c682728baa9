"""Faults that a gateway and its probes are made to show, and how each twists what is sent.

The faults asked for stand in a JSON file that the gateway reads before every packet:
``[{"kind": "dead_depth", "instrument": "Probe A1", "depth_cm": 30}]``.
"""

import json
from dataclasses import dataclass
from datetime import timedelta
from enum import StrEnum
from pathlib import Path

import numpy as np

LATE = timedelta(days=3)
CLOCK_ERROR = timedelta(minutes=-47)
DROPPED_SHARE = 0.4
SPIKE_SHARE = 0.1


class FaultKind(StrEnum):
    """What goes wrong; the first three befall the gateway, the others one instrument."""

    DROPPED_PACKETS = "dropped_packets"
    LATE_FLUSH = "late_flush"
    WRONG_CLOCK = "wrong_clock"
    DEAD_DEPTH = "dead_depth"
    SPIKE = "spike"
    BROKEN_COLUMN = "broken_column"
    AIR_GAP = "air_gap"


OF_GATEWAY = frozenset({FaultKind.DROPPED_PACKETS, FaultKind.LATE_FLUSH, FaultKind.WRONG_CLOCK})
MEANING = {
    FaultKind.DROPPED_PACKETS: "four packets in ten are never sent",
    FaultKind.LATE_FLUSH: "packets are held back and sent together after three days",
    FaultKind.WRONG_CLOCK: "the gateway's clock is 47 minutes slow",
    FaultKind.DEAD_DEPTH: "a depth keeps saying its last word",
    FaultKind.SPIKE: "now and then a reading jumps and comes back",
    FaultKind.BROKEN_COLUMN: "a tensiometer's column of water breaks and its reading falls",
    FaultKind.AIR_GAP: "air beside the probe: low, restless readings",
}


class WrongFault(ValueError):
    """A fault that can't be had; the message says why and what to do."""


@dataclass(frozen=True)
class Fault:
    """``depth_cm`` None: all depths of the instrument."""

    kind: FaultKind
    instrument: str = ""
    depth_cm: float | None = None


def read_faults(path: Path) -> list[Fault]:
    """Faults asked for; none when the file is missing.

    Raises
    ------
    WrongFault
        When the file can't be read.
    """
    if not path.exists():
        return []
    try:
        entries = json.loads(path.read_text())
        return [
            Fault(FaultKind(e["kind"]), e.get("instrument", ""), e.get("depth_cm")) for e in entries
        ]
    except (ValueError, KeyError, TypeError) as error:
        raise WrongFault(
            f"{path} is no list of faults ({error}). Delete it and ask anew."
        ) from None


def write_faults(path: Path, faults: list[Fault]) -> None:
    """Ask for faults."""
    entries = [
        {"kind": str(f.kind), "instrument": f.instrument, "depth_cm": f.depth_cm} for f in faults
    ]
    path.write_text(json.dumps(entries, indent=1))


def check_fault(fault: Fault, depths_cm: dict[str, list[float]]) -> None:
    """Refuse a fault of an instrument or depth that is not there.

    Raises
    ------
    WrongFault
    """
    if fault.kind in OF_GATEWAY:
        return
    if fault.instrument not in depths_cm:
        raise WrongFault(
            f"There is no instrument '{fault.instrument}'. There are: {', '.join(depths_cm)}."
        )
    if fault.depth_cm is not None and fault.depth_cm not in depths_cm[fault.instrument]:
        have = ", ".join(f"{d:g}" for d in depths_cm[fault.instrument])
        raise WrongFault(f"{fault.instrument} has no {fault.depth_cm:g} cm; it has {have}.")


class Twister:
    """Applies instruments' faults, each from the moment it was first seen."""

    def __init__(self, seed: int) -> None:
        self._rng = np.random.default_rng(seed)
        self._since: dict[Fault, int] = {}
        self._held: dict[tuple[Fault, float], float] = {}

    def twist(
        self, faults: list[Fault], instrument: str, depth_cm: float, value: float, tick: int
    ) -> float:
        """A reading as a faulty sensor would give it; ``tick`` counts quarters of an hour."""
        for fault in faults:
            if fault.instrument != instrument or fault.depth_cm not in (None, depth_cm):
                continue
            age = tick - self._since.setdefault(fault, tick)
            if fault.kind is FaultKind.DEAD_DEPTH:
                value = self._held.setdefault((fault, depth_cm), value)
            elif fault.kind is FaultKind.SPIKE and self._rng.random() < SPIKE_SHARE:
                value = value * 1.8 + 5
            elif fault.kind is FaultKind.BROKEN_COLUMN:
                # Gone within two hours, whatever the soil does.
                value = round(value * max(1 - age / 8, 0.0), 1)
            elif fault.kind is FaultKind.AIR_GAP:
                value = round(max(value * 0.6 + self._rng.normal(0, 1.5), 0.5), 2)
        return value

    def is_dropped(self, faults: list[Fault]) -> bool:
        """Whether this packet is lost on its way."""
        dropping = any(f.kind is FaultKind.DROPPED_PACKETS for f in faults)
        return dropping and bool(self._rng.random() < DROPPED_SHARE)
