"""The crop catalogue: data in ``catalogue.json``, every value with its source."""

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources


@dataclass(frozen=True)
class Crop:
    """A crop's book values.

    stage_days : initial, development, mid, late [days]
    kc : initial, mid, end, on the grass reference surface [-]
    root_initial_mm, root_schedule_mm, root_deep_mm [mm]
    p : allowable depletion at 5 mm/day [-]
    sources : table by value name
    """

    key: str
    name: str
    group: str
    stage_days: tuple[int, int, int, int]
    calendar: str
    kc: tuple[float, float, float]
    root_initial_mm: float
    root_schedule_mm: float
    root_deep_mm: float
    p: float
    sources: dict[str, str]


@cache
def crops() -> dict[str, Crop]:
    """All crops by key, in the catalogue's order."""
    text = resources.files("core.crop").joinpath("catalogue.json").read_text("utf-8")
    table: dict[str, Crop] = {}
    for key, row in json.loads(text)["crops"].items():
        days, kc, root = row["stage_days"], row["kc"], row["root_depth_m"]
        table[key] = Crop(
            key=key,
            name=row["name"],
            group=row["group"],
            stage_days=(days["initial"], days["development"], days["mid"], days["late"]),
            calendar=days["calendar"],
            kc=(kc["initial"], kc["mid"], kc["end"]),
            root_initial_mm=root["initial"] * 1000,
            root_schedule_mm=root["schedule"] * 1000,
            root_deep_mm=root["deep"] * 1000,
            p=row["p"]["value"],
            sources={
                "stage_days": days["source"],
                "kc": kc["source"],
                "root_depth": root["source"],
                "p": row["p"]["source"],
            },
        )
    return table


def crop(key: str) -> Crop:
    """One crop.

    Raises
    ------
    KeyError
        With the known keys, when the catalogue has no such crop.
    """
    try:
        return crops()[key]
    except KeyError:
        raise KeyError(f"no crop {key!r} in the catalogue; known: {', '.join(crops())}") from None
