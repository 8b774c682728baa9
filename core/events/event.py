"""Wetting events of sites: what came, how deep it went, what stayed, what passed the roots."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.events.drained_level import AT_REST_H, drained_levels
from core.events.draining import Draining, draining, night_losses
from core.events.noise import Measure, night_noise
from core.events.passed import UNKNOWN, Amount, both, passed_by_balance, passed_by_sensors
from core.events.reach import Reach, front_mm_h, reach_of
from core.events.record import SiteRecord
from core.events.rises import Channels, Rises, find_rises
from core.events.stored import Stored, stored
from core.events.supply import supplies_of
from core.events.wettings import Answer, Wetting, wettings_of
from core.quality.climbs import DAY_HOURS
from core.quality.series import Series

# Within this time after the last of it came, water spreads out so far that sensors some way apart
# tell what there is: tried at 0 to 36 h on both simulated truths, see docs [h].
SETTLES_H = 18.0
# Water that creeps on below the last sensor that answered is waited for so long [h]; working
# assumption.
SLOW_H = 24.0
# Sites whose readings are put end to end: more at once only fills the memory.
AT_ONCE = 32
UNKNOWN_SHARE = (float("nan"), float("nan"))


@dataclass(frozen=True)
class WettingEvent:
    """A wetting of one site, and what is known of its water.

    All depths of water are those of the ground that was wetted; hours from now.

    rise : array (sensors,) [m3/m3], of each sensor to its wettest reading; NaN where not known
    settled_hours : when the water had spread out between the sensors, or the next came
    stored : added by then, by layer, after what was used
    root_mm : depth of the roots on that day
    supplies : places of its irrigations and rain; empty where none was logged
    given : what they brought; NaN where none was logged
    used_mm : by the crop up to then
    recovery : share of what was given that was found again, and its spread [-]
    passed : what went past the roots
    drained_theta : array (sensors,) [m3/m3], see `core.events.drained_level`
    """

    wetting: Wetting
    reach: Reach
    front_mm_h: tuple[float, float, float]
    rise: Floats
    settled_hours: float
    stored: Stored
    root_mm: float
    supplies: tuple[int, ...]
    given: Amount
    used_mm: float
    recovery: tuple[float, float]
    passed: Amount
    draining: Draining
    drained_theta: Floats


def wetting_events(records: Sequence[SiteRecord]) -> list[tuple[WettingEvent, ...]]:
    """Wetting events of many sites, found in one pass over their readings; by site, in order."""
    out = []
    for first in range(0, len(records), AT_ONCE):
        part = records[first : first + AT_ONCE]
        rises = _answers(part)
        out += [_of_site(record, found) for record, found in zip(part, rises, strict=True)]
    return out


@dataclass(frozen=True)
class _EndToEnd:
    """Trusted readings of sites, one sensor after another.

    owner : site and sensor of each channel
    row : of the site's readings; local_hour : by the farm's clock
    """

    series: Series
    measures: list[Measure]
    owner: list[tuple[int, int]]
    row: np.ndarray
    local_hour: Floats

    @property
    def is_tension(self) -> np.ndarray:
        return np.array([m is Measure.TENSION for m in self.measures], bool)


def _end_to_end(records: Sequence[SiteRecord]) -> _EndToEnd:
    channel: list[np.ndarray] = [np.empty(0, np.int64)]
    hours: list[Floats] = [np.empty(0)]
    value: list[Floats] = [np.empty(0)]
    step: list[Floats] = [np.empty(0)]
    row: list[np.ndarray] = [np.empty(0, np.int64)]
    clock: list[Floats] = [np.empty(0)]
    measures: list[Measure] = []
    owner: list[tuple[int, int]] = []
    for i, record in enumerate(records):
        site = record.site
        for j in range(site.depth_mm.size):
            good = np.flatnonzero(~np.isnan(site.theta[:, j]))
            channel.append(np.full(good.size, len(owner)))
            hours.append(site.hours[good])
            value.append(site.value[good, j])
            step.append(np.full(good.size, _usual_step(hours[-1])))
            row.append(good)
            clock.append((site.hours[good] + record.clock_hour) % DAY_HOURS)
            measures.append(Measure.TENSION if record.is_tension else Measure.THETA)
            owner.append((i, j))
    # A site's readings rise in time: there is nothing to check, and each sensor has one usual step.
    series = Series(
        np.concatenate(channel), np.concatenate(hours), np.concatenate(value), np.concatenate(step)
    )
    return _EndToEnd(series, measures, owner, np.concatenate(row), np.concatenate(clock))


def _usual_step(hours: Floats) -> float:
    """Usual time between readings [h]; infinite for a lone one, as `Series` has it."""
    return float(np.median(np.diff(hours))) if hours.size > 1 else float("inf")


def site_noise(records: Sequence[SiteRecord]) -> list[Floats]:
    """Noise of each site's sensors, of `core.events.noise.night_noise`; arrays (sensors,)."""
    read = _end_to_end(records)
    noise = night_noise(read.series, read.local_hour, read.is_tension)
    ends = np.cumsum([r.site.depth_mm.size for r in records])
    return np.split(noise, ends[:-1]) if records else []


