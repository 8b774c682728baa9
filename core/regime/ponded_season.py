"""The season of a ponded field so far: water, dryings, and what was saved."""

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from core.advice.assess import season_or_why
from core.advice.gather import MAX_PAST_DAYS
from core.advice.inputs import BlockInputs
from core.crop.season import CropSeason, season_days
from core.ponded.cycles import Drying, dryings
from core.ponded.record import Record
from core.ponded.season_water import SeasonWater, continuous_mm, needed_mm
from core.regime.ponded_state import (
    STEP_HOURS,
    et0_by_day,
    field_of,
    ponded_states,
    used_until,
    water_of,
)


@dataclass(frozen=True)
class PondedSeason:
    """From planting to now, or until the field was drained.

    first, last : its days
    unread_days : of these days, on which no tube was read
    """

    first: date
    last: date
    water: SeasonWater
    dryings: tuple[Drying, ...]
    unread_days: int


def ponded_season(inputs: BlockInputs) -> PondedSeason | None:
    """The season so far of a field, from all of its record; None without a crop, an ET or a
    reading of a tube, or on the day of planting.

    Notes
    -----
    What keeping it ponded would have taken is run with the losses that the field has shown, for
    each course that they may be; so the range of what was saved is theirs.
    """
    season = season_or_why(inputs)
    if not isinstance(season, CropSeason):
        return None
    state = ponded_states([inputs], [season])[0]
    now = inputs.now
    first = season.planted_on
    last = min(now.date(), state.phases.drain_on)
    back = (now.date() - first).days
    if not 0 < back <= MAX_PAST_DAYS or last <= first:
        return None
    hour = state.hour_of_day
    crop = season_days([season], first, back + 2)
    use = crop.kc[0] * et0_by_day(inputs, first, back + 2)
    grid = np.arange(-24.0 * back - np.floor(hour), 0.5)
    rain = tuple(w for w in water_of(inputs) if w.is_rain)
    record = Record.of(grid, used_until(grid, hour, back, use), rain)
    ends = min(0.0, -24.0 * (now.date() - last).days - hour)
    if last == now.date():
        ends = 0.0
    edges = np.append(np.arange(grid[0], ends, STEP_HOURS), ends)
    used, fell = record.between(edges)
    factor = state.use_factor[:, None]
    losses, days = state.learned.courses, np.diff(edges) / 24
    read = [t.good for t in inputs.tubes if t.good[0].size]
    if not read:
        return None
    level = np.mean([np.interp(edges, hours, x) for hours, x in read], axis=0)
    given = [w.net_mm for w in inputs.waterings if not w.is_rain and grid[0] <= w.hours <= ends]
    water = SeasonWater(
        given_mm=float(sum(given)),
        rain_mm=float(fell.sum()),
        use_mm=float(used.sum()),
        needed_mm=needed_mm(losses, days, used * factor, fell, level),
        continuous_mm=continuous_mm(
            field_of(inputs), losses, days, used * factor, fell, float(level[0])
        ),
    )
    day = np.floor((np.concatenate([hours for hours, _ in read]) + hour) / 24)
    days_read = np.unique(day[day >= -back]).size
    return PondedSeason(
        first=first,
        last=last,
        water=water,
        dryings=tuple(
            d
            for d in dryings(inputs.tubes, now.date(), hour)
            if d.began_on >= first - timedelta(days=1)
        ),
        unread_days=max(back + 1 - days_read, 0),
    )
