"""Hours that just wet the roots, told from a season's irrigations and tried on the columns."""

from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.events.event import WettingEvent, wetting_events
from core.events.record import SiteRecord
from core.events.run_hours import Hours, Run, run_hours
from core.world.events_trial import TRUE_RISE, site_records
from core.world.farm import Farm
from core.world.richards import CELL_BOTTOM_CM, Water, theta_of
from core.world.truths import RichardsTruth
from core.world.watched import LOOKS_AT_H, Watched

# Water is given so long to come to rest [days], and shares of an irrigation are tried between.
RESTS_DAYS, LEAST, MOST, TRIALS = 3, 0.05, 4.0, 6
# So many of the newest irrigations are tried.
TRIED = 2


@dataclass(frozen=True)
class Tried:
    """What was told for a field, and the hours that its irrigations truly needed."""

    field: int
    told: Hours
    reached_mm: float
    true_hours: float


def runs_of(record: SiteRecord, events: tuple[WettingEvent, ...]) -> list[tuple[int, Run]]:
    """Irrigations that nothing else added to, with the places of their supplies."""
    out = []
    for event in events:
        if len(event.supplies) != 1 or np.isnan(event.root_mm):
            continue
        supply = record.supplies[event.supplies[0]]
        if supply.is_rain:
            continue
        run = Run(
            supply.end_hours - supply.start_hours,
            event.given.mm,
            event.root_mm,
            event.reach,
            event.stored.top_mm,
            event.stored.bottom_mm,
            event.stored.layer_mm,
            event.draining.lost_mm,
        )
        out.append((event.supplies[0], run))
    return out


def try_run_hours(
    farm: Farm, truth: RichardsTruth, season: Watched, depth_mm: tuple[float, ...], seed: int
) -> list[Tried]:
    """What is told at the end of a season, held against irrigations given anew.

    Parameters
    ----------
    truth : RichardsTruth
        Of the season; it is not changed.
    season : Watched
        With the states of its mornings.
    """
    records = site_records(farm, season, depth_mm, seed)
    out = []
    for of, (record, events) in enumerate(zip(records, wetting_events(records), strict=True)):
        runs = runs_of(record, events)
        if not runs:
            continue
        root = runs[-1][1].root_mm
        told = run_hours([run for _, run in runs], root)
        if told is None:
            continue
        needed = [_needed(farm, truth, season, of, runs[k], root) for k in told.runs[-TRIED:]]
        out.append(Tried(of, told.enough[0], told.reached_mm, float(np.median(needed))))
    return out


def _needed(
    farm: Farm,
    truth: RichardsTruth,
    season: Watched,
    of: int,
    run: tuple[int, Run],
    root_mm: float,
) -> float:
    """Hours of an irrigation after which its water just came to the roots' depth."""
    supply, hours = run[0], run[1].hours
    start = int(season.supplies[of][supply].start_hours)
    arrived = season.arrived_mm[of][supply]
    low, high = LEAST, MOST
    for _ in range(TRIALS):
        share = (low * high) ** 0.5
        lasts = max(round(share * hours), 1)
        reached = _reached(farm, truth, season.mornings, of, start, share * arrived, lasts)
        low, high = (low, share) if reached >= root_mm else (share, high)
    return float((low * high) ** 0.5 * hours)


def _reached(
    farm: Farm,
    truth: RichardsTruth,
    mornings: list[Water],
    of: int,
    start: int,
    mm: float,
    lasts: int,
) -> float:
    """How deep water that begins at an hour of the season goes [mm]."""
    day, hour = divmod(start, 24)
    water = mornings[day].copy()
    before: Floats = theta_of(truth.columns, water)[of].copy()
    wettest = before.copy()
    supply = np.zeros((24 * RESTS_DAYS, farm.count))
    supply[hour : hour + lasts, of] = mm / lasts
    for k in range(LOOKS_AT_H, 24 * min(RESTS_DAYS, farm.days - day)):
        on, at = divmod(k, 24)
        by_hour = np.zeros((farm.count, 24))
        by_hour[:, at] = supply[k]
        truth.pass_hours(day + on, float(farm.weather.et0_mm[day + on]), by_hour, at, at + 1, water)
        wettest = np.maximum(wettest, theta_of(truth.columns, water)[of])
    wetted = np.flatnonzero(wettest - before >= TRUE_RISE)
    return float(CELL_BOTTOM_CM[wetted[-1]] * 10) if wetted.size else 0.0
