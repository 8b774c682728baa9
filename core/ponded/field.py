"""A bunded rice field as a person describes it."""

from dataclasses import dataclass
from datetime import date
from enum import StrEnum
from math import inf

from core.sentence import Sentence, sentence

RICE = "rice"  # the group of crops that stand in water
# Common practice, no source: from a tube at this level on a field is flooded again, to this depth.
SAFE_THRESHOLD_MM, REFILL_TO_MM = -150.0, 50.0
# The deeper thresholds that confident growers come to, one step at a time (common practice).
THRESHOLDS_MM = (-150.0, -200.0, -250.0, -300.0)
LOWEST_BUND_MM, HIGHEST_BUND_MM = 50.0, 600.0
# Water is kept so far below the top of the bund [mm] (working assumption, no source).
FREEBOARD_MM = 20.0


class PondedProblem(ValueError):
    """A field that can't be used; ``field`` is the input to mend."""

    def __init__(self, field: str, message: Sentence) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


class Started(StrEnum):
    """How the crop came into the field."""

    TRANSPLANTED = "transplanted"
    DIRECT_SEEDED = "direct_seeded"


@dataclass(frozen=True)
class PondedField:
    """A field within bunds; levels are above the ground, below zero under its surface [mm].

    bund_mm : float, height of the bund where water runs over
    threshold_mm : float, level at which it is flooded again, as deep as a person allowed
    threshold_since : date from which that is; None for the season
    refill_to_mm : float, level to which it is flooded
    keep_ponded_until : date, of a weedy start; None where weeds are no reason
    drying_from : date from which a person allows drying, as with a crop seen 10 cm high; None
        where the calendar tells
    percolation_mm_day, porosity : float, as measured by a person; None where the tube alone tells
    nitrogen_on : dates for which a dressing of nitrogen is planned and not done

    Raises
    ------
    PondedProblem
    """

    bund_mm: float
    started: Started = Started.TRANSPLANTED
    threshold_mm: float = SAFE_THRESHOLD_MM
    threshold_since: date | None = None
    refill_to_mm: float = REFILL_TO_MM
    keep_ponded_until: date | None = None
    drying_from: date | None = None
    percolation_mm_day: float | None = None
    porosity: float | None = None
    nitrogen_on: tuple[date, ...] = ()

    def __post_init__(self) -> None:
        if not LOWEST_BUND_MM <= self.bund_mm <= HIGHEST_BUND_MM:
            raise PondedProblem(
                "bund_mm",
                sentence(
                    "The bund must be {low:g} to {high:g} mm high.",
                    low=LOWEST_BUND_MM,
                    high=HIGHEST_BUND_MM,
                ),
            )
        if not 10.0 <= self.refill_to_mm <= self.bund_mm - FREEBOARD_MM:
            raise PondedProblem(
                "refill_to_mm",
                sentence(
                    "The refill level must lie between 10 mm and {freeboard:g} mm below the top "
                    "of the bund.",
                    freeboard=FREEBOARD_MM,
                ),
            )
        if self.threshold_mm not in THRESHOLDS_MM:
            raise PondedProblem(
                "threshold_mm",
                sentence("The threshold must be 15, 20, 25 or 30 cm below the surface."),
            )
        if self.percolation_mm_day is not None and not 0 <= self.percolation_mm_day <= 100:
            raise PondedProblem(
                "percolation_mm_day",
                sentence("Percolation must lie between 0 and 100 mm a day."),
            )
        if self.porosity is not None and not 0.01 <= self.porosity <= 0.4:
            raise PondedProblem(
                "porosity", sentence("The drainable porosity must lie between 0.01 and 0.4.")
            )

    @property
    def highest_mm(self) -> float:
        """The highest level at which water is kept [mm]."""
        return self.bund_mm - FREEBOARD_MM

    @property
    def next_threshold_mm(self) -> float:
        """The next deeper threshold; minus infinity where there is none."""
        deeper = [t for t in THRESHOLDS_MM if t < self.threshold_mm]
        return deeper[0] if deeper else -inf
