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

    def of_rows(self, rows: np.ndarray) -> "Soils":
        """Some of the sites."""
        return Soils(
            self.top_mm[rows],
            self.thick_mm[rows],
            self.wilt[rows],
            self.available[rows],
            self.root_limit_mm[rows],
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


def deficits(soils: Soils, depth_mm: Floats, theta: Floats, root_mm: Floats) -> Deficit:
    """Deficit, surplus and unseen soil of each site at each moment.

    Parameters
    ----------
    soils : Soils, (sites, horizons)
    depth_mm : array, shape (sites, sensors), rising; NaN where a site has fewer [mm]
    theta : array, shape (sites, times, sensors) [m3/m3]
        NaN where a sensor is missing or not trusted; its neighbours take over its layer.
    root_mm : array, shape (sites, times) [mm]

    Returns
    -------
    Deficit
        Arrays (sites, times); NaN where no sensor has a word.
    """
    depth = np.broadcast_to(depth_mm[:, None, :], theta.shape)
    known = ~np.isnan(theta) & ~np.isnan(depth)
    limit = np.minimum(root_mm, soils.root_limit_mm[:, None])[..., None]
    # A layer ends half-way to the next sensor that speaks.
    up = np.maximum.accumulate(np.where(known, depth, -np.inf), axis=-1)
    before = np.concatenate([np.full((*up.shape[:-1], 1), -np.inf), up[..., :-1]], axis=-1)
    down = np.minimum.accumulate(np.where(known, depth, np.inf)[..., ::-1], axis=-1)[..., ::-1]
    after = np.concatenate([down[..., 1:], np.full((*down.shape[:-1], 1), np.inf)], axis=-1)
    safe = np.where(known, depth, 0.0)
    top = np.where(np.isinf(before), 0.0, (before + safe) / 2)
    bottom = np.where(np.isinf(after), limit, np.minimum((after + safe) / 2, limit))
    above_top, above_bottom = soils.available_above(top), soils.available_above(bottom)
    layer = np.where(known, np.maximum(above_bottom - above_top, 0.0), 0.0)
    wilt, available = soils.at(np.where(np.isnan(depth_mm), 0.0, depth_mm))
    share = np.where(known, (theta - wilt[:, None, :]) / available[:, None, :], 1.0)
    any_word = known.any(axis=-1)
    deepest = np.where(known, depth, -np.inf).max(axis=-1)
    second = np.where(known & (depth < deepest[..., None]), depth, 0.0).max(axis=-1)
    reach = deepest + (deepest - second) / 2
    unseen = np.maximum(limit[..., 0] - reach, 0.0)

    def told(values: Floats) -> Floats:
        return np.where(any_word, values, np.nan)

    return Deficit(
        deficit_mm=told((layer * (1 - np.clip(share, 0, 1))).sum(axis=-1)),
        surplus_mm=told((layer * np.maximum(share - 1, 0)).sum(axis=-1)),
        unseen_mm=told(unseen),
    )
