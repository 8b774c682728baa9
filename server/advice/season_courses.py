"""Seasons of a block, each with its course, its sums and its warmth."""

from collections.abc import Iterable
from datetime import date, datetime, time, timedelta

import numpy as np

from core.advice.season_course import SeasonCourse
from core.arrays import Floats
from core.crop.degree_days import degree_days
from core.events.event import wetting_events
from core.regime.assess import season_course
from core.sentence import sentence
from server.advice.answers import load_whole
from server.base.errors import NotFound
from server.base.json_out import known
from server.base.schema import Schema
from server.blocks.crop import season_crop
from server.blocks.models import Block, CropSeason
from server.events.bring_up import site_records
from server.events.reading import midnight
from server.farms.models import Farm
from server.water.models import Irrigation
from server.weather.models import WeatherDay


class SeasonTotals(Schema):
    """Running sums to the end of each day [mm over the block]; ``passed_mm`` of wetting events is
    null where none has told it yet."""

    rain_mm: list[float]
    irrigations: list[int]
    irrigation_gross_mm: list[float]
    used_mm: list[float]
    drained_mm: list[float]
    below_refill_days: list[int]
    wettings: list[int]
    passed_mm: list[float | None]


class SeasonCourseOut(Schema):
    """A season day by day from ``first`` on [mm over the block]; null where the state is not known.

    ``degree_days`` since planting, null where the crop has none or temperatures are missing.
    """

    block: str
    season_id: int
    crop: str
    planted_on: date
    first: date
    last: date
    is_over: bool
    depletion_mm: list[float | None]
    taw_mm: list[float | None]
    raw_mm: list[float | None]
    degree_days: list[float] | None
    totals: SeasonTotals


def last_day(block: Block, season: CropSeason) -> date:
    """The season's last by the book, or the one before the next crop."""
    grown = season.planted_on + timedelta(days=sum(season_crop(season).stage_days))
    later = [s.planted_on for s in block.seasons.all() if s.planted_on > season.planted_on]
    return min([grown, *(day - timedelta(days=1) for day in later)])


def block_season(farm: Farm, block: Block, season: CropSeason) -> SeasonCourseOut:
    """A season up to now, or up to its end.

    Raises
    ------
    NotFound
        Where nothing of it is known: no day of it has passed, or no weather is on record.
    """
    now, last = farm.now(), last_day(block, season)
    is_over = last < now.date()
    # The morning after its last day.
    at = datetime.combine(last + timedelta(days=1), time(6), now.tzinfo) if is_over else now
    inputs = load_whole(farm, [block], at).inputs[block.pk]
    course = season_course(inputs)
    if course is None:
        raise NotFound(sentence("Nothing is known of this season."))
    end = course.first + timedelta(days=course.depletion_mm.size - 1)
    weather = list(
        WeatherDay.objects.for_farm(farm)
        .filter(date__gte=season.planted_on, date__lte=end)
        .order_by("date")
    )
    return SeasonCourseOut(
        block=block.name,
        season_id=season.pk,
        crop=season_crop(season).name,
        planted_on=season.planted_on,
        first=course.first,
        last=end,
        is_over=is_over,
        depletion_mm=[known(x) for x in course.depletion_mm],
        taw_mm=[known(x) for x in course.taw_mm],
        raw_mm=[known(x) for x in course.raw_mm],
        degree_days=_warmth(season, course, weather),
        totals=_totals(farm, block, season, course, weather, end),
    )


def _warmth(
    season: CropSeason, course: SeasonCourse, weather: list[WeatherDay]
) -> list[float] | None:
    """Degree-days from planting to the end of each day of the course."""
    clock = season_crop(season).degree_days
    days = (course.first - season.planted_on).days + course.depletion_mm.size
    low, high = np.full(days, np.nan), np.full(days, np.nan)
    for row in weather:
        if row.t_min_c is not None and row.t_max_c is not None:
            at = (row.date - season.planted_on).days
            low[at], high[at] = row.t_min_c, row.t_max_c
    if clock is None or np.isnan(low).any():
        return None
    warmth = degree_days(low, high, clock.base_c, clock.upper_c, clock.method).cumsum()
    return [round(float(x), 1) for x in warmth[-course.depletion_mm.size :]]


def _totals(
    farm: Farm,
    block: Block,
    season: CropSeason,
    course: SeasonCourse,
    weather: list[WeatherDay],
    end: date,
) -> SeasonTotals:
    first, after = (
        midnight(day, farm.now()) for day in (season.planted_on, end + timedelta(days=1))
    )
    sets = list(
        Irrigation.objects.for_farm(farm)
        .filter(block=block, started_at__gte=first, started_at__lt=after)
        .exclude(status__in=(Irrigation.Status.PLANNED, Irrigation.Status.CANCELLED))
    )
    # Events are kept of the season under way alone; others are read when they are asked for.
    records = site_records(farm, block, first, min(after, farm.now()), {})
    events = wetting_events([r.record for r in records])
    share = records[0].record.wetted_share if records else 1.0
    sites = max(sum(bool(seen) for seen in events), 1)
    zone = farm.now().tzinfo
    seen = [
        ((of.until + timedelta(hours=e.wetting.after_hours)).astimezone(zone).date(), e.passed.mm)
        for of, own in zip(records, events, strict=True)
        for e in own
    ]
    told = [(on, mm * share / sites) for on, mm in seen if not np.isnan(mm)]

    def running(found: Iterable[tuple[date, float]]) -> Floats:
        """Sums to the end of each day; what came between planting and the first day is its own."""
        out = np.zeros(course.depletion_mm.size)
        for on, amount in found:
            out[min(max((on - course.first).days, 0), out.size - 1)] += amount
        return out.cumsum()

    passed, told_by = running(told), running((on, 1.0) for on, _ in told)
    started = [(s.started_at.astimezone(zone).date(), s.gross_mm) for s in sets]
    return SeasonTotals(
        rain_mm=running((row.date, row.rain_mm or 0.0) for row in weather).tolist(),
        irrigations=running((on, 1.0) for on, _ in started).astype(int).tolist(),
        irrigation_gross_mm=running(started).tolist(),
        used_mm=np.nancumsum(course.used_mm).tolist(),
        drained_mm=np.nancumsum(course.drained_mm).tolist(),
        below_refill_days=np.cumsum(course.below_refill).astype(int).tolist(),
        wettings=np.round(running((on, 1.0) for on, _ in seen) / sites).astype(int).tolist(),
        passed_mm=[mm if n else None for mm, n in zip(passed.tolist(), told_by, strict=True)],
    )
