"""Sensors whose figure for the same soil moves away, and instruments that still settle."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.diagnosis.block import SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding
from core.instrument.kinds import kinds
from core.quality.climbs import DAY_HOURS

# The wet and the dry end of readings [percent] by windows of so many days; four at least.
ENDS, WINDOW_DAYS, FEWEST_WINDOWS = (3, 97), 10, 4
# A sensor may fall by itself where water no longer comes down to it: so often it must have, in so
# many of the newest windows.
FEWEST_LATE, LATE_WINDOWS = 3, 2
# Both ends must have moved by so much beyond both neighbours' [m3/m3]; tried on both simulated
# truths. Of the first and the last sensor it can't be told: soil beside them differs too.
MOVED = 0.025
AT_ONCE = 0.8  # of all of it, in one window [-]


def settling(block: SeenBlock) -> list[Finding]:
    """Instruments put in so lately that their kind is not at rest yet."""
    out = []
    for s, site in enumerate(block.sites):
        takes = kinds()[site.record.site.kind].settles_days * DAY_HOURS
        if np.isnan(site.installed_hours) or -site.installed_hours >= takes:
            continue
        evidence = (
            Evidence(
                site.installed_hours,
                0.0,
                EvidenceFigure.HOURS,
                -site.installed_hours,
                takes,
                site=s,
            ),
        )
        out.append(Finding(Cause.SETTLING, 0.9, evidence, Cost(), s))
    return out


def drifting(block: SeenBlock) -> list[Finding]:
    """Sensors whose wet and dry ends both move away from their neighbours'; one of a site."""
    out = []
    for s, site in enumerate(block.sites):
        if site.record.is_tension:
            continue
        ends = _ends(site)
        moved = [_moved_alone(ends, j) for j in range(site.record.site.depth_mm.size)]
        # Soil that water no longer comes down to dries by itself; nothing wets it but water.
        moved = [x if x > 0 or _wetted_late(site, ends, k) else 0.0 for k, x in enumerate(moved)]
        j = int(np.argmax(np.abs(moved)))
        if moved[j] == 0:
            continue
        first, last = ends.hours[0], ends.hours[-1]
        evidence = tuple(
            Evidence(
                float(first),
                float(last + WINDOW_DAYS * DAY_HOURS),
                EvidenceFigure.CONTENT,
                float(end[-1, j]),
                float(end[-1, j] - moved[j]),
                site=s,
                sensor=j,
            )
            for end in (ends.wet, ends.dry)
        )
        out.append(Finding(Cause.SENSOR_DRIFTS, 0.85, evidence, Cost(), s, j))
    return out


@dataclass(frozen=True)
class _Ends:
    """Wet and dry end of each sensor's readings by window; arrays (windows, sensors) [m3/m3],
    beginnings ``hours`` (windows,)."""

    hours: Floats
    wet: Floats
    dry: Floats

    def moved(self, end: Floats) -> Floats:
        """How far each sensor's end has moved over all windows, by a straight line."""
        k = np.arange(self.hours.size)
        out: Floats = np.polyfit(k, end, 1)[0] * (k.size - 1)
        return out


def _ends(site: SeenSite) -> _Ends:
    hours, theta = site.record.site.hours, site.record.theta
    sensors = theta.shape[1]
    none = np.empty((0, sensors))
    if not hours.size:
        return _Ends(np.empty(0), none, none)
    count = int((hours[-1] - hours[0]) // (WINDOW_DAYS * DAY_HOURS))
    begins = hours[-1] - WINDOW_DAYS * DAY_HOURS * np.arange(count, 0, -1)
    edges = np.searchsorted(hours, [*begins, hours[-1]])
    wet, dry = np.full((count, sensors), np.nan), np.full((count, sensors), np.nan)
    for k in range(count):
        part = theta[edges[k] : edges[k + 1]]
        heard = (~np.isnan(part)).mean(axis=0) > 0.5 if part.size else np.zeros(sensors, bool)
        if heard.any():
            dry[k, heard], wet[k, heard] = np.nanpercentile(part[:, heard], ENDS, axis=0)
    return _Ends(begins, wet, dry)


def _wetted_late(site: SeenSite, ends: _Ends, sensor: int) -> bool:
    """Whether water went past a sensor in the newest windows."""
    depth = float(site.record.site.depth_mm[sensor])
    since = ends.hours[-LATE_WINDOWS] if ends.hours.size >= LATE_WINDOWS else np.inf
    late = [e for e in site.events if e.wetting.after_hours >= since and e.reach.low_mm > depth]
    return len(late) >= FEWEST_LATE


def _beyond(own: float, low: float, high: float) -> float:
    """How far a figure lies outside of a range; 0 within it."""
    if np.isnan([own, low, high]).any():
        return float("nan")
    return max(own - high, 0.0) + min(own - low, 0.0)


def _moved_alone(ends: _Ends, sensor: int) -> float:
    """How far a sensor moved beside its neighbours, the lesser of both ends; 0 where it did not."""
    if ends.hours.size < FEWEST_WINDOWS or not 0 < sensor < ends.wet.shape[1] - 1:
        return 0.0
    beside = []
    for end in (ends.wet, ends.dry):
        moved = ends.moved(end)
        above, below = float(moved[sensor - 1]), float(moved[sensor + 1])
        beside.append(_beyond(float(moved[sensor]), min(above, below), max(above, below)))
        steps = np.diff(end[:, sensor] - (end[:, sensor - 1] + end[:, sensor + 1]) / 2)
        # Soil that a wetting reached for good moves at once, a sensor that drifts bit by bit.
        if np.abs(steps).max() > AT_ONCE * max(abs(float(steps.sum())), MOVED):
            return 0.0
    least = float(min(np.abs(beside)))
    alike = np.sign(beside[0]) == np.sign(beside[1])
    if np.isnan(beside).any() or not alike or least < MOVED:
        return 0.0
    return float(np.sign(beside[0])) * least