def _answers(records: Sequence[SiteRecord]) -> list[list[Answer]]:
    """The rises of each site's sensors."""
    out: list[list[Answer]] = [[] for _ in records]
    read = _end_to_end(records)
    if any(r.noise is None for r in records):
        noise = night_noise(read.series, read.local_hour, read.is_tension)
    else:
        noise = np.empty(len(read.owner))
    for k, (i, j) in enumerate(read.owner):
        known = records[i].noise
        if known is not None:
            noise[k] = known[j]
    rises = find_rises(read.series, Channels.of(read.measures, noise))
    for k in range(rises.channel.size):
        i, j = read.owner[rises.channel[k]]
        out[i].append(_answer(j, rises, k, read.series.hours, read.row))
    return out


def _answer(sensor: int, rises: Rises, k: int, hours: Floats, rows: np.ndarray) -> Answer:
    before, after, peak = rises.before[k], rises.after[k], rises.peak[k]
    return Answer(
        sensor,
        int(rows[before]),
        int(rows[peak]),
        float(hours[before]),
        float(hours[after]),
        float(hours[peak]),
        bool(rises.is_over[k]),
    )


def _of_site(record: SiteRecord, answers: list[Answer]) -> tuple[WettingEvent, ...]:
    site = record.site
    depth = site.depth_mm.tolist()
    wetness = -site.value if record.is_tension else site.value
    wettings = wettings_of(answers, depth, wetness)
    joined = supplies_of(wettings, depth, record.supplies)
    ends = [w.before_hours for w in wettings[1:]] + [float(site.hours[-1])] if wettings else []
    return tuple(
        _event(record, wetting, tuple(rows), end)
        for wetting, rows, end in zip(wettings, joined, ends, strict=True)
    )


def _event(
    record: SiteRecord, wetting: Wetting, supplies: tuple[int, ...], until_hours: float
) -> WettingEvent:
    site, theta = record.site, record.theta
    first = record.row_at(wetting.before_hours)
    settled = _settled_row(record, wetting, supplies, until_hours)
    span = theta[first : record.row_at(wetting.peak_hours) + 1]
    seen = np.asarray(~np.isnan(span).any(axis=0), bool)
    kept = stored(site.depth_mm, theta[first], theta[settled], record.slope_sigma)
    at = float(site.hours[settled])
    root = record.root_at(at)
    given = _given(record, supplies)
    used = record.used_between(wetting.before_hours, at)
    rise = _rise(record, wetting, first, until_hours)
    reach = reach_of(wetting, site.depth_mm, rise, seen)
    drained = _drained(record, root, at, until_hours)
    return WettingEvent(
        wetting=wetting,
        reach=reach,
        front_mm_h=front_mm_h(wetting, site.depth_mm),
        rise=rise,
        settled_hours=at,
        stored=kept,
        root_mm=root,
        supplies=supplies,
        given=given,
        used_mm=used,
        recovery=_recovery(kept, used, given),
        passed=_passed(kept, reach, root, given, used, drained),
        draining=drained,
        drained_theta=drained_levels(
            record, reach, _last_hours(record, wetting, supplies) + AT_REST_H, until_hours
        ),
    )


