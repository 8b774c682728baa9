"""Root zones of many blocks day by day, from their limits and soils."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Floats
from core.balance.root_zone import RootZoneDay
from core.limits.by_day import LimitsByDay
from core.soil.profile import Profile
from core.soil.profiles import Profiles

# Days in which nine tenths of a surplus have drained, by the saturated conductivity of the
# slowest horizon [mm/h]: full is reached after one day on sands to three on clays (common
# practice, no source).
KSAT_MM_H, DRAIN_DAYS = (2.0, 50.0), (3.0, 1.0)


@dataclass(frozen=True)
class RootZones:
    """Arrays of shape (blocks, days) as in `RootZoneDay`, drain_share (blocks, 1)."""

    taw_mm: Floats
    raw_mm: Floats
    below_mm: Floats
    grown_share: Floats
    saturated_mm: Floats
    drain_share: Floats

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
        )


def drain_share(profiles: Sequence[Profile]) -> Floats:
    """Share of a surplus that leaves in a day; shape (blocks,) [-]."""
    slowest = np.array([min(h.ksat_mm_h for h in p.limits) for p in profiles])
    days = np.interp(np.log(np.maximum(slowest, 1e-3)), np.log(KSAT_MM_H), DRAIN_DAYS)
    return 1 - 0.1 ** (1 / days)


def root_zones(
    profiles: Sequence[Profile],
    limits: LimitsByDay,
    et0_mm: ArrayLike,
    wetted_share: ArrayLike = 1.0,
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
        drain_share=drain_share(profiles)[:, None],
    )
