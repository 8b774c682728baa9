"""Stages a person can see in the field, and where in the crop's season each stands."""

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np

from core.crop.catalogue import STAGES, Crop


@dataclass(frozen=True)
class GrowthStage:
    """``place`` counts the four stages from 0 and adds the share of the stage gone by."""

    key: str
    name: str
    place: float


def _stages(rows: list[list[str | float]]) -> tuple[GrowthStage, ...]:
    return tuple(
        GrowthStage(str(key), str(name), STAGES.index(str(stage)) + float(share))
        for key, name, stage, share in rows
    )


@cache
def _table() -> tuple[tuple[GrowthStage, ...], dict[str, tuple[GrowthStage, ...]]]:
    text = resources.files("core.crop").joinpath("growth_stages.json").read_text("utf-8")
    data = json.loads(text)
    by_crop = {key: _stages(data[scale]) for scale, keys in data["crops"].items() for key in keys}
    return _stages(data["any"]), by_crop


def growth_stages(book_key: str) -> tuple[GrowthStage, ...]:
    """Stages to look for in a crop of the book, early to late."""
    common, by_crop = _table()
    return by_crop.get(book_key, common)


def book_day(crop: Crop, place: float) -> float:
    """Day of the crop's own calendar at a place in its season [days since planting].

    Parameters
    ----------
    place : float
        Stage number from 0 plus the share of it gone by; 4 is the end.
    """
    ends = np.concatenate([[0.0], np.cumsum(crop.stage_days)])
    return float(np.interp(place, np.arange(5), ends))
