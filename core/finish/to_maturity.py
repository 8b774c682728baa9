"""Days and water from a stage seen in the field to maturity, as extension tables have them."""

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

import numpy as np

from core.crop.growth_stages import growth_stages


@dataclass(frozen=True)
class ToMaturity:
    """What is left of a season: days, and the crop's use over them [mm]."""

    days: float
    use_mm: float
    source: str


@cache
def _tables() -> tuple[str, dict[str, list[tuple[str, float, float]]]]:
    text = resources.files("core.finish").joinpath("to_maturity.json").read_text("utf-8")
    data = json.loads(text)
    rows = {
        crop: [(str(s), float(d), float(mm)) for s, d, mm in data[table]]
        for table, crops in data["crops"].items()
        for crop in crops
    }
    return str(data["source"]), rows


def table_to_maturity(book_key: str, place: float) -> ToMaturity | None:
    """What the table of a crop has for a place in its season.

    Parameters
    ----------
    book_key : str
    place : float
        Stage number from 0 plus the share of it gone by, see `core.crop.growth_stages`.

    Returns
    -------
    ToMaturity or None
        Between two stages of the table a straight line; None for a crop without a table, and
        before its first stage.
    """
    source, tables = _tables()
    rows = tables.get(book_key)
    if rows is None:
        return None
    at = {s.key: s.place for s in growth_stages(book_key)}
    places, days, use = zip(*((at[key], d, mm) for key, d, mm in rows), strict=True)
    if place < places[0]:
        return None
    return ToMaturity(
        float(np.interp(place, places, days)), float(np.interp(place, places, use)), source
    )
