"""A stored season as the core takes it: its crop, what was seen, its clock."""

from collections.abc import Sequence
from datetime import date, datetime

import numpy as np

from core.crop.catalogue import Crop, crop
from core.crop.degree_days import degree_days
from core.crop.growth_stages import book_day, growth_stages
from core.crop.season import CoverSeen, StageSeen
from core.crop.season import CropSeason as SeasonInput
from server.blocks.models import Block, CropSeason, EventKind
from server.crops.own import own_crop
from server.weather.models import WeatherDay


def season_crop(season: CropSeason) -> Crop:
    """The crop of a season, of the book or the farm's own."""
    return own_crop(season.farm_crop) if season.farm_crop else crop(season.crop_key)


def book_key(season: CropSeason) -> str:
    """The crop of the book that a season's crop is or comes from."""
    return season.farm_crop.book_key if season.farm_crop else season.crop_key


def season_under_way(block: Block, on: date) -> CropSeason | None:
    """The crop last planted on or before a date, or else the next; None without a crop."""
    seasons = sorted(block.seasons.all(), key=lambda s: s.planted_on)
    begun = [s for s in seasons if s.planted_on <= on]
    return begun[-1] if begun else (seasons[0] if seasons else None)


def _seen(season: CropSeason, grown: Crop) -> tuple[StageSeen, ...]:
    places = {s.key: s.place for s in growth_stages(book_key(season))}
    return tuple(
        StageSeen((e.on - season.planted_on).days, book_day(grown, places[e.stage_key]))
        for e in season.events.all()
        if e.kind == EventKind.STAGE and e.stage_key in places
    )


def _warmth(
    season: CropSeason, grown: Crop, weather: Sequence[WeatherDay], now: datetime
) -> tuple[float, ...] | None:
    """Degree-days of each day from planting to yesterday; None where days are the clock."""
    clock = grown.degree_days
    if season.clock != CropSeason.Clock.DEGREE_DAYS or clock is None:
        return None
    days = max((now.date() - season.planted_on).days, 0)
    low, high = np.full(days, np.nan), np.full(days, np.nan)
    for row in weather:
        i = (row.date - season.planted_on).days
        if 0 <= i < days and row.t_min_c is not None and row.t_max_c is not None:
            low[i], high[i] = row.t_min_c, row.t_max_c
    found = degree_days(low, high, clock.base_c, clock.upper_c, clock.method)
    return tuple(found.tolist())


def season_input(season: CropSeason, weather: Sequence[WeatherDay], now: datetime) -> SeasonInput:
    """A stored season as the core takes it; its events and own crop should be prefetched.

    ``weather`` matters only where warmth is the clock; it should then reach back to planting.
    """
    grown = season_crop(season)
    events = list(season.events.all())
    covers = tuple(
        CoverSeen((e.on - season.planted_on).days, e.cover, e.height_m)
        for e in events
        if e.kind == EventKind.COVER and e.cover is not None and e.height_m is not None
    )
    cuts = tuple((e.on - season.planted_on).days for e in events if e.kind == EventKind.CUT)
    return SeasonInput(
        crop=grown,
        planted_on=season.planted_on,
        seen=_seen(season, grown),
        covers=covers,
        cuts=cuts,
        degree_days=_warmth(season, grown, weather, now),
    )
