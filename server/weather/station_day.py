"""A day as a weather station told it."""

from dataclasses import dataclass
from datetime import date


@dataclass(frozen=True)
class StationDay:
    """One day; what the station did not measure is not among the values.

    et_method : how the reference ET among the values came about; empty where it came with it
    """

    on: date
    values: dict[str, float]
    et_method: str = ""
