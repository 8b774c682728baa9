"""What each kind of system usually reaches: application efficiency and uniformity."""

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

from core.irrigation.system import SystemKind


@dataclass(frozen=True)
class UsualPerformance:
    """Low and high [fraction], with where the ranges come from."""

    efficiency: tuple[float, float]
    du_lq: tuple[float, float]
    source: str


@cache
def usual_performance() -> dict[SystemKind, UsualPerformance]:
    """By kind; read once from ``usual.json``."""
    text = resources.files("core.irrigation").joinpath("usual.json").read_text("utf-8")
    data = json.loads(text)
    return {
        SystemKind(kind): UsualPerformance(
            (row["efficiency"][0], row["efficiency"][1]),
            (row["du_lq"][0], row["du_lq"][1]),
            data["source"],
        )
        for kind, row in data["systems"].items()
    }
