"""A logger or a log whose clock is off: water seen hours before it was given, each time alike."""

import numpy as np

from core.diagnosis.block import RAIN, SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding, likelihood

# Offsets tried for, and how much they may differ from each other [h].
LONGEST_H, ALIKE_H = 14.0, 1.5
# Water takes hours to come down to a sensor: nothing is told of less than this [h].
LEAST_H = 2.0
FEWEST = 3
ONE_WRONG = 0.25


def clock_off(block: SeenBlock, since_hours: float) -> list[Finding]:
    """Sites at which irrigations show before they began, by the same time again and again."""
    out = []
    for s, site in enumerate(block.sites):
        early = _early(site, since_hours)
        if len(early) < FEWEST:
            continue
        off = np.array([x for _, _, x in early])
        typical = float(np.median(off))
        alike = [p for p in early if abs(p[2] - typical) <= ALIKE_H]
        irrigations = sum(
            k != RAIN and x.start_hours >= since_hours
            for k, x in zip(site.irrigation.tolist(), site.record.supplies, strict=True)
        )
        if len(alike) < FEWEST or len(alike) < 0.5 * irrigations:
            continue
        evidence = tuple(
            Evidence(seen, start, EvidenceFigure.HOURS, start - seen, 0.0, site=s, irrigation=k)
            for seen, start, k in ((start - x, start, k) for start, k, x in alike)
        )
        sure = likelihood(len(alike), ONE_WRONG)
        out.append(Finding(Cause.CLOCK_OFF, sure, evidence, Cost(), s))
    return out


def _early(site: SeenSite, since_hours: float) -> list[tuple[float, int, float]]:
    """Irrigations that the soil showed before they began: start, number, and by how much [h]."""
    out = []
    for event in site.events:
        begins = event.wetting.after_hours
        # What brought it began after it; or, where nothing explains it, some that was not seen did.
        brought = event.supplies or tuple(site.unseen)
        near = [
            (site.record.supplies[k].start_hours - begins, k)
            for k in brought
            if site.irrigation[k] != RAIN and site.record.supplies[k].start_hours >= since_hours
        ]
        early = [(x, k) for x, k in near if LEAST_H <= x <= LONGEST_H]
        if early and len(early) == (len(near) if event.supplies else len(early)):
            lead, k = min(early)
            out.append((site.record.supplies[k].start_hours, int(site.irrigation[k]), lead))
    return out
