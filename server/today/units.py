"""Figures in a reader's own units, as text."""

from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

MM_PER_INCH = 25.4
M3_PER_ACRE_INCH = 102.790153129
UNKNOWN = "–"


@dataclass(frozen=True)
class Shown:
    """Formats for one system of units, "metric" or "us"; None is shown as unknown."""

    units: str

    @property
    def is_us(self) -> bool:
        return self.units == "us"

    def water(self, mm: float | None) -> str:
        """A depth of water."""
        if mm is None:
            return UNKNOWN
        return f"{mm / MM_PER_INCH:.2f} in" if self.is_us else f"{mm:.0f} mm"

    def volume(self, m3: float | None) -> str:
        """A volume of water; acre-inches where the reader thinks in them."""
        if m3 is None:
            return UNKNOWN
        return f"{m3 / M3_PER_ACRE_INCH:.1f} ac-in" if self.is_us else f"{m3:,.0f} m³"

    def hours(self, hours: float | None) -> str:
        """A running time to the minute."""
        if hours is None:
            return UNKNOWN
        minutes = round(hours * 60)
        return f"{minutes // 60} h {minutes % 60:02d}"

    def moment(self, at: datetime | None, zone: str) -> str:
        """A day and a time of the farm's clock."""
        if at is None:
            return UNKNOWN
        local = at.astimezone(ZoneInfo(zone))
        return f"{local:%a} {local.day} {local:%b %H:%M}"
