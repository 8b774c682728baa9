"""One season of a block day by day, to be laid over another one."""

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from core.advice.assess import season_or_why
from core.advice.decide import decide
from core.advice.inputs import BlockInputs
from core.arrays import Bools, Floats
from core.crop.season import CropSeason


@dataclass(frozen=True)
class SeasonCourse:
    """From planting up to yesterday; arrays (days,), over the block [mm], NaN where not known.

    first : day of the first value
    depletion_mm, taw_mm, raw_mm : on the morning of each day
    used_mm, drained_mm : of each day
    below_refill : whether the morning found less than the refill point
    """

    first: date
    depletion_mm: Floats
    taw_mm: Floats
    raw_mm: Floats
    used_mm: Floats
    drained_mm: Floats
    below_refill: Bools


def season_course(inputs: BlockInputs) -> SeasonCourse | None:
    """The season under way at the block's ``now``; None without a crop, an ET or a day of it."""
    season = season_or_why(inputs)
    if not isinstance(season, CropSeason):
        return None
    found = decide([inputs], [season])
    track, days = found.track, found.gathered.past_days
    start = inputs.now.date() - timedelta(days=days)
    skipped = max((season.planted_on - start).days, 0)
    if skipped >= days:
        return None
    day = slice(skipped, days)
    known = track.known[0, day]

    def of(values: Floats) -> Floats:
        out: Floats = np.where(known, values[0, day], np.nan)
        return out

    return SeasonCourse(
        first=start + timedelta(days=skipped),
        depletion_mm=of(track.depletion_mm),
        taw_mm=of(track.taw_mm),
        raw_mm=of(track.raw_mm),
        used_mm=of(track.et_mm),
        drained_mm=of(track.drained_mm),
        below_refill=known & (track.depletion_mm[0, day] > track.raw_mm[0, day]),
    )
