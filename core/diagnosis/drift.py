"""Sensors whose figure for the same soil moves away, and instruments that still settle."""

import numpy as np

from core.arrays import Floats
from core.diagnosis.block import SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, Figure, Finding

DAY_H = 24.0
# A tube in slurry settles for two to three weeks (handbooks of probes; from memory) [days].
SETTLES_DAYS = 21.0
# What a drained or a wettest level must have moved by [m3/m3], with so little scatter [-], over so
# many events; tried on both simulated truths.
MOVED, STEADY, FEWEST = 0.035, 0.8, 4
# Others at the same site must have moved by less than this share of it [-].
OTHERS = 0.5
# A sensor that gets wetter with no water for so long has moved by itself [days, m3/m3].
CLIMB_DAYS, CLIMBED = 7.0, 0.012


def settling(block: SeenBlock) -> list[Finding]:
    """Instruments that were put in less than three weeks ago."""
    out = []
    for s, site in enumerate(block.sites):
        if np.isnan(site.installed_hours) or not -site.installed_hours < SETTLES_DAYS * DAY_H:
            continue
        evidence = (
            Evidence(
                site.installed_hours,
                0.0,
                Figure.HOURS,
                -site.installed_hours,
                SETTLES_DAYS * DAY_H,
                site=s,
            ),
        )
        out.append(Finding(Cause.SETTLING, 0.9, evidence, Cost(), s))
    return out


def drifting(block: SeenBlock) -> list[Finding]:
    """Sensors whose wet end moves steadily while the others' stays."""
    out = []
    for s, site in enumerate(block.sites):
        if site.record.is_tension or not site.events:
            continue
        moved = [_moved(site, j) for j in range(site.record.site.depth_mm.size)]
        for j, own in enumerate(moved):
            if own is None or abs(own[0]) < MOVED or own[1] < STEADY:
                continue
            others = [abs(x[0]) for k, x in enumerate(moved) if k != j and x is not None]
            if others and float(np.median(others)) > OTHERS * abs(own[0]):
                continue
            levels = _levels(site, j)
            evidence = tuple(
                Evidence(t, t, Figure.CONTENT, x, float(levels[0][1]), site=s, sensor=j)
                for t, x in levels
            )
            out.append(Finding(Cause.SENSOR_DRIFTS, 0.85, evidence, Cost(), s, j))
    return out


def _levels(site: SeenSite, sensor: int) -> list[tuple[float, float]]:
    """The wettest level of each event that went past a sensor and the next one below it."""
    depth = site.record.site.depth_mm
    out = []
    for event in site.events:
        answer = event.wetting.answer_of(sensor)
        passed = event.reach.low_mm > depth[sensor] or event.reach.beyond_sensors
        if answer is None or not passed:
            continue
        level = site.record.theta[answer.peak_row, sensor]
        if not np.isnan(level):
            out.append((answer.peak_hours, float(level)))
    return out


def _moved(site: SeenSite, sensor: int) -> tuple[float, float] | None:
    """How far the levels have moved from the first to the last, and how steadily [-]."""
    levels = _levels(site, sensor)
    if len(levels) < FEWEST:
        return None
    t, x = np.array(levels).T
    if t[-1] - t[0] < 14 * DAY_H:
        return None
    slope: Floats = np.polyfit(t, x, 1)
    steady = abs(float(np.corrcoef(t, x)[0, 1])) if x.std() > 0 else 0.0
    return float(slope[0] * (t[-1] - t[0])), steady
