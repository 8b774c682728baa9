"""Whether a crop still needs water before it is ripe; if so how much, and between which days.

What is usable now and what likely rain brings, less what the crop uses until it is ripe, is what is
to spare. Two methods tell what is usable: all that the roots can take, or all but a reserve that is
left at the end (common practice, no source; 40 % of TAW is often named).
"""

from dataclasses import dataclass
from enum import StrEnum
from math import ceil

import numpy as np

from core.arrays import Floats

# Of TAW, left at maturity by those who keep a reserve (common practice, no source).
RESERVE_SHARE = 0.4
# Less than so much is not worth an irrigation: what is known of the soil is no finer [mm].
TOO_LITTLE_MM = 1.0
EXPECTED = 0.5  # of the courses


class ReserveMethod(StrEnum):
    """What of the water in the roots counts as usable before maturity."""

    ALL = "all"
    RESERVE = "reserve"


def reserve_mm(method: ReserveMethod, taw_mm: float) -> float:
    """What is to be left in the roots at maturity [mm]."""
    shares = {ReserveMethod.ALL: 0.0, ReserveMethod.RESERVE: RESERVE_SHARE}
    return shares[method] * taw_mm


@dataclass(frozen=True)
class LeftOfSeason:
    """A block from now until its crop is ripe; depths over its whole ground [mm].

    available_mm, taw_mm : arrays, shape (courses,), in the roots now, above wilting, and at most
    raw_mm : float, what of it may be used without stress
    reserve_mm : float, what is to be left at the end
    use_mm, rain_mm : arrays, shape (courses, days), courses that the weather may take; crop use
        without stress, nothing once it is ripe
    planned_mm : array, shape (days,), of irrigations that are planned
    smallest_mm, largest_mm : float, net, of one irrigation
    may_wait : bool, whether the crop is past its sensitive stages, and gets water when refill is
        expected; before, when no more courses have passed it than the chance leaves
    """

    available_mm: Floats
    taw_mm: Floats
    raw_mm: float
    reserve_mm: float
    use_mm: Floats
    rain_mm: Floats
    planned_mm: Floats
    smallest_mm: float
    largest_mm: float
    may_wait: bool = False


@dataclass(frozen=True)
class OneMore:
    """An irrigation that is still needed: net depth [mm], and the days between which it is due,
    counted from today; before the first there is no room for it."""

    net_mm: float
    first_day: int
    last_day: int


@dataclass(frozen=True)
class Finish:
    """How a season ends.

    usable_mm, rain_mm, need_mm : float, in the roots now beside the reserve, rain, and crop use
        until it is ripe, of the course that is no better than so many others as the chance says
    planned_mm : float, of irrigations that are planned until then
    spare_mm : float, usable, rain and planned less need of that course; below zero water is lacking
    more : irrigations that are still needed, none where it is finished
    short, short_mm : share of the courses in which the reserve is touched without another
        irrigation [-], and by how much in the mean of all [mm]
    short_after, short_after_mm : the same with those irrigations
    """

    need_mm: float
    usable_mm: float
    rain_mm: float
    planned_mm: float
    spare_mm: float
    more: tuple[OneMore, ...]
    short: float
    short_mm: float
    short_after: float
    short_after_mm: float

    @property
    def finished(self) -> bool:
        """Whether no more water is needed."""
        return not self.more


def finish(left: LeftOfSeason, chance: float = 0.9) -> Finish:
    """The last irrigations of a block.

    Parameters
    ----------
    left : LeftOfSeason
    chance : float, above 0 and below 1 [-]
        In so many of the courses the crop is not to run short.

    Raises
    ------
    ValueError
        Where the chance is no share, or an irrigation brings nothing.
    """
    if not 0.0 < chance < 1.0:
        raise ValueError("a chance lies between 0 and 1")
    if not left.largest_mm > 0.0:
        raise ValueError("an irrigation brings some water")
    lacking = _lacking(left, np.zeros(left.use_mm.shape[1]))
    more = _irrigations(left, chance)
    given = np.zeros(left.use_mm.shape[1])
    for one in more:
        given[one.last_day] += one.net_mm
    after = _lacking(left, given)
    use, rain = left.use_mm.sum(axis=1), left.rain_mm.sum(axis=1)
    usable = left.available_mm - left.reserve_mm
    planned = float(left.planned_mm.sum())
    spare = usable + rain + planned - use
    # One course, so that its figures add up.
    k = int(np.argmin(np.abs(spare + _at_chance(-spare, chance))))
    return Finish(
        need_mm=float(use[k]),
        usable_mm=float(usable[k]),
        rain_mm=float(rain[k]),
        planned_mm=planned,
        spare_mm=float(spare[k]),
        more=more,
        short=float((lacking > TOO_LITTLE_MM).mean()),
        short_mm=float(lacking.mean()),
        short_after=float((after > TOO_LITTLE_MM).mean()),
        short_after_mm=float(after.mean()),
    )


