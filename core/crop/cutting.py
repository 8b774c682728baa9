"""A calendar of cuts or grazings, and the stretches without water that it makes.

All of it is common practice, no source, where nothing else is said.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum

import numpy as np

from core.arrays import Floats
from core.sentence import Sentence, sentence

# What a swath gives off before it is baled, as reference ET over the days it lies; rain on it is
# given off too, and turns it back by so much [mm] (working assumptions, no source).
DRY_AFTER_MM, RAIN_TURNS_BACK = 18.0, 2.0
# Of the courses of the weather, by when the hay is in [-]: in one of five it lies longer.
DRIED_CHANCE = 0.8
LEAST_INTERVAL, MOST_INTERVAL = 5, 200
MOST_DAYS = 60


class Harvested(StrEnum):
    """How the growth is taken."""

    CUT = "cut"
    GRAZED = "grazed"


class CalendarProblem(ValueError):
    """A calendar that can't be used; ``field`` is the input to mend."""

    def __init__(self, field: str, message: Sentence) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


@dataclass(frozen=True)
class CutCalendar:
    """When a crop is cut or grazed.

    planned : days that are settled, in order
    every_days : of growth between two, where no day is settled; None where only settled ones count
    last_on : none after it
    dry_before_days : without water before machines or stock come
    taken_days : until it is baled or grazed off; None of hay follows the weather
    """

    harvested: Harvested = Harvested.CUT
    planned: tuple[date, ...] = ()
    every_days: int | None = None
    last_on: date | None = None
    dry_before_days: int = 3
    taken_days: int | None = None

    def __post_init__(self) -> None:
        every, taken = self.every_days, self.taken_days
        if every is not None and not LEAST_INTERVAL <= every <= MOST_INTERVAL:
            raise CalendarProblem(
                "every_days",
                sentence(
                    "The growth interval must lie between {least} and {most} days.",
                    least=LEAST_INTERVAL,
                    most=MOST_INTERVAL,
                ),
            )
        if not 0 <= self.dry_before_days <= MOST_DAYS:
            raise CalendarProblem(
                "dry_before_days",
                sentence("Enter 0 to {most} days.", most=MOST_DAYS),
            )
        if taken is not None and not 0 <= taken <= MOST_DAYS:
            raise CalendarProblem("taken_days", sentence("Enter 0 to {most} days.", most=MOST_DAYS))
        if self.harvested is Harvested.GRAZED and taken is None:
            raise CalendarProblem("taken_days", sentence("Enter for how many days it is grazed."))

    def days_between(self, first: date, last: date, before: date) -> tuple[date, ...]:
        """The days of cuts or grazings from one day to another, both included.

        Parameters
        ----------
        before : date
            Of the last one before ``first``, or of the start of growth, from which intervals are
            counted; a settled day ahead goes before the interval's.
        """
        settled = sorted(self.planned)
        out = [d for d in settled if first <= d <= last]
        if self.every_days is not None:
            since = max([before, *(d for d in settled if d <= last)])
            on = since + timedelta(days=self.every_days)
            # One that is overdue is for today.
            on = max(on, first) if not out else on
            while on <= last:
                out.append(on)
                on += timedelta(days=self.every_days)
        return tuple(sorted(d for d in set(out) if self.last_on is None or d <= self.last_on))


def dried_after_days(et0_mm: Floats, rain_mm: Floats) -> Floats:
    """Days until a swath cut at the beginning of the first day can be baled; (courses,).

    Parameters
    ----------
    et0_mm, rain_mm : array, shape (courses, days) [mm/day]

    Returns
    -------
    array, shape (courses,) [whole days]
        As many as are given where it does not dry in them.
    """
    left = np.full(et0_mm.shape[0], DRY_AFTER_MM)
    out = np.full(et0_mm.shape[0], float(et0_mm.shape[1]))
    done = np.zeros(et0_mm.shape[0], bool)
    for day in range(et0_mm.shape[1]):
        left = np.minimum(left - et0_mm[:, day] + RAIN_TURNS_BACK * rain_mm[:, day], DRY_AFTER_MM)
        now = (left <= 0) & ~done
        out[now] = day + 1
        done |= now
    return out


@dataclass(frozen=True)
class Harvest:
    """One cut or grazing: no water from ``dry_from`` on, it is cut or stock comes on ``on``, and
    baled or grazed off before ``water_from``.

    water_from_early : where the weather decides, in the best of ten courses
    """

    on: date
    dry_from: date
    water_from: date
    water_from_early: date


@dataclass(frozen=True)
class CuttingAnswer:
    """The cuts or grazings ahead within the outlook, the next one first."""

    harvested: Harvested
    ahead: tuple[Harvest, ...]


def harvests(
    calendar: CutCalendar,
    days: Sequence[date],
    today: date,
    et0_mm: Floats,
    rain_mm: Floats,
) -> tuple[Harvest, ...]:
    """What each of the days of a calendar keeps free of water.

    Parameters
    ----------
    et0_mm, rain_mm : array, shape (courses, days) [mm/day]
        From today on.
    """
    out = []
    for on in days:
        taken = early = calendar.taken_days
        if taken is None:
            begins = min(max((on - today).days, 0), et0_mm.shape[1] - 1)
            lies = dried_after_days(et0_mm[:, begins:], rain_mm[:, begins:])
            taken = int(np.quantile(lies, DRIED_CHANCE, method="inverted_cdf"))
            early = int(np.quantile(lies, 0.1, method="inverted_cdf"))
        out.append(
            Harvest(
                on=on,
                dry_from=on - timedelta(days=calendar.dry_before_days),
                water_from=on + timedelta(days=max(taken, 1)),
                water_from_early=on + timedelta(days=max(early or 0, 1)),
            )
        )
    return tuple(out)
