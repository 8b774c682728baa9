"""How much water a field is to have on each day: the phases of a rice crop.

All of it is common practice, no source, where nothing else is said.
"""

from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from math import inf

import numpy as np

from core.arrays import Floats
from core.crop.growth_stages import book_day, growth_stages
from core.crop.season import CropSeason
from core.ponded.field import RICE, PondedField, Started

# From planting to the first drying: seedlings have roots, direct-seeded ones stand 10 cm high
# [days] (working assumption; what a person has seen goes before it).
ESTABLISHED_DAYS = {Started.TRANSPLANTED: 10, Started.DIRECT_SEEDED: 21}
# Kept at this depth from so many days before flowering to so many after it.
FLOWERING_MM, FLOWERING_DAYS = 50.0, 7
# Flooded again so much above it, for a reading and a field's ground are no more even (working
# assumption), and to so much more, that it need not be done every day [mm].
FLOWERING_GUARD_MM, FLOWERING_MORE_MM = 12.0, 30.0
# A course that passes the threshold of drying by so much has passed it too far [mm] (working
# assumption).
DRYING_GUARD_MM = 10.0
# While the crop establishes itself and while weeds are to be kept under, water stands [mm]
# (working assumption).
PONDED_MM = 10.0
# No more water from so many days before harvest: 10 to 14 are named.
DRAINED_DAYS = 12


class Phase(StrEnum):
    """What is done with the water of a rice field."""

    ESTABLISHMENT = "establishment"
    WEED_CONTROL = "weed_control"
    WETTING_AND_DRYING = "wetting_and_drying"
    FLOWERING = "flowering"
    DRAINAGE = "drainage"


PHASES = tuple(Phase)


@dataclass(frozen=True)
class PhaseDays:
    """A field's phases by day; arrays, shape (days,).

    index : array of int, into `PHASES`
    lower_mm : level at which it is flooded again; minus infinity where it is not
    guard_mm : how much lower it is never to fall
    upper_mm : level to which it is flooded then
    flowering_on, drain_on, harvest_on : of the season under way
    """

    first: date
    index: np.ndarray
    lower_mm: Floats
    guard_mm: Floats
    upper_mm: Floats
    flowering_on: date
    drain_on: date
    harvest_on: date

    def phase(self, day: int) -> Phase:
        """The phase of a day, counted from the first."""
        return PHASES[int(self.index[min(max(day, 0), self.index.size - 1)])]


def _reached(first: date, book: Floats, wanted: float) -> date:
    """The day on which a place of the book's calendar, (days,) from the first day on, is reached;
    beyond those days a day for each of its own."""
    if book[0] >= wanted:
        return first - timedelta(days=int(book[0] - wanted))
    if book[-1] < wanted:
        return first + timedelta(days=book.size - 1 + int(np.ceil(wanted - book[-1])))
    return first + timedelta(days=int(np.argmax(book >= wanted)))


def _flowering_place() -> float:
    """Where flowering stands among the stages of rice, see `core.crop.growth_stages`."""
    return next(s.place for s in growth_stages(RICE) if s.key == "flowering")


def phase_days(field: PondedField, season: CropSeason, first: date, book: Floats) -> PhaseDays:
    """The phases of a field on a stretch of days.

    Parameters
    ----------
    book : array, shape (days,)
        Days of the crop's own calendar from the first day on, see `core.crop.season.CropDays`.

    Notes
    -----
    Flowering goes before whatever else a day is; the crop is never dried in it. A stage that was
    seen moves flowering and harvest with the crop's calendar.
    """
    crop = season.crop
    flowering = _reached(first, book, book_day(crop, _flowering_place()))
    harvest = _reached(first, book, float(sum(crop.stage_days)))
    drain = harvest - timedelta(days=DRAINED_DAYS)
    established = season.planted_on + timedelta(days=ESTABLISHED_DAYS[field.started])
    drying = field.drying_from or established
    on = np.array([first.toordinal() + d for d in range(book.size)])
    weedy = field.keep_ponded_until
    index = np.select(
        [
            np.abs(on - flowering.toordinal()) <= FLOWERING_DAYS,
            on >= drain.toordinal(),
            on < drying.toordinal(),
            on <= (weedy.toordinal() if weedy else -inf),
        ],
        [
            PHASES.index(Phase.FLOWERING),
            PHASES.index(Phase.DRAINAGE),
            PHASES.index(Phase.ESTABLISHMENT),
            PHASES.index(Phase.WEED_CONTROL),
        ],
        PHASES.index(Phase.WETTING_AND_DRYING),
    )
    flooded = FLOWERING_MM + FLOWERING_GUARD_MM
    top = min(flooded + FLOWERING_MORE_MM, field.highest_mm)
    refill = field.refill_to_mm
    bounds: dict[Phase, tuple[float, float, float]] = {
        Phase.ESTABLISHMENT: (PONDED_MM, PONDED_MM, refill),
        Phase.WEED_CONTROL: (PONDED_MM, PONDED_MM, refill),
        Phase.WETTING_AND_DRYING: (field.threshold_mm, DRYING_GUARD_MM, refill),
        Phase.FLOWERING: (min(flooded, top - PONDED_MM), FLOWERING_GUARD_MM, max(top, refill)),
        Phase.DRAINAGE: (-inf, 0.0, 0.0),
    }
    lower, guard, upper = np.array([bounds[p] for p in PHASES]).T
    return PhaseDays(
        first, index, lower[index], guard[index], upper[index], flowering, drain, harvest
    )
