"""How each site answered each irrigation."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Bools, Floats
from core.diagnosis.block import RAIN, SeenBlock, SeenSite

# An irrigation shows at the first sensor where it brings so much more than is missing above it
# [mm]; and what is missing there is more than at the sensor, since the top dries first [-]. Tried
# on both simulated truths, see docs/diagnosis.md.
SHOWS_MM, TOP_DRIER = 8.0, 1.5
# Readings must cover the time in which it would have shown: so long after its end [h], and so much
# of that time [-].
SHOWS_WITHIN_H, COVERED = 30.0, 0.8
# No gap may be longer than this, or so many usual steps, and so many readings there must be [h].
LONGEST_GAP_H, GAP_STEPS, FEWEST_READINGS = 6.0, 1.5, 3
# Where other water came so soon, none can tell which of the two was missing [h].
APART_H = 12.0


@dataclass(frozen=True)
class Responses:
    """Arrays (sites, irrigations), irrigations by their beginning; hours from now.

    number : array of int, shape (irrigations,)
    start, end : array, shape (irrigations,) [h]
    given_mm : on the wetted ground; NaN where a site had none of it
    heard : of bool, whether readings cover the time in which it would have shown, and no other
        water came
    first_mm : depth of the first sensor that spoke
    reached_mm : depth that an answer reached at least; 0 where there was none
    needed_mm : what had to come for it to show
    answered : of bool
    recovery : share found again where it alone brought an event; else NaN
    sigma : its spread
    within : of bool, whether all of it stayed above the deepest sensor
    """

    number: np.ndarray
    start: Floats
    end: Floats
    given_mm: Floats
    heard: Bools
    first_mm: Floats
    reached_mm: Floats
    needed_mm: Floats
    answered: Bools
    recovery: Floats
    sigma: Floats
    within: Bools

    @property
    def could_tell(self) -> Bools:
        """Whether an answer had to be seen if the water came."""
        out: Bools = self.heard & (np.nan_to_num(self.given_mm) >= self.needed_mm)
        return out

    @property
    def fair(self) -> Floats:
        """Recovery where nothing of it can have gone past the deepest sensor; else NaN."""
        out: Floats = np.where(self.within, self.recovery, np.nan)
        return out


def responses_of(block: SeenBlock) -> Responses:
    """How each site of a block answered its irrigations."""
    numbers = np.array(block.irrigations, int)
    shape = (len(block.sites), numbers.size)
    place = {int(k): n for n, k in enumerate(numbers)}
    start, end = np.full(numbers.size, np.inf), np.full(numbers.size, -np.inf)
    given, recovery, sigma = (np.full(shape, np.nan) for _ in range(3))
    heard, answered, within = (np.zeros(shape, bool) for _ in range(3))
    needed, first = np.full(shape, np.inf), np.full(shape, np.inf)
    reached = np.zeros(shape)
    for s, site in enumerate(block.sites):
        for k, supply in zip(site.irrigation.tolist(), site.record.supplies, strict=True):
            if k == RAIN:
                continue
            n = place[k]
            start[n], end[n] = min(start[n], supply.start_hours), max(end[n], supply.end_hours)
            mm = supply.mm / site.record.wetted_share
            given[s, n] = mm + np.nan_to_num(given[s, n])
        for event in site.events:
            of = {int(site.irrigation[k]) for k in event.supplies}
            for k in of - {RAIN}:
                answered[s, place[k]] = True
                reached[s, place[k]] = event.reach.low_mm
            if len(of) == 1 and RAIN not in of:
                n = place[of.pop()]
                recovery[s, n], sigma[s, n] = event.recovery
                within[s, n] = not event.reach.beyond_sensors
        for n in range(numbers.size):
            first[s, n], needed[s, n] = _first_and_needed(site, start[n], end[n])
        heard[s] = np.isfinite(needed[s]) & ~np.isnan(given[s]) & _apart(site, numbers, start, end)
    return Responses(
        number=numbers,
        start=start,
        end=end,
        given_mm=given,
        heard=heard,
        first_mm=first,
        reached_mm=reached,
        needed_mm=needed,
        answered=answered,
        recovery=recovery,
        sigma=sigma,
        within=within,
    )


def _first_and_needed(site: SeenSite, start: float, end: float) -> tuple[float, float]:
    """Depth of the first sensor that speaks, and what had to come to show there [mm]; infinite
    where none speaks."""
    silent = (float("inf"), float("inf"))
    record = site.record
    hours = record.site.hours
    if not np.isfinite(start) or not hours.size:
        return silent
    until = end + SHOWS_WITHIN_H
    if until > hours[-1] or start < hours[0]:
        return silent
    rows = slice(max(record.row_at(start - 1.0), 0), record.row_at(until) + 1)
    known = ~np.isnan(record.theta[rows])
    heard = known.mean(axis=0) >= COVERED
    covered = _covered(hours[rows], start, until)
    if not (covered and heard.any() and known[0, heard].any()):
        return silent
    first = int(np.flatnonzero(heard & known[0])[0])
    depth = float(record.site.depth_mm[first])
    missing = max(site.full_theta[first] - record.theta[rows][0, first], 0.0) * depth
    return depth, float(missing * TOP_DRIER + SHOWS_MM)


def _covered(hours: Floats, start: float, until: float) -> bool:
    """Whether there are readings from one end of a time to the other, without a long gap."""
    if hours.size < FEWEST_READINGS:
        return False
    inside = hours[(hours >= start) & (hours <= until)]
    gaps = np.diff(np.concatenate([[start], inside, [until]]))
    usual = float(np.median(np.diff(hours)))
    return bool(gaps.max() <= max(LONGEST_GAP_H, GAP_STEPS * usual))


def _apart(site: SeenSite, numbers: np.ndarray, start: Floats, end: Floats) -> Bools:
    """Whether no other water came to a site around each irrigation."""
    out = np.ones(numbers.size, bool)
    for k, supply in zip(site.irrigation.tolist(), site.record.supplies, strict=True):
        near = (supply.start_hours < end + APART_H) & (supply.end_hours > start - APART_H)
        out &= ~near | (numbers == k) if k != RAIN else ~near
    return out