def _rise(record: SiteRecord, wetting: Wetting, first: int, until_hours: float) -> Floats:
    """How far each sensor rose; those that did not answer within the time that slow water has."""
    site, theta = record.site, record.theta
    until = min(wetting.peak_hours + SLOW_H, until_hours)
    span = theta[first : record.row_at(until) + 1]
    known = ~np.isnan(span).all(axis=0) & ~np.isnan(theta[first])
    rise = np.full(site.depth_mm.shape, np.nan)
    rise[known] = np.nanmax(span[:, known], axis=0) - theta[first, known]
    for a in wetting.answers:
        rise[a.sensor] = site.theta[a.peak_row, a.sensor] - site.theta[a.before_row, a.sensor]
    return rise


def _settled_row(
    record: SiteRecord, wetting: Wetting, supplies: tuple[int, ...], until_hours: float
) -> int:
    """The row of readings by which the water had spread out: before the next came, in any case."""
    spread = _last_hours(record, wetting, supplies) + SETTLES_H
    return record.row_at(min(spread, until_hours))


def _last_hours(record: SiteRecord, wetting: Wetting, supplies: tuple[int, ...]) -> float:
    """When the last of the water came, and had come to the last sensor."""
    ends = [record.supplies[k].end_hours for k in supplies]
    return max([a.after_hours for a in wetting.answers] + ends)


def _given(record: SiteRecord, rows: tuple[int, ...]) -> Amount:
    """What irrigations and rain brought to the wetted ground."""
    if not rows:
        return UNKNOWN
    mm = variance = 0.0
    for k in rows:
        supply = record.supplies[k]
        share = 1.0 if supply.is_rain else record.wetted_share
        mm += supply.mm / share
        variance += (supply.sigma_mm / share) ** 2
    return Amount(mm, variance**0.5)


def _recovery(kept: Stored, used_mm: float, given: Amount) -> tuple[float, float]:
    """Share of what was given that was found again, and its spread."""
    if not given.mm > 0:
        return UNKNOWN_SHARE
    share = (kept.total_mm + used_mm) / given.mm
    return share, float(np.hypot(kept.sigma_mm, share * given.sigma_mm)) / given.mm


def _drained(record: SiteRecord, root_mm: float, from_hours: float, until_hours: float) -> Draining:
    """How the root zone drained from the time the water had spread out."""
    if np.isnan(root_mm):
        return draining([], from_hours, until_hours)
    rows = slice(record.row_at(from_hours), record.row_at(until_hours) + 1)
    store = record.store_mm(root_mm, rows)
    nights = night_losses(record.site.hours[rows], record.night[rows], store)
    return draining(nights, from_hours, until_hours)


def _passed(
    kept: Stored, reach: Reach, root_mm: float, given: Amount, used_mm: float, drained: Draining
) -> Amount:
    """What went past the roots; not known where they go deeper than the instruments."""
    if np.isnan(root_mm) or (root_mm > kept.reaches_mm and reach.beyond_sensors):
        return UNKNOWN
    below = Amount(kept.between(root_mm, float("inf")), kept.sigma_mm)
    seen = passed_by_sensors(below, drained.lost_mm, reach, root_mm)
    if not reach.beyond_sensors:
        return seen
    stayed = Amount(kept.between(0.0, root_mm) - drained.lost_mm, kept.sigma_mm)
    return both(seen, passed_by_balance(given, stayed, used_mm))
