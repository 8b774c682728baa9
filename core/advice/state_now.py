"""The state of blocks and the limits in force, by what each block is estimated from."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from core.advice.estimate_inputs import WeatherAhead
from core.advice.estimated import estimate_blocks
from core.advice.gather import Gathered
from core.arrays import Floats
from core.estimate.checkpoint import Checkpoint
from core.limits.refill_method import REFILL_METHODS, RefillMethod
from core.state.by_sensors import by_sensors
from core.state.estimate_from import ESTIMATES_FROM, EstimateFrom
from core.state.track import Track
from core.state.zones import RootZones


@dataclass(frozen=True)
class State:
    """The state day by day, and the root zones with the limits in force.

    checkpoints : of each block at the mornings asked for, yesterday's last; none where the
        sensors lead
    ahead : array (blocks, FIGURES, CASES, days + 1), see `core.estimate.ahead`; NaN where the
        sensors lead
    """

    track: Track
    zones: RootZones
    checkpoints: tuple[tuple[Checkpoint, ...], ...]
    ahead: Floats | None


def sensors_lead(g: Gathered) -> np.ndarray:
    """Blocks whose sensors are taken at their word; array of bool, shape (blocks,)."""
    leads: np.ndarray = g.estimate_from == ESTIMATES_FROM.index(EstimateFrom.SENSORS)
    return leads


def state_of(
    g: Gathered, weather: WeatherAhead | None = None, mornings: Sequence[date] = ()
) -> State:
    """The state of blocks day by day, and their root zones with the limits in force.

    ``weather`` is that of the days which the members run on into, ``mornings`` are those at
    which checkpoints are wanted.

    Where the sensors lead, the limits are taken as they were told. Elsewhere the field's own
    answer to water and sun has its part in them: the water that roots find moves TAW, and what
    the crop of the book bears moves RAW; a share that a person set stays that share of it.
    """
    leads = sensors_lead(g)
    now = g.past_days
    published = g.zones
    sensors = by_sensors(published.until(now), g.heard) if leads.any() else None
    if leads.all() and sensors is not None:
        return State(sensors, published, ((),) * leads.size, None)
    rows = np.flatnonzero(~leads)
    first = g.blocks[0].now.date() - timedelta(days=now)
    estimates = estimate_blocks(
        [g.blocks[i] for i in rows],
        [g.seasons[i] for i in rows],
        first,
        g.et0_by_date_mm[rows],
        np.append(g.recorded[rows], np.ones((rows.size, 1), bool), axis=1),
        g.hour_of_day,
        weather.of(rows) if weather else None,
        mornings,
    )
    share = published.raw_mm / np.maximum(published.taw_mm, 1e-9)
    found = _under_rules(estimates.track, by_crop(g)[rows, : now + 1], share[rows, : now + 1])
    all_rows = np.zeros(leads.size, int)
    all_rows[rows] = np.arange(rows.size)
    spread = Track(**{name: value[all_rows] for name, value in vars(found).items()})
    track = spread if sensors is None else spread.where(~leads, sensors)
    checkpoints = tuple(
        () if lead else estimates.checkpoints[all_rows[i]] for i, lead in enumerate(leads)
    )
    ahead = None
    if estimates.ahead is not None:
        ahead = np.where(leads[:, None, None, None], np.nan, estimates.ahead[all_rows])
    return State(track, zones_as_learned(published, track, now), checkpoints, ahead)


def by_crop(g: Gathered) -> np.ndarray:
    """Where the crop's own p of the book is in force; (blocks, days) of bool."""
    book = np.array([s.crop.p for s in g.seasons])[:, None]
    is_crop = g.limits.refill_method_index == REFILL_METHODS.index(RefillMethod.CROP_P)
    same: np.ndarray = is_crop & (g.limits.p_table == book)
    return same


def _under_rules(found: Track, by_crop: np.ndarray, told_share: Floats) -> Track:
    """The state with RAW as the rules have it: their share of what the roots find."""
    return replace(
        found,
        raw_mm=np.where(by_crop, found.raw_mm, told_share * found.taw_mm),
        raw_sigma_mm=np.where(by_crop, found.raw_sigma_mm, told_share * found.taw_sigma_mm),
        usable_sigma_mm=np.where(by_crop, found.usable_sigma_mm, found.sigma_mm),
    )


def zones_as_learned(published: RootZones, track: Track, now: int) -> RootZones:
    """Root zones with the limits of the track, and from ``now`` on in the same proportion to the
    book's: what may be used is never more than there is. Arrays (blocks, days) [mm]."""

    def moved(values: Floats, learned: Floats) -> Floats:
        factor = learned[:, -1] / np.maximum(values[:, now], 1e-9)
        return np.concatenate([learned, values[:, now + 1 :] * factor[:, None]], axis=1)

    taw = moved(published.taw_mm, track.taw_mm)
    raw = np.minimum(moved(published.raw_mm, track.raw_mm), taw)
    below = published.below_mm * (taw[:, now] / np.maximum(published.taw_mm[:, now], 1e-9))[:, None]
    return replace(published, taw_mm=taw, raw_mm=raw, below_mm=below)
