"""A subsoil that never dries: a table that rises, soil that does not drain."""

import numpy as np

from core.arrays import Floats
from core.diagnosis.block import SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding
from core.events.event import WettingEvent
from core.quality.climbs import DAY_HOURS

# The newest so many days must all have been wet [days].
WET_DAYS = 12
# Above full by so much is wet whatever the sensor's own error [m3/m3], and by this share of the way
# from full to saturated [-], on nearly all of the readings [-].
WET_THETA, WET_SHARE, MOSTLY = 0.1, 0.55, 0.95
# The subsoil begins at this share of the roots, and no higher than this [-, mm].
LOWER_ROOTS, LEAST_DEPTH_MM = 0.6, 300.0
# A table that came up has made the soil wetter by so much from below [m3/m3] within so many days,
# and it has stayed so for as many as the third.
CAME_UP, ROSE_WITHIN_DAYS, STAYED_DAYS = 0.04, 8, 4
FROM_ABOVE_DAYS = 5.0
# So many sensors that got wet from the deepest up, over so many days, say it alone.
CLIMBED_SENSORS, CLIMBED_DAYS = 3, 2.0
# After so many days without water from above, soil that drains is no longer above full.
DRY_DAYS = 3.0


def wet_subsoil(block: SeenBlock) -> list[Finding]:
    """Sites whose lowest sensors stay wet, where water from above is not what keeps them so."""
    out = []
    for s, site in enumerate(block.sites):
        heard = np.flatnonzero(site.record.speaks).tolist()
        if not heard:
            continue
        came_up = _came_up(site, heard)
        if came_up is not None:
            since, sensors = came_up
            evidence = _evidence(site, s, sensors, since)
            out.append(Finding(Cause.TABLE_RISES, 0.9, evidence, Cost(), s))
            continue
        sensors = _wet_sensors(site, heard)
        if sensors and _stays_wet(site, sensors[0]):
            since = float(site.record.site.hours[-1]) - WET_DAYS * DAY_HOURS
            evidence = _evidence(site, s, sensors, since)
            out.append(Finding(Cause.POOR_DRAINAGE, 0.8, evidence, Cost(), s))
    return out


def _daily(site: SeenSite, sensor: int) -> tuple[Floats, Floats]:
    """Mean of each day and the day's end; arrays (days,), oldest first."""
    hours = site.record.site.hours
    theta = site.record.theta[:, sensor]
    day = np.floor(hours / DAY_HOURS).astype(int)
    first = int(day[0])
    known = ~np.isnan(theta)
    count = np.bincount(day[known] - first, minlength=int(day[-1]) - first + 1)
    total = np.bincount(day[known] - first, theta[known], minlength=count.size)
    with np.errstate(invalid="ignore"):
        mean: Floats = total / count
    return (first + 1 + np.arange(count.size)) * DAY_HOURS, mean


def _wet_sensors(site: SeenSite, heard: list[int]) -> list[int]:
    """Sensors below most of the roots, from the deepest up, wet on all of the newest days."""
    record = site.record
    begin = float(record.site.hours[-1]) - WET_DAYS * DAY_HOURS
    if record.site.hours[0] > begin:
        return []
    newest = record.site.hours >= begin
    depth = record.site.depth_mm
    root = site.deepest_root_mm
    lower = LEAST_DEPTH_MM if np.isnan(root) else max(LOWER_ROOTS * root, LEAST_DEPTH_MM)
    out: list[int] = []
    for j in reversed(heard):
        theta = record.theta[newest, j]
        theta = theta[~np.isnan(theta)]
        if depth[j] < lower or not theta.size:
            continue
        full, sat = site.full_theta[j], site.sat_theta[j]
        # What a tension is against full does not hang on any calibration; a content does.
        margin = 0.0 if record.is_tension else WET_THETA
        if (theta > full + max(margin, WET_SHARE * (sat - full))).mean() >= MOSTLY:
            out.append(j)
    return out


def _last_from_above(site: SeenSite, sensor: int, before: float) -> WettingEvent | None:
    events = [
        e
        for e in site.events
        if e.wetting.after_hours <= before and e.wetting.answer_of(sensor) is not None
    ]
    return events[-1] if events else None


def _came_up(site: SeenSite, heard: list[int]) -> tuple[float, list[int]] | None:
    """When the deepest sensor got wet for good before those above it did, and the sensors that got
    wet one after the other from there up; None where that was not seen."""
    if site.record.is_tension:
        return None
    since = _rose_for_good(site, heard[-1])
    if since is None:
        return None
    sensors, at = [heard[-1]], since
    for j in reversed(heard[:-1]):
        above = _rose_for_good(site, j)
        if above is None:
            break
        if above < at - DAY_HOURS:
            return None
        sensors.append(j)
        at = above
    if len(sensors) >= CLIMBED_SENSORS and at - since >= CLIMBED_DAYS * DAY_HOURS:
        return since, sensors
    # Water that went down past the sensor above may be what stands at the deepest one.
    for event in site.events:
        near = since - FROM_ABOVE_DAYS * DAY_HOURS <= event.wetting.after_hours <= since
        above = len(heard) > 1 and event.wetting.answers[0].sensor < heard[-2]
        if near and above and event.rise[heard[-2]] >= CAME_UP / 2:
            return None
    return since, sensors


def _rose_for_good(site: SeenSite, sensor: int) -> float | None:
    """When a sensor rose by far and stayed there to this day; None where it did not."""
    ends, mean = _daily(site, sensor)
    known = ~np.isnan(mean)
    ends, mean = ends[known], mean[known]
    if mean.size < ROSE_WITHIN_DAYS + STAYED_DAYS:
        return None
    newest = float(mean[-STAYED_DAYS:].min())
    # The last day on which it was still near to what it had been before.
    low = float(mean[:-STAYED_DAYS].min())
    if newest - low < CAME_UP:
        return None
    half = low + (newest - low) / 2
    at = int(np.flatnonzero(mean < half)[-1]) + 1 if (mean < half).any() else 0
    before = float(mean[max(at - ROSE_WITHIN_DAYS, 0) : at].min()) if at else np.inf
    if mean.size - at < STAYED_DAYS or float(mean[at:].min()) - before < CAME_UP:
        return None
    return float(ends[at]) - DAY_HOURS


def _stays_wet(site: SeenSite, sensor: int) -> bool:
    """Whether it is wet days after the last water that came down to it."""
    now = float(site.record.site.hours[-1])
    last = _last_from_above(site, sensor, now)
    return last is None or now - last.wetting.peak_hours > DRY_DAYS * DAY_HOURS


def _evidence(site: SeenSite, s: int, sensors: list[int], since: float) -> tuple[Evidence, ...]:
    now = float(site.record.site.hours[-1])
    figure = EvidenceFigure.TENSION if site.record.is_tension else EvidenceFigure.CONTENT
    out = []
    for j in sorted(sensors):
        values = site.record.site.value[:, j] if site.record.is_tension else site.record.theta[:, j]
        rows = site.record.site.hours >= since
        full = float("nan") if site.record.is_tension else float(site.full_theta[j])
        seen = float(np.nanmean(values[rows]))
        out.append(Evidence(since, now, figure, seen, full, site=s, sensor=j))
    return tuple(out)
