"""Root zones of many blocks day by day, from their limits and soils."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from core.arrays import ArrayLike, Floats
from core.balance.root_zone import RootZoneDay
from core.limits.by_day import LimitsByDay
from core.soil.drainage import drain_share, most_drained_mm
from core.soil.profile import Profile
from core.soil.profiles import Profiles
from core.soil.water_table import WaterTable, held_over_table_mm


@dataclass(frozen=True)
class RootZones:
    """Arrays of shape (blocks, days) as in `RootZoneDay`, drain_share (blocks, 1)."""

    taw_mm: Floats
    raw_mm: Floats
    below_mm: Floats
    grown_share: Floats
    saturated_mm: Floats
    drain_share: Floats
    most_drained_mm: Floats
    held_mm: Floats

    @property
    def deep_mm(self) -> Floats:
        """Available water down to the deepest roots of the stretch [mm]; shape (blocks,)."""
        return self.taw_mm[:, 0] + self.below_mm[:, 0]

    def until(self, day: int) -> "RootZones":
        """The days up to one, itself included."""
        upto = slice(None, day + 1)
        return RootZones(
            taw_mm=self.taw_mm[:, upto],
            raw_mm=self.raw_mm[:, upto],
            below_mm=self.below_mm[:, upto],
            grown_share=self.grown_share[:, upto],
            saturated_mm=self.saturated_mm[:, upto],
            drain_share=self.drain_share,
            most_drained_mm=self.most_drained_mm[:, upto],
            held_mm=self.held_mm[:, upto],
        )

    def day(self, day: int, axes: int = 0) -> RootZoneDay:
        """One day of all blocks; ``axes`` adds trailing ones, such as for members."""
        shape = (-1, *([1] * axes))
        return RootZoneDay(
            taw_mm=self.taw_mm[:, day].reshape(shape),
            raw_mm=self.raw_mm[:, day].reshape(shape),
            below_mm=self.below_mm[:, day].reshape(shape),
            grown_share=self.grown_share[:, day].reshape(shape),
            saturated_mm=self.saturated_mm[:, day].reshape(shape),
            drain_share=self.drain_share[:, 0].reshape(shape),
            most_drained_mm=self.most_drained_mm[:, day].reshape(shape),
            held_mm=self.held_mm[:, day].reshape(shape),
        )


def _most_drained(profiles: Sequence[Profile], root_mm: Floats) -> Floats:
    """What the layers in and below root zones let through in a day; (blocks, days) [mm]."""
    out = np.empty(root_mm.shape)
    for i, profile in enumerate(profiles):
        depths, which = np.unique(root_mm[i], return_inverse=True)
        out[i] = np.array([most_drained_mm(profile, float(z)) for z in depths])[which]
    return out


def _held(
    profiles: Sequence[Profile],
    root_mm: Floats,
    tables: Sequence[WaterTable | None],
    first: date,
) -> Floats:
    """Water above full that tables never let drain out of root zones; (blocks, days) [mm]."""
    held = np.zeros(root_mm.shape)
    for i, (profile, table) in enumerate(zip(profiles, tables, strict=True)):
        if table is None:
            continue
        # Roots and table move seldom: each pair is asked once.
        pairs = np.stack([root_mm[i], table.on(first, root_mm.shape[1])], axis=1)
        known, which = np.unique(pairs, axis=0, return_inverse=True)
        here = [held_over_table_mm(profile, r, t) if np.isfinite(t) else 0.0 for r, t in known]
        held[i] = np.array(here)[which]
    return held


def root_zones(
    profiles: Sequence[Profile],
    limits: LimitsByDay,
    et0_mm: ArrayLike,
    wetted_share: ArrayLike = 1.0,
    tables: Sequence[WaterTable | None] = (),
) -> RootZones:
    """Root zones of blocks on the days of a table of limits.

    Parameters
    ----------
    profiles : sequence of Profile, (blocks,)
        The soils in force last.
    limits : LimitsByDay, (blocks, days)
    et0_mm : array, broadcastable to (blocks, days) [mm/day]
        p follows it, on the crop's own reference surface.
    wetted_share : array, shape (blocks,) [-]
        Share of the ground under which roots are watered, such as the strip along a drip
        line; all depths of water are over the whole block.
    tables : sequence of WaterTable or None, (blocks,)
        Where a water table is known; empty where none is.

    Returns
    -------
    RootZones
    """
    share = np.broadcast_to(np.asarray(wetted_share, float), (len(profiles),))[:, None]
    taw = limits.taw_mm * share
    raw = limits.p(et0_mm) * taw
    deepest = taw.max(axis=1, keepdims=True)
    below = deepest - taw
    change = np.diff(taw, axis=1, prepend=taw[:, :1])
    before_taw = np.concatenate([taw[:, :1], taw[:, :-1]], axis=1)
    before_below = np.concatenate([below[:, :1], below[:, :-1]], axis=1)
    grown = np.where(
        change >= 0,
        change / np.maximum(before_below, 1e-9),
        change / np.maximum(before_taw, 1e-9),
    )
    soils = Profiles.of(profiles)
    room = soils.held_above(soils.theta_sat - soils.theta_full, limits.root_mm)
    return RootZones(
        taw_mm=taw,
        raw_mm=raw,
        below_mm=below,
        grown_share=np.clip(grown, -1, 1),
        saturated_mm=room * share,
        drain_share=np.array([drain_share(p) for p in profiles])[:, None],
        most_drained_mm=_most_drained(profiles, limits.root_mm) * share,
        held_mm=_held(profiles, limits.root_mm, tables, limits.first) * share
        if any(tables)
        else np.zeros(taw.shape),
    )
