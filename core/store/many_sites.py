"""Deficits of many sites over many moments in one pass; the same rule as `root_zone_deficit`."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.soil.profile import Profile
from core.store.deficit import Deficit


@dataclass(frozen=True)
class Soils:
    """Profiles side by side, padded with horizons of no thickness; arrays (sites, horizons)."""

    top_mm: Floats
    thick_mm: Floats
    wilt: Floats
    available: Floats
    root_limit_mm: Floats

    @classmethod
    def of(cls, profiles: Sequence[Profile]) -> "Soils":
        """The soils of sites in their order."""
        most = max((p.top_mm.size for p in profiles), default=1)

        filled = np.arange(most) < np.array([p.top_mm.size for p in profiles])[:, None]

        def padded(values: Sequence[Floats]) -> Floats:
            out = np.zeros((len(values), most))
            if values:
                out[filled] = np.concatenate(values)
            return out

        top, wilt = padded([p.top_mm for p in profiles]), padded([p.theta_wilt for p in profiles])
        return cls(
            top_mm=top,
            thick_mm=padded([p.bottom_mm for p in profiles]) - top,
            wilt=wilt,
            available=padded([p.theta_full for p in profiles]) - wilt,
            root_limit_mm=np.array([p.root_limit_mm for p in profiles]),
        )

    def available_above(self, depth_mm: Floats) -> Floats:
        """Available water from the surface down to depths, (sites, ...) [mm]."""
        extra = (1,) * (depth_mm.ndim - 1)
        out = np.zeros(depth_mm.shape)
        for h in range(self.top_mm.shape[1]):
            top, thick, available = (
                v[:, h].reshape(-1, *extra) for v in (self.top_mm, self.thick_mm, self.available)
            )
            out += np.clip(depth_mm - top, 0, thick) * available
        return out

    def at(self, depth_mm: Floats) -> tuple[Floats, Floats]:
        """Wilting point and available water of the horizon at each depth, (sites, sensors)."""
        bottom = self.top_mm + self.thick_mm
        passed = (self.thick_mm[:, None, :] > 0) & (depth_mm[..., None] >= bottom[:, None, :])
        last = (self.thick_mm > 0).sum(axis=1)[:, None] - 1
        index = np.minimum(passed.sum(axis=-1), last)
        rows = np.arange(index.shape[0])[:, None]
        return self.wilt[rows, index], self.available[rows, index]


class LayeredWord:
    """What the sensors of sites say at each moment, layer by layer, for any depth of roots."""

    def __init__(self, soils: Soils, depth_mm: Floats, theta: Floats) -> None:
        """
        Parameters
        ----------
        soils : Soils, (sites, horizons)
        depth_mm : array, shape (sites, sensors), rising; NaN where a site has fewer [mm]
        theta : array, shape (sites, times, sensors) [m3/m3]
            NaN where a sensor is missing or not trusted; its neighbours take over its layer.
        """
        self._soils = soils
        spoken = ~np.isnan(theta)
        self.any_word = spoken.any(axis=-1)
        # Where the same sensors speak all the time, their layers are found once.
        steady = bool((spoken.any(axis=1) == spoken.all(axis=1)).all())
        known = (spoken[:, :1] if steady else spoken) & ~np.isnan(depth_mm)[:, None, :]
        depth = np.broadcast_to(depth_mm[:, None, :], known.shape)
        # A layer ends half-way to the next sensor that speaks; the last one at the roots' end.
        up = np.maximum.accumulate(np.where(known, depth, -np.inf), axis=-1)
        before = np.concatenate([np.full((*up.shape[:-1], 1), -np.inf), up[..., :-1]], axis=-1)
        down = np.minimum.accumulate(np.where(known, depth, np.inf)[..., ::-1], axis=-1)[..., ::-1]
        after = np.concatenate([down[..., 1:], np.full((*down.shape[:-1], 1), np.inf)], axis=-1)
        safe = np.where(known, depth, 0.0)
        self._above_top = soils.available_above(
            np.where(np.isinf(before), 0.0, (before + safe) / 2)
        )
        last = np.isinf(after)
        middle = soils.available_above(np.where(last, 0.0, (after + safe) / 2))
        self._above_bottom = np.where(last, np.inf, middle)
        wilt, available = soils.at(np.where(np.isnan(depth_mm), 0.0, depth_mm))
        share = (theta - wilt[:, None, :]) / available[:, None, :]
        share = np.where(spoken, share, 1.0)
        self._missing = 1 - np.clip(share, 0, 1)
        self._over = np.maximum(share - 1, 0)
        self._known = known
        deepest = np.where(known, depth, -np.inf).max(axis=-1)
        second = np.where(known & (depth < deepest[..., None]), depth, 0.0).max(axis=-1)
        self._reach = deepest + (deepest - second) / 2

    def down_to(self, root_mm: Floats) -> Deficit:
        """Deficit, surplus and unseen soil above a depth of each site at each moment.

        Parameters
        ----------
        root_mm : array, shape (sites, times) [mm]

        Returns
        -------
        Deficit
            Arrays (sites, times); NaN where no sensor has a word.
        """
        limit = np.minimum(root_mm, self._soils.root_limit_mm[:, None])
        # What lies above the shallower of two depths is the lesser of what lies above each.
        bottom = np.minimum(self._above_bottom, self._soils.available_above(limit)[..., None])
        layer = np.where(self._known, np.maximum(bottom - self._above_top, 0.0), 0.0)

        def told(values: Floats) -> Floats:
            return np.where(self.any_word, values, np.nan)

        return Deficit(
            deficit_mm=told(np.einsum("stn,stn->st", layer, self._missing)),
            surplus_mm=told(np.einsum("stn,stn->st", layer, self._over)),
            unseen_mm=told(np.maximum(limit - self._reach, 0.0)),
        )
