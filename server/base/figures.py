"""Figures in a reader's own units, as text: the same in mail, PDF and calendars as on screen.

The interface reads the same table of measures; the same samples hold both to it.
"""

import json
import math
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Literal, TypedDict
from zoneinfo import ZoneInfo

from django.utils.formats import date_format
from django.utils.translation import gettext

UNKNOWN = "–"
# Nobody measures a pond to the gallon.
MANY_GALLONS = 100_000
Measure = Literal[
    "water",
    "waterDay",
    "rate",
    "depth",
    "depthFine",
    "length",
    "speed",
    "area",
    "volume",
    "flow",
    "theta",
    "tension",
    "share",
]


class _Unit(TypedDict):
    """``size`` is what one of it is in the core's own unit."""

    label: str
    size: float
    digits: int


_TABLE = json.loads(Path(__file__).with_name("measures.json").read_text("utf-8"))


@dataclass(frozen=True)
class Figures:
    """Formats for one system of units, "metric" or "us"; what is not known is shown as unknown."""

    units: str

    def with_unit(self, value: float | None, measure: Measure, digits: int | None = None) -> str:
        """A value of the core's own unit in the reader's, with its label."""
        if value is None or not math.isfinite(value):
            return UNKNOWN
        unit: _Unit = _TABLE[self.units][measure]
        own = value / unit["size"]
        if measure == "volume" and self.units == "us" and abs(own) >= MANY_GALLONS:
            own = round(own / 100) * 100
        digits = unit["digits"] if digits is None else digits
        # A rounded-off minus must not stay on a zero.
        return f"{round(own, digits) + 0.0:,.{digits}f} {unit['label']}"

    def water(self, mm: float | None) -> str:
        """A depth of water as the board shows it: whole millimetres, or hundredths of an inch."""
        return self.with_unit(mm, "water", 2 if self.units == "us" else 0)

    def volume(self, m3: float | None) -> str:
        """A volume of water."""
        return self.with_unit(m3, "volume")

    def running_time(self, hours: float | None) -> str:
        """Hours of running, as a clock would: "7 h 20"."""
        if hours is None or not math.isfinite(hours):
            return UNKNOWN
        whole, rest = divmod(round(hours * 60), 60)
        if not whole:
            return gettext("%(minutes)d min") % {"minutes": rest}
        return f"{whole} h {rest:02d}" if rest else f"{whole} h"

    def moment(self, at: datetime | None, zone: str) -> str:
        """A day and a time of the farm's clock."""
        if at is None:
            return UNKNOWN
        return date_format(at.astimezone(ZoneInfo(zone)), "D j F H:i")
