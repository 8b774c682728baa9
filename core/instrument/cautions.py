"""Cautions where a step can hurt someone: data in ``cautions.json``."""

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources


@dataclass(frozen=True)
class Caution:
    """What to watch for; local codes and licensed practice come first."""

    title: str
    text: str


@cache
def cautions() -> dict[str, Caution]:
    """All cautions by key; read once."""
    text = resources.files("core.instrument").joinpath("cautions.json").read_text("utf-8")
    return {key: Caution(**row) for key, row in json.loads(text)["cautions"].items()}
