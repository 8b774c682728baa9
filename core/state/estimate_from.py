"""From what the state of a block is estimated."""

from enum import StrEnum


class EstimateFrom(StrEnum):
    """Which of the two leads."""

    COMBINED = "combined"
    SENSORS = "sensors"
    BALANCE = "balance"


ESTIMATES_FROM = tuple(EstimateFrom)
