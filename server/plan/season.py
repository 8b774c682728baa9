"""Each source over the rest of the season: by when to begin, and how its licence is best shared.

Worked out with each plan and stored beside it: format 1.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from math import isfinite
from typing import Literal

import numpy as np

from core.arrays import Floats
from core.finish.rest_of_season import days_left
from core.plan.capacity import latest_start
from core.plan.network import Network, same_name
from core.plan.season_ahead import BlockToCome, season_need, supply_need
from core.plan.season_water import share_season
from core.plan.source_capacity import m3_day
from core.weather.years import years_to_come
from server.base.schema import Schema
from server.farms.models import Farm
from server.weather.years_back import weather_record


class BlockShare(Schema):
    """A block's share of a season's water: net depths [mm] that it needs (the mean of the years),
    is given and lacks, and what 10 mm are worth in money where they are lacking."""

    block_id: int
    need_mm: float
    given_mm: float
    lacking_mm: float
    worth_10_mm: float


class OverYears(Schema):
    """The years' tenth, fiftieth and ninetieth percentile [m3]."""

    low: float
    middle: float
    high: float


class SeasonLicence(Schema):
    """What is left of a season's licence [m3], what its blocks need to their seasons' ends, and
    what is not used; and what another 1,000 m3 would be worth."""

    left_m3: float
    need_m3: OverYears
    unused_m3: OverYears
    worth_1000_m3: float
    shares: list[BlockShare]


class BeginBy(Schema):
    """The last day to begin so that no block passes refill in eight of ten years; null where today
    is too late. ``never`` are blocks that pass it though watering begins at once; ``beyond`` where
    the last day that was looked at is early enough."""

    on: date | None
    kept: float
    beyond: bool
    never: list[int]


class SourceSeason(Schema):
    """Null where nothing limits the source by the day, or by the season."""

    name: str
    begin_by: BeginBy | None
    licence: SeasonLicence | None


class StoredSeason(Schema):
    """``years`` of weather, 0 where too little is on record to say anything."""

    format: Literal[1] = 1
    years: int
    from_on: date
    sources: list[SourceSeason]


@dataclass(frozen=True)
class SeasonBlock:
    """A block of a plan, with what its season needs."""

    block_id: int
    supply: str
    to_come: BlockToCome


def season_ahead(
    farm: Farm,
    now: datetime,
    network: Network,
    blocks: Sequence[SeasonBlock],
    left_m3: Sequence[float],
) -> StoredSeason:
    """The rest of the season of each source that limits anything.

    Parameters
    ----------
    left_m3 : of each source's licence, in the network's order; infinite without one
    """
    on = now.date()
    days = max((days_left(b.to_come) for b in blocks), default=0)
    found = None
    if days > 0:
        found = years_to_come(
            weather_record(farm, on), on.timetuple().tm_yday, days, on.toordinal()
        )
    if found is None:
        return StoredSeason(years=0, from_on=on, sources=[])
    et0, rain = found
    sources = []
    for source, left in zip(network.sources, left_m3, strict=True):
        own = [b for b in blocks if same_name(b.supply, source.name) and days_left(b.to_come) > 0]
        daily = m3_day(source)
        if own and (isfinite(daily) or isfinite(left)):
            sources.append(
                SourceSeason(
                    name=source.name,
                    begin_by=_begin_by(own, et0, rain, daily, on) if isfinite(daily) else None,
                    licence=_licence(own, et0, rain, left) if isfinite(left) else None,
                )
            )
    return StoredSeason(years=et0.shape[0], from_on=on, sources=sources)


def _begin_by(
    own: Sequence[SeasonBlock], et0: Floats, rain: Floats, daily: float, on: date
) -> BeginBy:
    need = supply_need([b.to_come for b in own], et0, rain)
    start = latest_start(need, daily)
    return BeginBy(
        on=None if start.day is None else on + timedelta(days=start.day),
        kept=round(start.kept, 3),
        beyond=start.day == need.gain_mm.shape[2] - 1,
        never=[b.block_id for b, n in zip(own, start.never_kept.tolist(), strict=True) if n],
    )


def _licence(
    own: Sequence[SeasonBlock], et0: Floats, rain: Floats, left_m3: float
) -> SeasonLicence:
    need = season_need([b.to_come for b in own], et0, rain)
    shares = share_season(need, left_m3)
    wanted = (need.need_mm * need.m3_mm[:, None]).sum(axis=(1, 2))
    return SeasonLicence(
        left_m3=round(left_m3, 1),
        need_m3=_range(wanted),
        unused_m3=_range(shares.left_m3),
        worth_1000_m3=round(shares.price_m3 * 1000, 2),
        shares=[
            BlockShare(
                block_id=b.block_id,
                need_mm=round(float(need.need_mm[:, k].sum(axis=1).mean()), 1),
                given_mm=round(float(shares.net_mm[k].sum()), 1),
                lacking_mm=round(float(shares.lacking_mm[k]), 1),
                worth_10_mm=round(float(need.value_mm[k].max()) * 10, 2),
            )
            for k, b in enumerate(own)
        ],
    )


def _range(values: Floats) -> OverYears:
    low, middle, high = (round(float(x), 1) for x in np.percentile(values, [10, 50, 90]))
    return OverYears(low=low, middle=middle, high=high)
