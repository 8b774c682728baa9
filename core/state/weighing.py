"""From what the state of a block is estimated."""

from enum import StrEnum


class Weighing(StrEnum):
    """Which of the two leads."""

    BLEND = "blend"
    SENSORS = "sensors"
    BALANCE = "balance"


WEIGHINGS = tuple(Weighing)
