"""Crops in their blocks day by day: stage, crop coefficient and root depth, many blocks at once.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO Irrigation and Drainage Paper 56, ch. 6 (fig. 34,
   eq. 66) and ch. 8.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date
from enum import StrEnum
from typing import Any, Self

import numpy as np

from core.arrays import ArrayLike, Floats
from core.crop.canopy import KC_MIN, cover_factor
from core.crop.catalogue import Crop
from core.crop.climate import Climate, climate_term, in_climate
from core.crop.reference import Surface
from core.crop.salinity import SaltStress
from core.sentence import sentence

# A bud break seen this near to the calendar's stands in its place [days].
SAME_BUD_BREAK_DAYS = 90
MEAN_WARMTH_DAYS = 14  # the days ahead are as warm as these last ones


class Stage(StrEnum):
    BEFORE = "before planting"
    INITIAL = "initial"
    DEVELOPMENT = "development"
    MID = "mid season"
    LATE = "late season"
    OVER = "season over"
    DORMANT = "dormant"


STAGE_ORDER = tuple(Stage)
IN_SEASON = frozenset({Stage.INITIAL, Stage.DEVELOPMENT, Stage.MID, Stage.LATE, Stage.DORMANT})


@dataclass(frozen=True)
class StageSeen:
    """On ``day`` [since planting] the crop stood where the book has it on ``book_day``."""

    day: int
    book_day: float


@dataclass(frozen=True)
class CoverSeen:
    """Ground cover [fraction] and height [m] measured on ``day`` [since planting]."""

    day: int
    cover: float
    height_m: float


@dataclass(frozen=True)
class CropSeason:
    """A crop in a block from its planting or bud break, and what was seen of it since.

    degree_days : array, shape (days,), of each day since planting [degrees C day]
        Given when warmth is the season's clock; NaN days count as the mean of the known.
    salt : where measured salt of the soil lowers the crop's use
    climate : wind and humidity, where they are measured; they count for Kc on the grass reference
    """

    crop: Crop
    planted_on: date
    seen: tuple[StageSeen, ...] = ()
    covers: tuple[CoverSeen, ...] = ()
    cuts: tuple[int, ...] = ()
    degree_days: tuple[float, ...] | None = None
    salt: SaltStress | None = None
    climate: Climate | None = None

    def on(self, surface: Surface, alfalfa_ratio: float | None) -> Self:
        """The same season with its Kc on a reference surface.

        The equations for a climate are those of Kc on the grass reference: one that was turned
        to it by the farm's ratio stays as it is.

        Raises
        ------
        SurfacesDiffer
            When the Kc stands on the other surface and no ratio between them is stated.
        """
        climate = self.climate if self.crop.surface is surface else None
        return replace(self, crop=self.crop.on(surface, alfalfa_ratio), climate=climate)

    def climate_terms(self, first: date, days: int) -> Floats:
        """What the climate adds to Kc of the middle and the end of the season on days from one
        on; array (days,) [-]."""
        if self.climate is None or self.crop.surface is not Surface.GRASS:
            return np.zeros(days)
        return climate_term(*self.climate.on(first, days), self.crop.height_m)


@dataclass(frozen=True)
class CropDays:
    """Crops on given days; arrays of the shape asked, (blocks, days) or (days,).

    kc [-], root_mm [mm], book_day [days of the crop's own calendar],
    stage_index : array of int, into `STAGE_ORDER`
    """

    kc: Floats
    root_mm: Floats
    book_day: Floats
    stage_index: np.ndarray

    @property
    def stage(self) -> np.ndarray:
        """Values of `Stage`, same shape."""
        return np.array([str(s) for s in STAGE_ORDER])[self.stage_index]

    def take(self, index: Any) -> "CropDays":
        """The same for a selection of blocks or days."""
        return CropDays(
            self.kc[index], self.root_mm[index], self.book_day[index], self.stage_index[index]
        )


def _anniversary(planted_on: date, year: int) -> date:
    # 29 February has one only every fourth year.
    day = min(planted_on.day, 28) if planted_on.month == 2 else planted_on.day
    return planted_on.replace(year=year, day=day)


def season_starts(season: CropSeason, last: date) -> tuple[int, ...]:
    """Days since planting on which a season begins; a perennial begins anew each year.

    A bud break seen within 90 days of the calendar's takes its place.
    """
    seen = [s.day for s in season.seen if s.book_day == 0]
    if not season.crop.perennial:
        return (0,)
    years = range(season.planted_on.year, last.year + 2)
    book = [(_anniversary(season.planted_on, y) - season.planted_on).days for y in years]
    kept = [d for d in book if all(abs(d - s) > SAME_BUD_BREAK_DAYS for s in seen)]
    return tuple(sorted({*kept, *seen}))


def _events(season: CropSeason, first: date, last: date) -> list[tuple[int, float]]:
    """Days from which the book's calendar stands elsewhere, as far as the stretch needs them."""
    found = dict.fromkeys(season_starts(season, last), 0.0)
    found.update({s.day: s.book_day for s in season.seen})
    begin, end = (first - season.planted_on).days, (last - season.planted_on).days
    events = sorted((d, b) for d, b in found.items() if d <= end)
    before = [i for i, (d, _) in enumerate(events) if d <= begin]
    return events[before[-1] if before else 0 :]


def _padded(rows: Sequence[Sequence[float]], fill: float) -> Floats:
    """Rows of unequal length as one array; shape (rows, longest)."""
    out = np.full((len(rows), max((len(r) for r in rows), default=0)), fill)
    for i, row in enumerate(rows):
        out[i, : len(row)] = row
    return out


def _ramp(t: Floats, start: Floats, end: Floats) -> Floats:
    """0 before start, 1 after end, straight between."""
    return np.clip((t - start) / np.maximum(end - start, 1e-9), 0, 1)


def _trapezoid(rise: Floats, fall: Floats, kc: Floats, climate: Floats) -> Floats:
    """Kc through flat, rise, flat, fall [1]_; rise, fall and what the climate adds to the two
    higher ones (blocks, days), kc (blocks, 3)."""
    k1, k2, k3 = kc[:, 0, None], kc[:, 1, None], kc[:, 2, None]
    k2, k3 = in_climate(k2, climate), in_climate(k3, climate)
    return k1 + (k2 - k1) * rise + (k3 - k2) * fall


def _stages_gone(t: Floats, ends: Floats) -> np.ndarray:
    """How many of the stages are over; t (blocks, days), ends (blocks, stages)."""
    gone = np.zeros(t.shape, int)
    for k in range(ends.shape[1]):
        gone += t >= ends[:, k, None]
    return gone


def _warm_days(season: CropSeason, t: Floats, events: list[tuple[int, float]]) -> Floats:
    """The book's day by accumulated warmth, for one season; t, shape (days,)."""
    clock = season.crop.degree_days
    if clock is None:
        raise ValueError(
            sentence(
                "{crop} has no degree-days in its values; add them first", crop=season.crop.name
            )
        )
    daily = np.asarray(season.degree_days, float)
    known = daily[~np.isnan(daily)]
    usual = float(known[-MEAN_WARMTH_DAYS:].mean()) if known.size else 0.0
    filled = np.where(np.isnan(daily), usual, daily)
    total = np.concatenate([[0.0], np.cumsum(filled)])
    warm_ends = np.concatenate([[0.0], np.cumsum(clock.stage_sums)])
    day_ends = np.concatenate([[0.0], np.cumsum(season.crop.stage_days)])

    def warmth(day: ArrayLike) -> Floats:
        d = np.asarray(day, float)
        beyond = np.maximum(d - daily.size, 0) * usual
        return np.interp(d, np.arange(total.size), total) + beyond

    gained = warmth(t)
    for day, book in events:
        start = np.interp(book, day_ends, warm_ends)
        gained = np.where(t >= day, start + warmth(t) - warmth(day), gained)
    out: Floats = np.interp(gained, warm_ends, day_ends)
    return out


def season_days(seasons: Sequence[CropSeason], first: date, days: int) -> CropDays:
    """Every season on every day of a stretch, in one pass.

    Parameters
    ----------
    seasons : sequence of CropSeason, (blocks,)
    first : date
    days : int

    Returns
    -------
    CropDays, shape (blocks, days)

    Raises
    ------
    ValueError
        When a season counts warmth and its crop has no degree-days.

    Notes
    -----
    Kc is flat through the initial stage, straight to the mid value over development, flat
    through mid season, straight to the end value over the late stage [1]_; mid and end values
    follow the climate where it is known (eq. 62, 65). Roots stand at
    their initial depth through the initial stage and reach the scheduling depth at the end
    of development; a perennial keeps its roots. A stage seen in the field sets the calendar
    from its day on and leaves the days before as they were. A cut starts the crop's cutting
    cycle. Ground cover scales what Kc has above bare ground. Dormant crops have the Kc of
    the initial stage.
    """
    last = date.fromordinal(first.toordinal() + max(days - 1, 0))
    crops = [s.crop for s in seasons]
    offset = np.array([(first - s.planted_on).days for s in seasons], float)
    t: Floats = offset[:, None] + np.arange(days, dtype=float)
    events = [_events(s, first, last) for s in seasons]
    at = _padded([[d for d, _ in e] for e in events], np.inf)
    to = _padded([[b for _, b in e] for e in events], 0.0)
    book = t.copy()
    begun = np.zeros(t.shape)
    for k in range(at.shape[1]):
        since = t >= at[:, k, None]
        start = np.where(np.isinf(at[:, k]), 0, at[:, k])[:, None]
        book = np.where(since, to[:, k, None] + t - start, book)
        begun = np.where(since & (to[:, k, None] == 0), start, begun)
    for i, season in enumerate(seasons):
        if season.degree_days is not None:
            book[i] = np.where(t[i] < 0, t[i], _warm_days(season, t[i], events[i]))

    ends = np.cumsum([c.stage_days for c in crops], axis=1).astype(float)
    grown = _ramp(book, ends[:, 0, None], ends[:, 1, None])
    faded = _ramp(book, ends[:, 2, None], ends[:, 3, None])
    climate = np.array([s.climate_terms(first, days) for s in seasons])
    kc = _trapezoid(grown, faded, np.array([c.kc for c in crops]), climate)
    perennial = np.array([c.perennial for c in crops])[:, None]
    shallow = np.array([c.root_initial_mm for c in crops])[:, None]
    deep = np.array([c.root_schedule_mm for c in crops])[:, None]
    root = np.where(perennial, deep, shallow + (deep - shallow) * grown)
    index = np.where(t < 0, 0, 1 + _stages_gone(book, ends))

    if any(s.cuts for s in seasons):
        kc, index = _after_cuts(seasons, t, begun, kc, index, climate)
    if any(s.covers for s in seasons):
        kc = KC_MIN + _cover_factors(seasons, t) * (kc - KC_MIN)
    if any(s.salt for s in seasons):
        kc = kc * np.array([s.salt.share if s.salt else 1.0 for s in seasons])[:, None]
    asleep = perennial & ((index == STAGE_ORDER.index(Stage.OVER)) | (index == 0))
    index = np.where(asleep, STAGE_ORDER.index(Stage.DORMANT), index)
    kc = np.where(asleep, np.array([c.kc[0] for c in crops])[:, None], kc)
    return CropDays(kc=kc, root_mm=root, book_day=book, stage_index=index)


def _after_cuts(
    seasons: Sequence[CropSeason],
    t: Floats,
    begun: Floats,
    kc: Floats,
    index: np.ndarray,
    climate: Floats,
) -> tuple[Floats, np.ndarray]:
    """Kc and stage from the last cut on; only cuts of the season that has begun count."""
    none = (1e9, 2e9, 3e9, 4e9)  # a crop that is not cut never comes round
    cycle = np.array(
        [np.cumsum(s.crop.cutting.days) if s.crop.cutting else none for s in seasons], float
    )
    after = np.array([s.crop.cutting.kc if s.crop.cutting else (0, 0, 0) for s in seasons], float)
    cuts = _padded([sorted(s.cuts) if s.crop.cutting else [] for s in seasons], np.inf)
    awake = (index >= 1) & (index <= len(STAGE_ORDER) - 3)
    for k in range(cuts.shape[1]):
        day = cuts[:, k, None]
        since = (t >= day) & (day >= begun) & awake
        u = np.where(since, t - np.where(np.isinf(day), 0, day), 0)
        rise = _ramp(u, cycle[:, 0, None], cycle[:, 1, None])
        fall = _ramp(u, cycle[:, 2, None], cycle[:, 3, None])
        kc = np.where(since, _trapezoid(rise, fall, after, climate), kc)
        stage = 1 + np.minimum(_stages_gone(u, cycle), 3)
        index = np.where(since, stage, index)
    return kc, index


def _cover_factors(seasons: Sequence[CropSeason], t: Floats) -> Floats:
    """What the newest measured cover makes of the book's Kc; 1 before the first measure."""
    factor = np.ones(t.shape)
    for i, season in enumerate(seasons):
        canopy = season.crop.canopy
        if canopy is None:
            continue
        for c in sorted(season.covers, key=lambda c: c.day):
            scale = cover_factor(c.cover, c.height_m, canopy.cover, canopy.height_m)
            factor[i] = np.where(t[i] >= c.day, scale, factor[i])
    return factor


def days_since_cut(season: CropSeason, day: int) -> int | None:
    """Days since the cut that a crop grows back from on a day since planting.

    None when it was not cut in the season under way, or that season is over.
    """
    if season.crop.cutting is None:
        return None
    on = date.fromordinal(season.planted_on.toordinal() + day)
    begun = max((s for s in season_starts(season, on) if s <= day), default=0)
    over = day - begun >= sum(season.crop.stage_days) and not season.seen
    cuts = [c for c in season.cuts if begun <= c <= day]
    return day - max(cuts) if cuts and not over else None


def crop_days(crop: Crop, day: ArrayLike) -> CropDays:
    """A crop by its own calendar: Kc, root depth and stage on days since planting.

    Parameters
    ----------
    crop : Crop
    day : array of whole days, shape (n,)

    Returns
    -------
    CropDays, shape (n,)
    """
    wanted = np.asarray(day).astype(int)
    origin = date(2001, 3, 1)
    low, high = int(wanted.min(initial=0)), int(wanted.max(initial=0))
    start = date.fromordinal(origin.toordinal() + low)
    table = season_days([CropSeason(crop, origin)], start, high - low + 1)
    return table.take((0, wanted - low))
