"""Limits and roots that the soil shows otherwise than they are set."""

import numpy as np

from core.diagnosis.block import SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding, likelihood
from core.learned.full_point import full_point
from core.learned.root_activity import FEEDS_TO, RootsFit, root_activity

# A full point that is off by so much over all layers that show one is worth a word [m3/m3].
FULL_OFF = 0.025
ONE_WRONG = 0.3
# Soil that has come down by no more of what lies between full and refill is moist [-], from the
# wettest that is not a wild reading [percent].
MOIST_SHARE, WETTEST = 0.5, 98
# Where the range that is told ends nearer to the roots in use, they are the same [mm, share of
# them]; and it takes so many days to say so.
ROOTS_OFF_MM, ROOTS_OFF_SHARE, FEWEST_DAYS = 60.0, 0.2, 6


def limits_seen(block: SeenBlock) -> list[Finding]:
    """By site, since each instrument reads in its own way."""
    out = []
    for s, site in enumerate(block.sites):
        out += [f for f in (_full_off(site, s), _roots_off(site, s)) if f is not None]
    return out


def _full_off(site: SeenSite, s: int) -> Finding | None:
    if not site.events:
        return None
    told = []
    for j in np.flatnonzero(site.record.speaks).tolist():
        point = full_point([float(e.drained_theta[j]) for e in site.events])
        if point is not None:
            told.append((j, point))
    if not told:
        return None
    off = np.array([p.theta - site.full_theta[j] for j, p in told])
    beyond = [not p.low <= site.full_theta[j] <= p.high for j, p in told]
    alike = bool((off > 0).all() or (off < 0).all())
    if not (alike and sum(beyond) * 2 >= len(told) and abs(float(off.mean())) >= FULL_OFF):
        return None
    now = float(site.record.site.hours[-1])
    first = min(e.wetting.after_hours for e in site.events)
    evidence = tuple(
        Evidence(
            first, now, EvidenceFigure.CONTENT, p.theta, float(site.full_theta[j]), site=s, sensor=j
        )
        for j, p in told
    )
    count = sum(p.events for _, p in told) // len(told)
    return Finding(Cause.FULL_POINT_OFF, likelihood(count, ONE_WRONG), evidence, Cost(), s)


def _roots_off(site: SeenSite, s: int) -> Finding | None:
    root = site.deepest_root_mm
    if np.isnan(root):
        return None
    told = root_activity(site.record, site.events)
    if told is None or told.beside(root) is RootsFit.FITS:
        return None
    feeds = FEEDS_TO * root
    beyond = max(told.low_mm - feeds, feeds - told.high_mm)
    if told.days < FEWEST_DAYS or beyond < max(ROOTS_OFF_MM, ROOTS_OFF_SHARE * feeds):
        return None
    if told.beside(root) is RootsFit.SHALLOWER and _dry_below(site, told.feeds_mm, root):
        return None
    now = float(site.record.site.hours[-1])
    since = now - 24.0 * told.days
    seen = told.low_mm if np.isinf(told.feeds_mm) else told.feeds_mm
    evidence = (Evidence(since, now, EvidenceFigure.DEPTH, seen, FEEDS_TO * root, site=s),)
    return Finding(Cause.ROOTS_OFF, likelihood(told.days // 2, ONE_WRONG), evidence, Cost(), s)


def _dry_below(site: SeenSite, feeds_mm: float, root_mm: float) -> bool:
    """Whether soil between where roots feed and where they are thought to end has dried: roots may
    be there and take from the wetter soil above."""
    record = site.record
    depth = record.site.depth_mm
    newest = record.theta[record.site.hours >= record.site.hours[-1] - 24.0]
    for j in np.flatnonzero((depth > feeds_mm) & (depth <= root_mm)).tolist():
        known = newest[~np.isnan(newest[:, j]), j]
        own = record.theta[:, j]
        wettest = np.percentile(own[~np.isnan(own)], WETTEST) if known.size else np.nan
        allowed = site.full_theta[j] - site.refill_theta[j]
        if known.size and wettest - known.mean() > MOIST_SHARE * allowed:
            return True
    return False
