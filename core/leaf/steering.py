"""How a block that is steered by the leaf is watered: what a person settled."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, timedelta
from enum import StrEnum

from core.leaf.bands import Band, LeafPhase, Product, products, with_own
from core.sentence import Sentence, sentence

FEWEST_DAYS, MOST_DAYS = 3, 60


class Strategy(StrEnum):
    """What the water follows."""

    BAND = "band"  # the leaf's band by stage
    SHARE = "share"  # a sustained share of ETc, the leaf shown beside
    FULL = "full"  # kept out of stress, the leaf shown beside


class Side(StrEnum):
    """Which side of the rows is watered, where they take turns."""

    A = "a"
    B = "b"


class SteeringProblem(ValueError):
    """A setting that can't be used; ``field`` is the input to mend."""

    def __init__(self, field: str, message: Sentence) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


@dataclass(frozen=True)
class Sides:
    """Sides of the rows take turns: the one watered since a date, and for how many days each."""

    now: Side
    since: date
    days: int

    def __post_init__(self) -> None:
        if not FEWEST_DAYS <= self.days <= MOST_DAYS:
            raise SteeringProblem(
                "side_days",
                sentence(
                    "Sides take turns of {fewest} to {most} days.",
                    fewest=FEWEST_DAYS,
                    most=MOST_DAYS,
                ),
            )

    def on(self, day: date) -> tuple[Side, date]:
        """The side that is watered on a day, and when they change next."""
        turns = max((day - self.since).days, 0) // self.days
        other = Side.B if self.now is Side.A else Side.A
        return (
            self.now if turns % 2 == 0 else other,
            self.since + timedelta(days=(turns + 1) * self.days),
        )


@dataclass(frozen=True)
class LeafSteering:
    """A block steered by the leaf.

    own : upper and lower edge by phase, in the place of the product's [MPa]
    zones : share of the block's ground by zone [-]; empty without zones
    use_share : of ETc, where that is the strategy [-]
    since : from when it is counted
    application_mm : water given at a time then [mm net]
    """

    product: Product
    strategy: Strategy = Strategy.BAND
    own: Mapping[LeafPhase, tuple[float, float]] = field(default_factory=dict)
    zones: Mapping[str, float] = field(default_factory=dict)
    use_share: float | None = None
    since: date | None = None
    application_mm: float | None = None
    sides: Sides | None = None

    def __post_init__(self) -> None:
        if self.strategy is Strategy.SHARE and self.use_share is None:
            raise SteeringProblem("use_share", sentence("Enter the share of ETc."))
        with_own(products()[self.product].bands, self.own)

    @property
    def bands(self) -> tuple[Band, ...]:
        """The bands in force, in the order of the season."""
        return with_own(products()[self.product].bands, self.own)
