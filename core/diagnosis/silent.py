"""Sensors that say nothing, or always the same."""

import numpy as np

from core.diagnosis.block import SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding
from core.instrument.kinds import kinds
from core.quality.standstill import FLAT_HOURS

# A logger that sends each hour has failed when it is silent for so long, one that is read each
# week when two rounds were missed [h, usual steps].
SILENT_H, SILENT_STEPS = 48.0, 2.5


def silent(block: SeenBlock) -> list[Finding]:
    """By sensor; a whole instrument that is silent is one finding."""
    out = []
    for s, site in enumerate(block.sites):
        # What has never been read has not failed.
        if not site.record.site.hours.size:
            continue
        quiet = [j for j in range(site.record.site.depth_mm.size) if _is_silent(site, j)]
        flat = [j for j in range(site.record.site.depth_mm.size) if _is_flat(site, j)]
        if quiet and len(quiet) == site.record.site.depth_mm.size:
            out.append(_finding(Cause.SENSOR_SILENT, site, s, quiet[0], whole=True))
            continue
        out += [_finding(Cause.SENSOR_SILENT, site, s, j) for j in quiet]
        out += [_finding(Cause.SENSOR_FLAT, site, s, j) for j in flat if j not in quiet]
    return out


def _last_value(site: SeenSite, sensor: int) -> tuple[float, float]:
    """Newest reading of a sensor and its hour; NaN and -inf where there is none."""
    known = np.flatnonzero(~np.isnan(site.record.site.value[:, sensor]))
    if not known.size:
        return float("nan"), float("-inf")
    row = int(known[-1])
    return float(site.record.site.value[row, sensor]), float(site.record.site.hours[row])


def _is_silent(site: SeenSite, sensor: int) -> bool:
    hours = site.record.site.hours
    known = hours[~np.isnan(site.record.site.value[:, sensor])]
    step = float(np.median(np.diff(known))) if known.size > 1 else SILENT_H
    _, last = _last_value(site, sensor)
    # Hours count from now: so long has nothing come.
    return -last > max(SILENT_H, SILENT_STEPS * step)


def _is_flat(site: SeenSite, sensor: int) -> bool:
    """Whether it has shown the very same figure up to its newest reading, as the rules found."""
    values = site.record.site.value[:, sensor]
    known = np.flatnonzero(~np.isnan(values))
    if known.size < 2 or site.record.site.doubt[known[-1], sensor] == "":
        return False
    # At the end of its scale an instrument stands still since it can't show more.
    if values[known[-1]] >= kinds()[site.record.site.kind].high:
        return False
    same = known[values[known] == values[known[-1]]]
    changed = known[values[known] != values[known[-1]]]
    since = site.record.site.hours[changed[-1]] if changed.size else site.record.site.hours[same[0]]
    return bool(site.record.site.hours[known[-1]] - since >= FLAT_HOURS)


def _finding(cause: Cause, site: SeenSite, s: int, sensor: int, whole: bool = False) -> Finding:
    value, last = _last_value(site, sensor)
    hours = site.record.site.hours
    first = float(hours[0]) if np.isinf(last) else last
    if cause is Cause.SENSOR_FLAT:
        values = site.record.site.value[:, sensor]
        other = np.flatnonzero(~np.isnan(values) & (values != value))
        first = float(hours[other[-1]]) if other.size else float(hours[0])
    figure = EvidenceFigure.TENSION if site.record.is_tension else EvidenceFigure.CONTENT
    at = None if whole else sensor
    evidence = (Evidence(first, 0.0, figure, value, site=s, sensor=at),)
    return Finding(cause, 0.95, evidence, Cost(), s, at)
