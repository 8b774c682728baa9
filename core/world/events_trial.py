"""Wetting events found in simulated readings, held against what the water truly did."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from core.arrays import Floats
from core.events.event import WettingEvent, wetting_events
from core.events.record import SiteRecord
from core.events.wettings import Answer
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.learned.full_point import FullPoint, full_point
from core.learned.root_activity import RootActivity, root_activity
from core.quality.climbs import DAY_HOURS
from core.world.farm import Farm
from core.world.field_readings import THETA_BIAS, THETA_NOISE, THETA_SLOPE
from core.world.irrigators import ByHabit, Habit
from core.world.truths import LayeredTruth, RichardsTruth
from core.world.watched import Watched, watch

# What counts as an answer of the soil itself [m3/m3].
TRUE_RISE, TRUE_ARRIVAL = 0.01, 0.005
# How long after it was logged water may show, and when it should have been found [h, m3/m3].
SHOWS_H, MUST_SHOW = 60.0, 0.02


@dataclass(frozen=True)
class Judged:
    """One event beside the truth; depths [mm], hours; NaN where the truth has none.

    late_hours : of each answer, how far the true arrival lies outside of the told range
    true_reach_mm, true_stored_mm, true_passed_mm : of the column; stored down to the lowest layer
    true_recovery : share of what was logged that was stored or used
    """

    field: int
    event: WettingEvent
    arrived_mm: float
    late_hours: tuple[float, ...]
    true_reach_mm: float
    true_stored_mm: float
    true_recovery: float
    true_passed_mm: float


@dataclass(frozen=True)
class Found:
    """All events of a season; ``missed`` of ``shown`` waterings that the soil answered, and how
    many events came from nothing that was logged."""

    judged: tuple[Judged, ...]
    shown: int
    missed: int
    without_supply: int


def drawn_habits(
    farm: Farm,
    seed: int,
    due: tuple[float, float] = (0.5, 1.1),
    shares: Sequence[float] = (0.5, 0.8, 1.2, 2.0),
) -> list[Habit]:
    """Fields watered too little, enough and far too much, by day, evening and night.

    ``due`` [-], least and most of 0.45 of the roots' water that is let go missing; ``shares`` [-]
    of what is missing that are given.
    """
    rng = np.random.default_rng(seed)
    habits = []
    for b in farm.believed:
        available = float(b.profile.available_between(0.0, float(b.root_mm.max())).sum())
        habits.append(
            Habit(
                due_mm=0.45 * available * rng.uniform(*due),
                share=float(rng.choice(shares)),
                rate_mm_h=float(rng.uniform(4, 8)),
                start_hour=int(rng.choice([6, 18, 21])),
            )
        )
    return habits


def watched_by_habit(
    farm: Farm, truth: LayeredTruth | RichardsTruth, habits: Sequence[Habit], seed: int
) -> Watched:
    """A season in which each field is watered by its own habit; see `core.world.watched.watch`."""
    return watch(farm, truth, ByHabit(habits, truth.arrives, seed))


def site_records(
    farm: Farm, season: Watched, depth_mm: Sequence[float], seed: int
) -> list[SiteRecord]:
    """A capacitance probe in every field, read each hour, with its own errors."""
    rng = np.random.default_rng(seed)
    depth = np.array(depth_mm, float)
    count = season.theta.shape[0]
    hours = np.arange(count) - (count - 1.0)
    day_hours = np.arange(farm.days) * DAY_HOURS - (count - 1)
    out = []
    for of, profile in enumerate(farm.profiles):
        true = np.column_stack([season.content_at(of, d) for d in depth])
        slope = np.exp(rng.normal(0, THETA_SLOPE, depth.size))
        read = true * slope + rng.normal(0, THETA_BIAS, depth.size)
        read = np.round(read + rng.normal(0, THETA_NOISE / 4, true.shape), 4)
        site = Site.from_readings(
            "probe", InstrumentKind.CAPACITANCE_PROBE, depth, hours, read, profile
        )
        supplies = tuple(
            replace(s, start_hours=s.start_hours + hours[0], end_hours=s.end_hours + hours[0])
            for s in season.supplies[of]
        )
        used = season.used_mm[:, of].reshape(-1, 24).sum(axis=1)
        out.append(SiteRecord(site, 0.0, supplies, day_hours, season.root_mm[of], used))
    return out


@dataclass(frozen=True)
class FullJudged:
    """A full point that a sensor has shown, beside what it truly reads when drained."""

    told: FullPoint
    true_theta: float


def full_points_judged(
    farm: Farm, season: Watched, depth_mm: Sequence[float], seed: int
) -> list[FullJudged]:
    """Full points of all sensors that show one; see `find_and_judge`."""
    records = site_records(farm, season, depth_mm, seed)
    out = []
    for of, (record, events) in enumerate(zip(records, wetting_events(records), strict=True)):
        for j, depth in enumerate(depth_mm):
            told = full_point([float(e.drained_theta[j]) for e in events])
            if told is None:
                continue
            # What the sensor says of the true content there, with its own bias and slope.
            true, read = season.content_at(of, depth), record.site.value[:, j]
            slope, bias = np.polyfit(true, read, 1)
            full = float(np.interp(depth, season.node_mm, season.full[of]))
            out.append(FullJudged(told, float(slope * full + bias)))
    return out


@dataclass(frozen=True)
class RootsJudged:
    """How deep roots feed as told at the end of a season, beside where nine tenths of them are."""

    told: RootActivity
    true_mm: float


def roots_judged(
    farm: Farm, season: Watched, depth_mm: Sequence[float], seed: int
) -> list[RootsJudged]:
    """Of all fields that tell it; see `find_and_judge`."""
    records = site_records(farm, season, depth_mm, seed)
    out = []
    for of, (record, events) in enumerate(zip(records, wetting_events(records), strict=True)):
        told = root_activity(record, events)
        if told is not None:
            out.append(RootsJudged(told, float(season.feeds_mm[of, -1])))
    return out


def find_and_judge(farm: Farm, season: Watched, depth_mm: Sequence[float], seed: int) -> Found:
    """Find the events of every field and hold them against the truth.

    Parameters
    ----------
    depth_mm : sequence of float, rising [mm]
        Of the sensors.
    seed : int
        Of their errors.
    """
    records = site_records(farm, season, depth_mm, seed)
    events = wetting_events(records)
    judged: list[Judged] = []
    shown = missed = without = 0
    for of, found in enumerate(events):
        claimed = {k for e in found for k in e.supplies}
        for k in range(len(season.supplies[of])):
            if _shows(season, of, k, depth_mm):
                shown += 1
                missed += k not in claimed
        without += sum(not e.supplies for e in found)
        judged += _judged(season, of, found, np.array(depth_mm, float))
    return Found(tuple(judged), shown, missed, without)


def _shows(season: Watched, of: int, k: int, depth_mm: Sequence[float]) -> bool:
    """Whether the soil at the first sensor answered water before the next came."""
    supplies, last = season.supplies[of], season.theta.shape[0] - 1
    start, end = supplies[k].start_hours, supplies[k].end_hours
    later = [s.start_hours for s in supplies if s.start_hours > start]
    until = int(min([*later, end + SHOWS_H, last]))
    rows = slice(int(start), until + 1)
    content = season.content_at(of, depth_mm[0])[rows]
    return float(content.max() - content[0]) > MUST_SHOW


def _late(content: Floats, answer: Answer, start: int, peak: int, last: int) -> float:
    """How many hours the true arrival at a sensor lies outside of the told range."""
    seen = content[start : peak + 1]
    low = int(np.argmin(seen[: int(np.argmax(seen)) + 1]))
    risen = np.flatnonzero(seen[low:] - seen[low] >= TRUE_ARRIVAL)
    if not risen.size:
        return float("inf")
    came = start + low + int(risen[0])
    return max(answer.before_hours + last - came, came - answer.after_hours - last, 0.0)


def _judged(
    season: Watched, of: int, found: Sequence[WettingEvent], depth_mm: Floats
) -> list[Judged]:
    last = season.theta.shape[0] - 1
    out = []
    for n, event in enumerate(found):
        if not event.supplies:
            continue
        start = int(min(season.supplies[of][k].start_hours for k in event.supplies))
        peak = round(event.wetting.peak_hours) + last
        settled = round(event.settled_hours) + last
        column = season.theta[start : peak + 1, of]
        wetted = np.flatnonzero(column.max(axis=0) - column[0] >= TRUE_RISE)
        edge = np.cumsum(season.thick_mm)
        store = season.store_mm(of, 0.0, event.stored.reaches_mm)
        kept = float(store[settled] - store[start])
        used = float(season.used_mm[start:settled, of].sum())
        ends = event.draining.ends_hours
        if np.isnan(ends):
            ends = found[n + 1].wetting.before_hours if n + 1 < len(found) else 0.0
        passed = season.passed_mm(of, event.root_mm)
        out.append(
            Judged(
                field=of,
                event=event,
                arrived_mm=sum(season.arrived_mm[of][k] for k in event.supplies),
                late_hours=tuple(
                    _late(season.content_at(of, float(depth_mm[a.sensor])), a, start, peak, last)
                    for a in event.wetting.answers
                ),
                true_reach_mm=float(edge[wetted[-1]]) if wetted.size else 0.0,
                true_stored_mm=kept,
                true_recovery=(kept + used) / event.given.mm,
                true_passed_mm=float(passed[int(ends) + last] - passed[start]),
            )
        )
    return out
