"""A block's last irrigations: what its crop still needs until it is ripe."""

from dataclasses import dataclass, replace
from datetime import date, timedelta
from enum import StrEnum

import numpy as np

from core.advice.days_ahead import planned_of
from core.advice.inputs import BlockInputs
from core.advice.needs_ahead import needs_ahead
from core.advice.to_the_end import ripens, until
from core.advice.vocabulary import Regime
from core.crop.season import CropSeason
from core.crop.yield_loss import loss_per_mm, past_sensitive
from core.finish.last_irrigation import (
    Finish,
    LeftOfSeason,
    ReserveMethod,
    finish,
    reserve_mm,
)
from core.finish.rest_of_season import RestOfSeason, courses_to_end, days_left, use_factor
from core.finish.to_maturity import ToMaturity, table_to_maturity
from core.weather.years import WeatherRecord, years_to_come

# As far as a forecast is worth more than the years before.
FORECAST_DAYS = 10
# A stage that was seen may be wrong by so many days.
STAGE_WRONG_DAYS = 3


class FinishStatus(StrEnum):
    """Whether anything can be said of a block's last irrigation."""

    KNOWN = "known"
    NO_FINISH = "no_finish"
    NO_STATE = "no_state"
    NO_WEATHER = "no_weather"
    OVER = "over"


@dataclass(frozen=True)
class BlockFinish:
    """How a block's season ends, and how it would if its stage were some days off.

    ripe_on, table : None where nothing can be said, or the crop has no table
    loss_per_mm : share of the yield that is lost with each mm that the crop lacks [1/mm]; None
        where what is lacking is first taken from a reserve
    efficiency : net over gross of its system, leaching included [-]
    """

    status: FinishStatus
    on: date
    ripe_on: date | None = None
    left: LeftOfSeason | None = None
    found: Finish | None = None
    if_later: Finish | None = None
    if_earlier: Finish | None = None
    table: ToMaturity | None = None
    loss_per_mm: float | None = None
    crop_key: str = ""
    efficiency: float = 1.0


def block_finish(
    inputs: BlockInputs, record: WeatherRecord, method: ReserveMethod, chance: float
) -> BlockFinish:
    """The last irrigations of a block, as things are known at the moment of its inputs.

    Parameters
    ----------
    record : weather of the years before
    """
    on = inputs.now.date()
    season = inputs.assumed.season
    if season is not None and not _has_finish(inputs, season):
        return BlockFinish(FinishStatus.NO_FINISH, on)
    needs = needs_ahead([inputs], FORECAST_DAYS)[0]
    holds = needs.holds if needs else None
    if needs is None or holds is None:
        return BlockFinish(FinishStatus.NO_STATE, on)
    crop = needs.season.crop
    system = inputs.assumed.system
    reaches = system.efficiency * (1.0 - needs.leaching_share)
    factor = use_factor(crop, needs.book_day, needs.use_mm, needs.et0_mm_day)
    rest = RestOfSeason(crop, needs.book_day, factor, inputs.assumed.wetted_share)
    days = days_left(rest)
    if days == 0:
        return BlockFinish(FinishStatus.OVER, on)
    weather = years_to_come(record, on.timetuple().tm_yday, days + STAGE_WRONG_DAYS, on.toordinal())
    if weather is None:
        return BlockFinish(FinishStatus.NO_WEATHER, on)
    largest = system.largest_mm * reaches if system.largest_mm else float(needs.raw_mm[0])

    def left_if(later: int) -> LeftOfSeason:
        of = replace(rest, book_day=max(rest.book_day - later, 0.0))
        use, rain = courses_to_end(of, (needs.use_mm, needs.water_mm), weather)
        taw = float(needs.taw_mm[0])
        return LeftOfSeason(
            available_mm=holds.available_mm,
            taw_mm=holds.taw_mm,
            raw_mm=float(needs.raw_mm[0]),
            reserve_mm=reserve_mm(method, taw),
            use_mm=use,
            rain_mm=rain,
            planned_mm=until(planned_of(inputs), rain.shape[1]),
            smallest_mm=min(system.smallest_mm * reaches, largest),
            largest_mm=largest,
            may_wait=past_sensitive(crop, of.book_day),
        )

    left = left_if(0)
    ends = crop.stage_ends
    return BlockFinish(
        status=FinishStatus.KNOWN,
        on=on,
        ripe_on=on + timedelta(days=days),
        left=left,
        found=finish(left, chance),
        if_later=finish(left_if(STAGE_WRONG_DAYS), chance),
        if_earlier=finish(left_if(-STAGE_WRONG_DAYS), chance),
        table=table_to_maturity(crop.key, float(np.interp(needs.book_day, ends, np.arange(5)))),
        loss_per_mm=loss_per_mm(crop, needs.book_day, needs.et0_mm_day, value=1.0)
        if method is ReserveMethod.ALL
        else None,
        crop_key=crop.key,
        efficiency=reaches,
    )


def _has_finish(inputs: BlockInputs, season: CropSeason) -> bool:
    """Whether a crop ripens on a day; a ponded field says by itself when it is drained."""
    return ripens(season) and inputs.assumed.regime is Regime.ABOVE_REFILL
