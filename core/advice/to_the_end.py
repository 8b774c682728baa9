"""What blocks lack until their crop is over: nothing, or no more than an irrigation brings."""

from dataclasses import dataclass

import numpy as np

from core.advice.days_ahead import NEAR_DAYS, planned_by_day
from core.advice.gather import AHEAD_DAYS, Gathered
from core.advice.members_hold import MembersHold
from core.advice.members_need import members_need
from core.arrays import Bools, Floats
from core.crop.season import STAGE_ORDER, CropSeason, Stage
from core.crop.yield_loss import past_sensitive
from core.finish.last_irrigation import TOO_LITTLE_MM, LeftOfSeason, lacking_mm, lasts_days
from core.finish.rest_of_season import RestOfSeason, courses_to_end, days_left, use_factor
from core.state.track import Track
from core.weather.years import WeatherRecord, years_to_come

# In so many of the members the crop is not to run short (as on the page of a block, see
# `server.advice.finish_api`).
FINISH_CHANCE = 0.9
# So far ahead the end of a crop that ripens is looked for: roots hold water for no longer [days].
FINISH_DAYS = 60


@dataclass(frozen=True)
class ToTheEnd:
    """Blocks until their crop is over; arrays (blocks,).

    over_days : infinity where the end is not in sight
    lacking_mm : net, beside what is in the roots and planned, so that the crop does not run short
        in `FINISH_CHANCE` of the members; infinity where the end is not in sight
    may_wait_days : for so long a crop that is past its sensitive stages, with its end in sight, may
        wait for water, if refill is not expected before: what is given early may prove too much. By
        then no more of the members have used all they hold than `FINISH_CHANCE` leaves; 0 elsewhere
    """

    over_days: Floats
    lacking_mm: Floats
    may_wait_days: Floats

    @property
    def enough(self) -> Bools:
        """Whether nothing is lacking."""
        return self.lacking_mm <= TOO_LITTLE_MM


def ripens(season: CropSeason) -> bool:
    """Whether a crop has an end that it can be brought to by what is in the roots: neither one that
    stands for years nor one that grows back."""
    return not season.crop.perennial and season.crop.cutting is None


def to_the_end(g: Gathered, found: Track, holds: MembersHold) -> ToTheEnd:
    """What is lacking until each crop is over: all of the available water counts as usable then,
    and the weather beyond the forecast is as in the years before, or dry where none is known.
    """
    over = _over_days(g)
    lacking = np.full(len(g.blocks), np.inf)
    rows = np.flatnonzero(np.isfinite(over) & (over > 0))
    wait = np.zeros(len(g.blocks))
    if not rows.size:
        return ToTheEnd(over, lacking, wait)
    near = members_need(g, found, NEAR_DAYS)
    planned = planned_by_day(g)
    weather = _Weather(g)
    for k in rows.tolist():
        of_block = near[0][k], near[1][k]
        left = _left(g, k, of_block, planned[k], holds.of(k), weather)
        lacking[k] = lacking_mm(left, FINISH_CHANCE)
        crop, day = g.seasons[k].crop, float(g.limits.crop.book_day[k, g.past_days])
        if ripens(g.seasons[k]) and past_sensitive(crop, day):
            wait[k] = max(lasts_days(left, FINISH_CHANCE) - 1, 0)
    return ToTheEnd(over, lacking, wait)


def _over_days(g: Gathered) -> Floats:
    """Days until each crop is over; infinity where it is not in sight."""
    stage = g.limits.crop.stage_index[:, g.past_days : g.past_days + AHEAD_DAYS + 1]
    over = stage == STAGE_ORDER.index(Stage.OVER)
    out = np.where(over.any(axis=1), over.argmax(axis=1), np.inf)
    book_day = g.limits.crop.book_day[:, g.past_days]
    for k in np.flatnonzero(np.isinf(out)).tolist():
        left = days_left(RestOfSeason(g.seasons[k].crop, float(book_day[k]), 1.0, 1.0))
        if ripens(g.seasons[k]) and AHEAD_DAYS < left <= FINISH_DAYS:
            out[k] = left
    return out


def _left(
    g: Gathered,
    row: int,
    near: tuple[Floats, Floats],
    planned_mm: Floats,
    holds: MembersHold,
    weather: "_Weather",
) -> LeftOfSeason:
    block, crop, now = g.blocks[row], g.seasons[row].crop, g.past_days
    book_day = float(g.limits.crop.book_day[row, now])
    usual = block.assumed.stated_et.expected
    factor = use_factor(crop, book_day, near[0], usual)
    rest = RestOfSeason(crop, book_day, factor, block.assumed.wetted_share)
    days = days_left(rest)
    use, rain = courses_to_end(rest, near, weather.to_come(row, days))
    return LeftOfSeason(
        available_mm=holds.available_mm,
        taw_mm=holds.taw_mm,
        raw_mm=float(g.zones.raw_mm[row, now]),
        reserve_mm=0.0,
        use_mm=use,
        rain_mm=rain,
        planned_mm=until(planned_mm, days),
        smallest_mm=0.0,
        largest_mm=np.inf,
    )


def until(planned_mm: Floats, days: int) -> Floats:
    """Planned water of as many days as are left; array (days,)."""
    return np.pad(planned_mm[:days], (0, max(days - planned_mm.size, 0)))


class _Weather:
    """Courses of the weather from today on: of the years before, or dry with each member's mean
    ET0. Blocks of one farm have one record, which is put together once for as many days."""

    def __init__(self, g: Gathered) -> None:
        self._g = g
        self._made: dict[tuple[int, int], tuple[Floats, Floats]] = {}

    def to_come(self, row: int, days: int) -> tuple[Floats, Floats]:
        """ET0 and rain for a block, arrays, shape (courses, days) [mm/day]."""
        years = self._g.blocks[row].years
        of = (id(years), days)
        if of not in self._made:
            self._made[of] = self._put_together(years, days)
        return self._made[of]

    def _put_together(self, years: WeatherRecord | None, days: int) -> tuple[Floats, Floats]:
        now = self._g.blocks[0].now
        if years is not None:
            found = years_to_come(years, now.timetuple().tm_yday, days, now.toordinal())
            if found is not None:
                return found
        et0 = np.repeat(self._g.forecast.et0_mm[:, -1:], days, axis=1)
        return et0, np.zeros_like(et0)
