"""A subsoil that never dries: a table that rises, soil that does not drain."""

import numpy as np

from core.arrays import Floats
from core.diagnosis.block import SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, Figure, Finding
from core.events.event import WettingEvent

DAY_H = 24.0
# The newest so many days must all have been wet [days].
WET_DAYS = 12
# Above full by so much is wet whatever the sensor's own error [m3/m3]; or wetter than this [kPa]
# (handbooks of tensiometers; from memory).
WET_THETA, WET_KPA = 0.06, 10.0
# A table that came up has made the soil wetter by so much from below [m3/m3].
CAME_UP = 0.03
# After so many days without water from above, soil that drains is no longer above full.
DRY_DAYS = 3.0


def wet_subsoil(block: SeenBlock) -> list[Finding]:
    """Sites whose lowest sensors stay wet, where water from above is not what keeps them so."""
    out = []
    for s, site in enumerate(block.sites):
        sensors = _wet_sensors(site)
        if not sensors:
            continue
        came_up = _from_below(site, sensors[0])
        if came_up is not None:
            evidence = _evidence(site, s, sensors, came_up)
            out.append(Finding(Cause.TABLE_RISES, 0.9, evidence, Cost(), s))
        elif _stays_wet(site, sensors[0]):
            since = float(site.record.site.hours[-1]) - WET_DAYS * DAY_H
            evidence = _evidence(site, s, sensors, since)
            out.append(Finding(Cause.POOR_DRAINAGE, 0.8, evidence, Cost(), s))
    return out


def _daily(site: SeenSite, sensor: int) -> tuple[Floats, Floats]:
    """Mean of each day and the day's end; arrays (days,), oldest first."""
    hours = site.record.site.hours
    theta = site.record.theta[:, sensor]
    day = np.floor(hours / DAY_H).astype(int)
    first = int(day[0])
    known = ~np.isnan(theta)
    count = np.bincount(day[known] - first, minlength=int(day[-1]) - first + 1)
    total = np.bincount(day[known] - first, theta[known], minlength=count.size)
    with np.errstate(invalid="ignore"):
        mean: Floats = total / count
    return (first + 1 + np.arange(count.size)) * DAY_H, mean


def _wet_sensors(site: SeenSite) -> list[int]:
    """The lowest sensors, from the deepest up, that have been wet on all of the newest days."""
    record = site.record
    out: list[int] = []
    if not record.site.hours.size:
        return out
    newest = record.site.hours >= record.site.hours[-1] - WET_DAYS * DAY_H
    if record.site.hours[0] > record.site.hours[-1] - WET_DAYS * DAY_H:
        return out
    heard = np.flatnonzero(record.speaks)
    for j in reversed(heard.tolist()):
        value = record.site.value[newest, j] if record.is_tension else record.theta[newest, j]
        known = value[~np.isnan(value)]
        if not known.size:
            continue
        least = site.full_theta[j] + WET_THETA
        wet = (known < WET_KPA).all() if record.is_tension else (known > least).mean() >= 0.95
        if not wet:
            break
        out.append(j)
    return out


def _last_from_above(site: SeenSite, sensor: int, before: float) -> WettingEvent | None:
    events = [
        e
        for e in site.events
        if e.wetting.after_hours <= before and e.wetting.answer_of(sensor) is not None
    ]
    return events[-1] if events else None


def _from_below(site: SeenSite, sensor: int) -> float | None:
    """When a sensor got wet with no water past the one above it; None where that was not seen."""
    ends, mean = _daily(site, sensor)
    known = ~np.isnan(mean)
    ends, mean = ends[known], mean[known]
    wet = mean > site.full_theta[sensor] + WET_THETA
    since = np.flatnonzero(~wet)
    if not since.size or since[-1] + 1 >= mean.size:
        return None
    at = int(since[-1]) + 1
    first = max(at - 10, 0)
    if mean[at:].max() - mean[first:at].min() < CAME_UP:
        return None
    came = float(ends[at]) - DAY_H
    depth = site.record.site.depth_mm
    for event in site.events:
        near = came - 4 * DAY_H <= event.wetting.after_hours <= came + DAY_H
        above = [a.sensor for a in event.wetting.answers if a.sensor < sensor]
        # Water that went past the next sensor up may have come from above.
        if near and above and max(above) == _next_above(site, sensor) and depth.size > 1:
            return None
    return came


def _next_above(site: SeenSite, sensor: int) -> int:
    heard = [j for j in range(sensor) if site.record.speaks[j]]
    return heard[-1] if heard else -1


def _stays_wet(site: SeenSite, sensor: int) -> bool:
    """Whether it is wet days after the last water that came down to it."""
    now = float(site.record.site.hours[-1])
    last = _last_from_above(site, sensor, now)
    return last is None or now - last.wetting.peak_hours > DRY_DAYS * DAY_H


def _evidence(site: SeenSite, s: int, sensors: list[int], since: float) -> tuple[Evidence, ...]:
    now = float(site.record.site.hours[-1])
    figure = Figure.TENSION if site.record.is_tension else Figure.CONTENT
    out = []
    for j in sorted(sensors):
        values = site.record.site.value[:, j] if site.record.is_tension else site.record.theta[:, j]
        rows = site.record.site.hours >= since
        full = WET_KPA if site.record.is_tension else float(site.full_theta[j])
        seen = float(np.nanmean(values[rows]))
        out.append(Evidence(since, now, figure, seen, full, site=s, sensor=j))
    return tuple(out)
