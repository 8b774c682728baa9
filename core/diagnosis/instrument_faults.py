"""Instruments that lie while they speak: columns of water that broke, jumps, tubes, contact."""

import numpy as np

from core.arrays import Floats
from core.diagnosis.block import SeenBlock, SeenSite
from core.diagnosis.cause import Cause
from core.diagnosis.finding import Cost, Evidence, EvidenceFigure, Finding, likelihood
from core.events.event import WettingEvent
from core.quality.climbs import DAY_HOURS, JUMP, JUMP_DEPTHS
from core.quality.flags import Flag, rule_book

# No front in soil goes so fast [mm/h]: at 20 mm/h into pores of a fiftieth; working assumption.
NO_FRONT_MM_H = 400.0
LEAST_WAY_MM = 300.0
FEWEST_EVENTS = 3
# A jump is alike at all depths, the largest over the least, and so much of it is left after a day.
ALIKE, STAYS = 1.6, 0.6
# Of what the sensors above and below it move, one in contact moves more than this [-]; and those
# must move so much to tell it [m3/m3]. Between these parts of all readings [percent].
CONTACT_SHARE, CONTACT_MOVES = 0.35, 0.03
ENDS = (5, 95)
TUBE_WRONG, CONTACT_WRONG, JUMP_WRONG = 0.35, 0.3, 0.4


def broken_columns(block: SeenBlock, since_hours: float) -> list[Finding]:
    """Tensiometers whose column of water is broken now."""
    name = rule_book().of(Flag.BROKEN_COLUMN).name
    out = []
    for s, site in enumerate(block.sites):
        hours, doubt = site.record.site.hours, site.record.site.doubt
        for j in range(site.record.site.depth_mm.size):
            known = np.flatnonzero(~np.isnan(site.record.site.value[:, j]))
            if not known.size or hours[known[-1]] < since_hours:
                continue
            broken = np.array([name in str(x) for x in doubt[known, j]])
            if not broken[-1]:
                continue
            whole = np.flatnonzero(~broken)
            since = int(known[whole[-1] + 1]) if whole.size else int(known[0])
            before = site.record.site.value[max(since - 24, 0) : since, j]
            seen = before[~np.isnan(before)]
            highest = float(seen.max()) if seen.size else float("nan")
            evidence = (
                Evidence(
                    float(hours[since]),
                    float(hours[known[-1]]),
                    EvidenceFigure.TENSION,
                    float(site.record.site.value[known[-1], j]),
                    highest,
                    site=s,
                    sensor=j,
                ),
            )
            out.append(Finding(Cause.COLUMN_BROKEN, 0.95, evidence, Cost(), s, j))
    return out


def jumps_together(block: SeenBlock, since_hours: float) -> list[Finding]:
    """All depths that jump from one reading to the next and stay, with no water."""
    out = []
    for s, site in enumerate(block.sites):
        at = [t for t in _jumps(site) if t >= since_hours]
        if not at:
            continue
        evidence = tuple(
            Evidence(t - _step(site), t, EvidenceFigure.CONTENT, _jump_size(site, t), 0.0, site=s)
            for t in at
        )
        sure = likelihood(1 + len(at), JUMP_WRONG)
        out.append(Finding(Cause.JUMPS_TOGETHER, sure, evidence, Cost(), s))
    return out


def _step(site: SeenSite) -> float:
    hours = site.record.site.hours
    return float(np.median(np.diff(hours))) if hours.size > 1 else DAY_HOURS


def _changes(site: SeenSite) -> Floats:
    """From each reading to the next, as read: a jump makes its own readings doubted."""
    out: Floats = np.diff(site.record.site.value, axis=0)
    return out


def _jumps(site: SeenSite) -> list[float]:
    """When all depths but the first moved alike from one reading to the next, and stayed.

    The first one may have got water at the same time; no water comes to all others at once.
    """
    if site.record.is_tension:
        return []
    change = _changes(site)[:, 1:]
    heard = ~np.isnan(change).all(axis=0)
    if heard.sum() < JUMP_DEPTHS - 1:
        return []
    moved = change[:, heard]
    size = np.abs(moved)
    with np.errstate(invalid="ignore"):
        alike = (size.min(axis=1) >= JUMP) & (size.max(axis=1) <= ALIKE * size.min(axis=1))
        alike &= np.abs(np.sign(moved).sum(axis=1)) == moved.shape[1]
    deepest = 1 + int(np.flatnonzero(heard)[-1])
    hours = site.record.site.hours
    return [float(hours[k + 1]) for k in np.flatnonzero(alike) if _stays(site, deepest, int(k))]


