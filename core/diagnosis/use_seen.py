"""What roots took on dry days beside the stated use: short of water, or another use than stated."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.diagnosis.block import SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding, likelihood
from core.instrument.sensor_layers import sensor_layers
from core.learned.daily_falls import daily_falls
from core.learned.root_activity import NIGHTS
from core.quality.climbs import DAY_HOURS

# Days of no use to speak of tell nothing [mm].
LEAST_USE_MM = 2.0
# Newest dry days must all take less than this share of what the same site took before [-].
NEWEST_DAYS, FADED = 4, 0.6
FEWEST_BEFORE = 4
# Of all days before, the middle of the better ones are those with enough water [percent].
USUAL = 70
# Use that differs from the stated by so much over so many dry days [-, days].
USE_LOW, USE_HIGH, FEWEST_DAYS = 0.7, 1.2, 8
# Sites that differ by more than this say something of themselves, not of the crop [-].
AGREE = 1.5
WELL_WATERED_DAYS = 5.0
ONE_WRONG = 0.4


@dataclass(frozen=True)
class DailyUse:
    """Dry days: end [h from now], share of the stated use that was seen [-], stated use [mm/day];
    arrays (days,)."""

    ends: Floats
    share: Floats
    stated_mm: Floats


def daily_use(site: SeenSite) -> DailyUse:
    """What a site's layers lost by day beyond the nights, over the stated use of those days."""
    record = site.record
    none = np.empty(0)
    if not record.day_hours.size or record.site.hours.size < 2:
        return DailyUse(none, none, none)
    ends, falls = daily_falls(record, site.events, nights=NIGHTS)
    speaks = ~np.isnan(falls).any(axis=0) if falls.size else np.zeros(0, bool)
    if not speaks.any():
        return DailyUse(none, none, none)
    top, bottom = sensor_layers(record.site.depth_mm[speaks])
    seen = falls[:, speaks] @ (bottom - top)
    stated = np.array([record.used_between(e - DAY_HOURS, e) for e in ends])
    use = ~np.isnan(stated) & (stated >= LEAST_USE_MM)
    return DailyUse(ends[use], seen[use] / stated[use], stated[use])


def use_seen(block: SeenBlock, since_hours: float) -> list[Finding]:
    """Crops that take ever less of what they would use, and stated uses that are off.

    A site is short of water where its newest dry days all took far less than it took before; the
    stated use is off where all sites took another share of it for long.
    """
    short = []
    kept: list[DailyUse] = []
    for s, site in enumerate(block.sites):
        # A tension's change of water hangs on the curve, which may be off by as much.
        if site.record.is_tension:
            continue
        use = daily_use(site)
        at = use.ends >= since_hours
        use = DailyUse(use.ends[at], use.share[at], use.stated_mm[at])
        found = _short(site, s, use)
        if found is not None:
            short.append(found)
        if not _sees_all_roots(site):
            continue
        watered = _after_water(site, use)
        if watered.share.size >= FEWEST_DAYS:
            kept.append(watered)
    return short or _off(kept)


def _after_water(site: SeenSite, use: DailyUse) -> DailyUse:
    """Days soon enough after a wetting that the crop had all it wanted."""
    if not site.events:
        return DailyUse(use.ends[:0], use.share[:0], use.stated_mm[:0])
    begins = np.array([e.wetting.after_hours for e in site.events])
    last = np.searchsorted(begins, use.ends) - 1
    since = np.where(last >= 0, use.ends - begins[np.maximum(last, 0)], np.inf)
    fresh = since <= WELL_WATERED_DAYS * DAY_HOURS
    return DailyUse(use.ends[fresh], use.share[fresh], use.stated_mm[fresh])


def _sees_all_roots(site: SeenSite) -> bool:
    record = site.record
    speaks = record.speaks
    if not speaks.any() or np.isnan(site.deepest_root_mm):
        return False
    _, bottom = sensor_layers(record.site.depth_mm[speaks])
    return bool(site.deepest_root_mm <= bottom[-1])


def _short(site: SeenSite, s: int, use: DailyUse) -> Finding | None:
    if use.share.size < NEWEST_DAYS + FEWEST_BEFORE:
        return None
    now = float(site.record.site.hours[-1])
    newest, before = use.share[-NEWEST_DAYS:], use.share[:-NEWEST_DAYS]
    if use.ends[-1] < now - 2 * DAY_HOURS:
        return None
    usual = float(np.percentile(before, USUAL))
    if not (usual > 0 and (newest < FADED * usual).all()):
        return None
    evidence = tuple(
        Evidence(
            float(e) - DAY_HOURS,
            float(e),
            EvidenceFigure.RATE,
            float(x * mm),
            float(usual * mm),
            site=s,
        )
        for e, x, mm in zip(
            use.ends[-NEWEST_DAYS:], newest, use.stated_mm[-NEWEST_DAYS:], strict=True
        )
    )
    return Finding(
        Cause.SHORT_OF_WATER,
        likelihood(NEWEST_DAYS, ONE_WRONG),
        evidence,
        Cost(stress_days_week=7.0),
        s,
    )


def _off(kept: list[DailyUse]) -> list[Finding]:
    if not kept:
        return []
    typical = np.array([float(np.median(u.share)) for u in kept])
    if (typical <= 0).any() or typical.max() > AGREE * typical.min():
        return []
    middle = float(np.exp(np.log(typical).mean()))
    if USE_LOW <= middle <= USE_HIGH:
        return []
    evidence = tuple(
        Evidence(
            float(u.ends[0]) - DAY_HOURS,
            float(u.ends[-1]),
            EvidenceFigure.RATE,
            float(np.median(u.share * u.stated_mm)),
            float(np.median(u.stated_mm)),
            site=s if len(kept) > 1 else None,
        )
        for s, u in enumerate(kept)
    )
    days = sum(u.share.size for u in kept)
    off = float(np.mean([np.abs(1 - u.share).mean() * u.stated_mm.mean() for u in kept]))
    return [Finding(Cause.USE_OFF, likelihood(days // 4, ONE_WRONG), evidence, Cost(off * 7))]
