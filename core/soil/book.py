"""Limits by texture class from the handbook tables: the other method beside the regression."""

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

from core.soil.texture import TextureClass


@dataclass(frozen=True)
class BookLimits:
    """Full and wilting content of a class [m3/m3], their printed ranges and the source."""

    theta_full: float
    theta_wilt: float
    full_range: tuple[float, float]
    wilt_range: tuple[float, float]
    source: str


@cache
def book_limits() -> dict[TextureClass, BookLimits]:
    """The whole table, by class; read once from ``book_values.json``."""
    text = resources.files("core.soil").joinpath("book_values.json").read_text("utf-8")
    return {
        TextureClass(name): BookLimits(
            theta_full=row["full"],
            theta_wilt=row["wilt"],
            full_range=(row["full_range"][0], row["full_range"][1]),
            wilt_range=(row["wilt_range"][0], row["wilt_range"][1]),
            source=row["source"],
        )
        for name, row in json.loads(text)["classes"].items()
    }