def _stays(site: SeenSite, sensor: int, row: int) -> bool:
    """Whether a sensor keeps to its new level for a day, or to the newest reading."""
    hours, value = site.record.site.hours, site.record.site.value[:, sensor]
    later = min(int(np.searchsorted(hours, hours[row + 1] + DAY_HOURS)), hours.size - 1)
    if later <= row + 1 or np.isnan(value[[row, row + 1, later]]).any():
        return False
    return bool((value[later] - value[row]) / (value[row + 1] - value[row]) >= STAYS)


def _jump_size(site: SeenSite, hours: float) -> float:
    row = site.record.row_at(hours)
    return float(np.nanmean(_changes(site)[row - 1]))


def water_down_tube(block: SeenBlock, since_hours: float) -> list[Finding]:
    """Instruments along which water runs down: deep sensors answer with the first one."""
    out = []
    for s, site in enumerate(block.sites):
        told = [
            e
            for e in site.events
            if e.wetting.after_hours >= since_hours and len(e.wetting.answers) > 1
        ]
        fast = [e for e in told if _too_fast(site, e)]
        if len(fast) < FEWEST_EVENTS or len(fast) < 0.5 * len(told):
            continue
        evidence = tuple(
            Evidence(
                e.wetting.before_hours,
                e.wetting.peak_hours,
                EvidenceFigure.SPEED,
                min(e.front_mm_h[1], 9999.0),
                NO_FRONT_MM_H,
                site=s,
            )
            for e in fast
        )
        sure = likelihood(len(fast), TUBE_WRONG)
        out.append(Finding(Cause.WATER_DOWN_TUBE, sure, evidence, Cost(), s))
    return out


def _too_fast(site: SeenSite, event: WettingEvent) -> bool:
    depth = site.record.site.depth_mm
    first = event.wetting.answers[0]
    last = max(event.wetting.answers, key=lambda a: a.sensor)
    way = float(depth[last.sensor] - depth[first.sensor])
    if way < LEAST_WAY_MM:
        return False
    latest = last.after_hours - first.before_hours
    middle = (last.after_hours + last.before_hours - first.after_hours - first.before_hours) / 2
    return way / max(middle, _step(site) / 2) >= NO_FRONT_MM_H or way / latest >= NO_FRONT_MM_H


def poor_contact(block: SeenBlock, since_hours: float) -> list[Finding]:
    """Sensors that hardly move while those above and below them do, and water goes past them."""
    out = []
    for s, site in enumerate(block.sites):
        if site.record.is_tension:
            continue
        depth = site.record.site.depth_mm
        moves = _moves(site, since_hours)
        for j in range(1, depth.size - 1):
            around = min(moves[j - 1], moves[j + 1])
            if not (around >= CONTACT_MOVES and moves[j] < CONTACT_SHARE * around):
                continue
            past = [
                e
                for e in site.events
                if e.wetting.after_hours >= since_hours and e.rise[j - 1] >= CONTACT_MOVES / 2
            ]
            if len(past) < FEWEST_EVENTS:
                continue
            evidence = tuple(
                Evidence(
                    e.wetting.before_hours,
                    e.wetting.peak_hours,
                    EvidenceFigure.CONTENT,
                    float(e.rise[j]),
                    float(e.rise[j - 1]),
                    site=s,
                    sensor=j,
                )
                for e in past
            )
            sure = likelihood(len(past), CONTACT_WRONG)
            out.append(Finding(Cause.POOR_CONTACT, sure, evidence, Cost(), s, j))
    return out


def _moves(site: SeenSite, since_hours: float) -> Floats:
    """How far each sensor moves between its wet and its dry end; array (sensors,) [m3/m3]."""
    theta = site.record.theta[site.record.site.hours >= since_hours]
    out = np.full(theta.shape[1], np.nan)
    known = ~np.isnan(theta).all(axis=0)
    if theta.size and known.any():
        out[known] = np.diff(np.nanpercentile(theta[:, known], ENDS, axis=0), axis=0)[0]
    return out