def lacking_mm(left: LeftOfSeason, chance: float) -> float:
    """By how much the reserve is touched without another irrigation, in no more of the courses than
    the chance leaves [mm]."""
    return _at_chance(_lacking(left, np.zeros(left.use_mm.shape[1])), chance)


def lasts_days(left: LeftOfSeason, chance: float) -> int:
    """Whole days that the reserve is not touched in so many of the courses without another
    irrigation; all of them where it never is."""
    return _days_above(_store(left, np.zeros(left.use_mm.shape[1])), left.reserve_mm, chance)


def _days_above(store_mm: Floats, limit_mm: Floats | float, share: float) -> int:
    """Days at whose ends the store was never below a limit in so many of the courses."""
    lowest = np.minimum.accumulate(store_mm, axis=1)
    return int(((lowest >= limit_mm).mean(axis=0) >= share).sum())


def _at_chance(values: Floats, chance: float) -> float:
    """What so many of the courses are not above."""
    return float(np.quantile(values, chance, method="inverted_cdf"))


def _store(left: LeftOfSeason, given_mm: Floats) -> Floats:
    """What is in the roots at the end of each day, as if they could take what is not there; rain
    and irrigation above full are lost. Arrays: given (days,), out (courses, days)."""
    out: Floats = np.zeros_like(left.use_mm)
    store = left.available_mm
    for day in range(out.shape[1]):
        given = left.planned_mm[day] + given_mm[day]
        store = np.minimum(store + left.rain_mm[:, day] + given, left.taw_mm)
        store = store - left.use_mm[:, day]
        out[:, day] = store
    return out


def _lacking(left: LeftOfSeason, given_mm: Floats) -> Floats:
    """The most by which the reserve is touched until the crop is ripe; array, shape (courses,)."""
    lowest = _store(left, given_mm).min(axis=1, initial=np.inf)
    return np.maximum(left.reserve_mm - lowest, 0.0)


def _waits_days(left: LeftOfSeason, store_mm: Floats, limit_mm: Floats, chance: float) -> int:
    """The last day whose end the store reaches above the limit in so many of the courses, and above
    the reserve in as many as the chance says; ``store_mm`` (courses, days), ``limit_mm``
    (courses, 1)."""
    above = _days_above(store_mm, limit_mm, EXPECTED if left.may_wait else chance)
    kept = _days_above(store_mm, left.reserve_mm, chance)
    return max(min(above, kept) - 1, 0)


def _irrigations(left: LeftOfSeason, chance: float) -> tuple[OneMore, ...]:
    """As few as bring what is lacking, about alike; each as late as it may be."""
    out: list[OneMore] = []
    given = np.zeros(left.use_mm.shape[1])
    # What is below this lacks water; nobody waits longer.
    limit = np.maximum(left.reserve_mm, left.taw_mm - left.raw_mm)[:, None]
    since = 0
    while since < given.size:
        lacking = _at_chance(_lacking(left, given), chance)
        if lacking <= TOO_LITTLE_MM:
            break
        store = _store(left, given)
        begins = np.concatenate([left.available_mm[:, None], store[:, :-1]], axis=1)
        last = since + _waits_days(left, store[:, since:], limit, chance)
        each = lacking / ceil(lacking / left.largest_mm - 1e-9)
        # What finds no room is lost, and brought later.
        free = np.median(left.taw_mm[:, None] - begins, axis=0)
        each = min(max(min(each, free[last]), left.smallest_mm, TOO_LITTLE_MM), left.largest_mm)
        room = free >= each
        # After the one before it.
        room[:since] = False
        first = int(np.argmax(room)) if room.any() else last
        out.append(OneMore(float(each), min(first, last), last))
        given[last] += each
        since = last + 1
    return tuple(out)
