"""Sensors whose figure for the same soil moves away, and instruments that still settle."""

import numpy as np

from core.arrays import Floats
from core.diagnosis.block import SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, Figure, Finding
from core.instrument.kinds import kinds

DAY_H = 24.0
# What a wettest level must have moved by beside the others' [m3/m3], how steadily [-], over so many
# events; tried on both simulated truths.
MOVED, STEADY, FEWEST = 0.035, 0.8, 4


def settling(block: SeenBlock) -> list[Finding]:
    """Instruments put in so lately that their kind is not at rest yet."""
    out = []
    for s, site in enumerate(block.sites):
        takes = kinds()[site.record.site.kind].settles_days * DAY_H
        if np.isnan(site.installed_hours) or -site.installed_hours >= takes:
            continue
        evidence = (
            Evidence(
                site.installed_hours,
                0.0,
                Figure.HOURS,
                -site.installed_hours,
                takes,
                site=s,
            ),
        )
        out.append(Finding(Cause.SETTLING, 0.9, evidence, Cost(), s))
    return out


def drifting(block: SeenBlock) -> list[Finding]:
    """Sensors whose wet end moves steadily beside the others of the same events; one of a site."""
    out = []
    for s, site in enumerate(block.sites):
        if site.record.is_tension or not site.events:
            continue
        moved = [_moved(site, j) for j in range(site.record.site.depth_mm.size)]
        size = np.array([0.0 if m is None else abs(m[0]) for m in moved])
        j = int(np.argmax(size))
        own = moved[j]
        if own is None or size[j] < MOVED or own[1] < STEADY:
            continue
        levels = _levels(site, j)
        evidence = tuple(
            Evidence(t, t, Figure.CONTENT, x, float(levels[0][1]), site=s, sensor=j)
            for t, x, _ in levels
        )
        out.append(Finding(Cause.SENSOR_DRIFTS, 0.85, evidence, Cost(), s, j))
    return out


def _levels(site: SeenSite, sensor: int) -> list[tuple[float, float, float]]:
    """The wettest level in each event that went past a sensor: when, and how far it stands above
    the other sensors that the same water passed."""
    depth = site.record.site.depth_mm
    out = []
    for event in site.events:
        answer = event.wetting.answer_of(sensor)
        passed = event.reach.low_mm > depth[sensor] or event.reach.beyond_sensors
        if answer is None or not passed:
            continue
        level = site.record.theta[answer.peak_row, sensor]
        others = [
            site.record.theta[a.peak_row, a.sensor]
            for a in event.wetting.answers
            if a.sensor != sensor and depth[a.sensor] < event.reach.low_mm
        ]
        if others and not np.isnan([level, *others]).any():
            out.append((answer.peak_hours, float(level), float(level - np.median(others))))
    return out


def _moved(site: SeenSite, sensor: int) -> tuple[float, float] | None:
    """How far a sensor has moved beside the others from first to last, and how steadily [-]."""
    levels = _levels(site, sensor)
    if len(levels) < FEWEST:
        return None
    t, _, x = np.array(levels).T
    if t[-1] - t[0] < 14 * DAY_H:
        return None
    slope: Floats = np.polyfit(t, x, 1)
    steady = abs(float(np.corrcoef(t, x)[0, 1])) if x.std() > 0 else 0.0
    return float(slope[0] * (t[-1] - t[0])), steady
