"""What each kind of system usually reaches: application efficiency and uniformity."""

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

from core.irrigation.system import SystemKind


@dataclass(frozen=True)
class UsualPerformance:
    """Low and high [fraction], with where the ranges come from.

    wetted : share of the ground that is usually wetted [-] and where the figure is from; None for
        systems under which roots find water everywhere
    """

    efficiency: tuple[float, float]
    du_lq: tuple[float, float]
    source: str
    wetted: tuple[float, str] | None = None


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
            (row["wetted"]["share"], row["wetted"]["source"]) if "wetted" in row else None,
        )
        for kind, row in data["systems"].items()
    }
