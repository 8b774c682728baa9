"""Kinds of instruments: data in ``kinds.json``."""

import json
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib import resources


class Quantity(StrEnum):
    """What an instrument measures."""

    THETA = "theta"
    TENSION = "tension"


class InstrumentKind(StrEnum):
    CAPACITANCE_PROBE = "capacitance_probe"
    GRANULAR_MATRIX = "granular_matrix"
    TENSIOMETER = "tensiometer"


@dataclass(frozen=True)
class KindFacts:
    """Physical range [m3/m3 or kPa], age at which a reading is stale [h], spread [m3/m3]."""

    name: str
    quantity: Quantity
    low: float
    high: float
    max_age_hours: float
    theta_sigma: float


@cache
def kinds() -> dict[InstrumentKind, KindFacts]:
    """Facts of every kind; read once."""
    text = resources.files("core.instrument").joinpath("kinds.json").read_text("utf-8")
    return {
        InstrumentKind(key): KindFacts(
            name=row["name"],
            quantity=Quantity(row["quantity"]),
            low=row["low"],
            high=row["high"],
            max_age_hours=row["max_age_hours"],
            theta_sigma=row["theta_sigma"],
        )
        for key, row in json.loads(text)["kinds"].items()
    }
