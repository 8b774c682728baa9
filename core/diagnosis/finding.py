"""A claim about a block, with what it rests on."""

from dataclasses import dataclass, field
from enum import StrEnum

from core.diagnosis.cause import Cause

# Nothing told from readings alone is certain [-].
MOST_LIKELY = 0.98


class EvidenceFigure(StrEnum):
    """What a piece of evidence is a figure of, with its unit."""

    WATER = "water"  # [mm]
    SHARE = "share"  # [-]
    CONTENT = "content"  # [m3/m3]
    TENSION = "tension"  # [kPa]
    DEPTH = "depth"  # [mm]
    HOURS = "hours"  # [h]
    SPEED = "speed"  # [mm/h]
    RATE = "rate"  # [mm/day]


@dataclass(frozen=True)
class Evidence:
    """One thing seen: when [h from now], where, the figure, and what was to be expected.

    ``site`` is the place of the block's site, ``sensor`` that of its sensor; None where it is of
    all. NaN where nothing was expected.
    """

    from_hours: float
    to_hours: float
    figure: EvidenceFigure
    seen: float
    expected: float = float("nan")
    site: int | None = None
    sensor: int | None = None
    irrigation: int | None = None


@dataclass(frozen=True)
class Cost:
    """What a week of leaving it costs: water lost over the wetted ground [mm] and days of
    stress; NaN where it cannot be told."""

    mm_week: float = float("nan")
    stress_days_week: float = float("nan")


@dataclass(frozen=True)
class Finding:
    """A cause at a block, one of its sites or one sensor.

    ``likelihood`` that it is so [-], ``evidence`` oldest first.
    """

    cause: Cause
    likelihood: float
    evidence: tuple[Evidence, ...]
    cost: Cost = field(default_factory=Cost)
    site: int | None = None
    sensor: int | None = None

    @property
    def from_hours(self) -> float:
        """When it was first seen [h from now]."""
        return min(e.from_hours for e in self.evidence)

    @property
    def to_hours(self) -> float:
        """When it was last seen [h from now]."""
        return max(e.to_hours for e in self.evidence)


def likelihood(pieces: int, each_wrong: float) -> float:
    """That not all of several independent pieces of evidence mislead [-].

    Parameters
    ----------
    pieces : int
    each_wrong : float [-]
        Chance that one alone does.
    """
    return min(1.0 - each_wrong**pieces, MOST_LIKELY)
