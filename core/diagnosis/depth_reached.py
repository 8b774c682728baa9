"""How deep irrigations go beside the roots: past them, or not down to them."""

import numpy as np

from core.diagnosis.block import RAIN, SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding, likelihood
from core.events.event import WettingEvent

NEWEST, FEWEST = 5, 3
# Water that passes the roots is worth a word above this share of what was given and this depth
# [-, mm]; working assumptions.
PASSED_SHARE, PASSED_MM = 0.2, 4.0
ONE_WRONG, SURE = 0.25, 2.0
# Irrigations that end above this share of the roots leave the rest of them dry [-]; and the soil
# there has dried by so much of what lies between full and refill [-].
ENDS_ABOVE, DRIED_SHARE = 0.75, 0.65
BELOW_SHARE = 0.2
WETTEST = 98  # of all readings, past a wild one [percent]


def depth_reached(block: SeenBlock, since_hours: float) -> list[Finding]:
    """Over the newest irrigations of all sites; at most one cause for each site."""
    out = []
    for s, site in enumerate(block.sites):
        newest = _newest(site, since_hours)
        if len(newest) < FEWEST:
            continue
        found = _passes(site, s, newest) or _ends_short(site, s, newest)
        if found is not None:
            out.append(found)
    return _of_block(out, len(block.sites))


def _newest(site: SeenSite, since_hours: float) -> list[WettingEvent]:
    """The newest events that irrigations alone brought."""
    events = [
        e
        for e in site.events
        if e.supplies
        and e.wetting.after_hours >= since_hours
        and all(site.irrigation[k] != RAIN for k in e.supplies)
    ]
    return events[-NEWEST:]


def _passes(site: SeenSite, s: int, events: list[WettingEvent]) -> Finding | None:
    lost = [e for e in events if not np.isnan(e.passed.mm) and not np.isnan(e.given.mm)]
    if len(lost) < FEWEST or not _clearly_passes(lost):
        return None
    evidence = tuple(
        Evidence(
            e.wetting.after_hours,
            e.settled_hours,
            EvidenceFigure.WATER,
            e.passed.mm,
            0.0,
            site=s,
            irrigation=int(site.irrigation[e.supplies[0]]),
        )
        for e in lost
    )
    span = lost[-1].wetting.after_hours - lost[0].wetting.after_hours
    each = span / (len(lost) - 1)
    week = float(np.mean([e.passed.mm for e in lost])) * 7 * 24.0 / max(each, 24.0)
    return Finding(Cause.PASSES_ROOTS, likelihood(len(lost), ONE_WRONG), evidence, Cost(week), s)


def _clearly_passes(events: list[WettingEvent]) -> bool:
    """Whether a good part of all their water passed, beyond its spread."""
    passed = sum(e.passed.mm for e in events)
    sigma = float(np.sqrt(sum(e.passed.sigma_mm**2 for e in events)))
    least = max(PASSED_SHARE * sum(e.given.mm for e in events), PASSED_MM * len(events))
    return passed >= least and passed > SURE * sigma


def _ends_short(site: SeenSite, s: int, events: list[WettingEvent]) -> Finding | None:
    """Irrigations that never come down to where roots are and the soil is dry."""
    short = [
        e for e in events if e.reach.high_mm <= e.root_mm and e.reach.mm <= ENDS_ABOVE * e.root_mm
    ]
    if len(short) < len(events):
        return None
    # Rain may do what irrigations don't.
    since = events[0].wetting.after_hours
    others = [e for e in site.events if e.wetting.after_hours >= since]
    if any(e.reach.mm > ENDS_ABOVE * e.root_mm for e in others):
        return None
    last = events[-1]
    depth = site.record.site.depth_mm
    below = [j for j in range(depth.size) if last.reach.high_mm <= depth[j] <= last.root_mm]
    before = site.record.row_at(last.wetting.before_hours)
    dried = [_dried(site, j, before) for j in below]
    if not dried or not all(dried):
        return None
    evidence = tuple(
        Evidence(
            e.wetting.after_hours,
            e.settled_hours,
            EvidenceFigure.DEPTH,
            e.reach.mm,
            e.root_mm,
            site=s,
            irrigation=int(site.irrigation[e.supplies[0]]),
        )
        for e in short
    )
    return Finding(Cause.RUN_TOO_SHORT, likelihood(len(short), ONE_WRONG), evidence, Cost(), s)


def _dried(site: SeenSite, sensor: int, row: int) -> bool:
    """Whether a sensor has come down far from the wettest it has been itself, and lies below the
    full point in use as well: either may be off by a good part."""
    theta = site.record.theta[: row + 1, sensor]
    known = theta[~np.isnan(theta)]
    if not known.size:
        return False
    allowed = site.full_theta[sensor] - site.refill_theta[sensor]
    own = np.percentile(known, WETTEST) - known[-1] >= DRIED_SHARE * allowed
    return bool(own and known[-1] < site.full_theta[sensor] - BELOW_SHARE * allowed)


def _of_block(found: list[Finding], sites: int) -> list[Finding]:
    """What all sites show alike is said once, of the block."""
    by_cause: dict[Cause, list[Finding]] = {}
    for f in found:
        by_cause.setdefault(f.cause, []).append(f)
    out = []
    for cause, alike in by_cause.items():
        if len(alike) < sites or sites == 1:
            out += alike
            continue
        evidence = sorted((e for f in alike for e in f.evidence), key=lambda e: e.from_hours)
        sure = max(f.likelihood for f in alike)
        mm = [f.cost.mm_week for f in alike]
        out.append(Finding(cause, sure, tuple(evidence), Cost(float(np.mean(mm)))))
    return out
