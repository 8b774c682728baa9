"""Kinds of instruments: data in ``kinds.json``."""

import json
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib import resources
from typing import Any


class Quantity(StrEnum):
    """What a reading is a figure of; its core unit in brackets."""

    THETA = "theta"  # [m3/m3]
    TENSION = "tension"  # [kPa]
    COUNTS = "counts"  # [-], what a probe gives before calibration
    PERMITTIVITY = "permittivity"  # [-]
    RESISTANCE = "resistance"  # [kOhm]
    TEMPERATURE = "temperature"  # [degrees C]
    WATER_DEPTH = "water_depth"  # [mm]
    VOLUME = "volume"  # [m3]
    LEAF_POTENTIAL = "leaf_potential"  # [MPa], negative
    AVAILABLE = "available"  # [fraction of the available water]


class InstrumentKind(StrEnum):
    CAPACITANCE_PROBE = "capacitance_probe"
    GRANULAR_MATRIX = "granular_matrix"
    TENSIOMETER = "tensiometer"
    HEAT_PULSE = "heat_pulse"
    FEEL_CHECK = "feel_check"
    CORE_SAMPLE = "core_sample"
    RICE_TUBE = "rice_tube"
    OBSERVATION_WELL = "observation_well"
    PRESSURE_CHAMBER = "pressure_chamber"
    ATMOMETER = "atmometer"
    RAIN_GAUGE = "rain_gauge"
    FLOW_METER = "flow_meter"
    SOIL_THERMOMETER = "soil_thermometer"


@dataclass(frozen=True)
class Task:
    """A thing to do at an instrument every so many days."""

    key: str
    name: str
    every_days: int


@dataclass(frozen=True)
class KindFacts:
    """What is known of a kind.

    quantity : what it tells, after calibration; ``low``, ``high`` in that unit
    raw : what it may write down instead, before calibration
    in_soil : its readings become water of the root zone
    logged : a logger reads it; otherwise a person does
    max_age_hours : age at which a reading is stale [h]
    theta_sigma : spread against the block's soil [m3/m3]; NaN where it tells nothing of soil
    proof_low, proof_high : a proof reading at install lies within, in the unit of ``quantity``
    """

    name: str
    quantity: Quantity
    raw: tuple[Quantity, ...]
    low: float
    high: float
    max_age_hours: float
    theta_sigma: float
    in_soil: bool
    logged: bool
    has_depths: bool
    settles_days: int
    usual_depths_mm: tuple[float, ...]
    lies: str
    install: tuple[str, ...]
    proof: str
    proof_low: float | None
    proof_high: float | None
    tasks: tuple[Task, ...]
    cautions: tuple[str, ...]
    source: str


@cache
def kinds() -> dict[InstrumentKind, KindFacts]:
    """Facts of every kind; read once."""
    text = resources.files("core.instrument").joinpath("kinds.json").read_text("utf-8")
    return {InstrumentKind(key): _facts(row) for key, row in json.loads(text)["kinds"].items()}


def reads_content(kind: InstrumentKind) -> bool:
    """Whether an instrument reads the content of water itself: that of a tension hangs on the
    retention curve, which may be off by as much as is looked for."""
    return kinds()[kind].quantity is Quantity.THETA


def _facts(row: dict[str, Any]) -> KindFacts:
    values = {**_DEFAULTS, **row}
    sigma = values["theta_sigma"]
    return KindFacts(
        **{
            **values,
            "quantity": Quantity(values["quantity"]),
            "raw": tuple(Quantity(q) for q in values["raw"]),
            "theta_sigma": float("nan") if sigma is None else sigma,
            "usual_depths_mm": tuple(values["usual_depths_mm"]),
            "install": tuple(values["install"]),
            "tasks": tuple(Task(**t) for t in values["tasks"]),
            "cautions": tuple(values["cautions"]),
        }
    )


_DEFAULTS: dict[str, Any] = {
    "raw": (),
    "theta_sigma": None,
    "in_soil": False,
    "logged": False,
    "has_depths": False,
    "settles_days": 0,
    "usual_depths_mm": (),
    "proof": "",
    "proof_low": None,
    "proof_high": None,
    "tasks": (),
    "cautions": (),
}
