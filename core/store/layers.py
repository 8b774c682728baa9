"""What sensors say of the soil around them, layer by layer: the one way from readings to water."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from core.arrays import Floats
from core.soil.profiles import Profiles
from core.store.by_tension import held_alike, share_in_other


@dataclass(frozen=True)
class LayerParts:
    """The root zone cut at sensor layers and horizons; arrays (sites, times, sensors, horizons).

    A part that does not exist has thickness 0 and no water.

    top_mm, bottom_mm, thick_mm [mm]; available_mm, deficit_mm, surplus_mm [mm]
    fraction : share of the available water left [-], not clipped
    """

    top_mm: Floats
    bottom_mm: Floats
    thick_mm: Floats
    available_mm: Floats
    fraction: Floats
    deficit_mm: Floats
    surplus_mm: Floats


@dataclass(frozen=True)
class Deficit:
    """Deficit and surplus of root zones; arrays (..., times), NaN where no sensor has a word.

    deficit_mm, surplus_mm [mm]; unseen_mm, root zone below the deepest sensor's layer [mm].
    """

    deficit_mm: Floats
    surplus_mm: Floats
    unseen_mm: Floats


class Layers:
    """What the sensors of sites say at each moment, layer by layer, for any depth of roots.

    A sensor speaks for the soil half-way to its neighbours, the topmost up to the surface, the
    deepest down to the roots' end. Where its layer reaches into another horizon it tells by
    tension, see `core.store.by_tension`. Deficit = available x (1 - share left), the share kept
    within 0-1; water above full is counted as surplus and never offsets a dry layer.
    """

    def __init__(self, soils: Profiles, depth_mm: Floats, theta: Floats) -> None:
        """
        Parameters
        ----------
        soils : Profiles, one for each site
        depth_mm : array, shape (sites, sensors), rising; NaN where a site has fewer [mm]
        theta : array, shape (sites, times, sensors) [m3/m3]
            NaN where a sensor is missing or not trusted; its neighbours take over its layer.
        """
        self._soils, self._kind = soils, held_alike(soils)
        spoken = ~np.isnan(theta)
        self.any_word = spoken.any(axis=-1)
        # Where the same sensors speak all the time, their layers are found once.
        steady = bool((spoken.any(axis=1) == spoken.all(axis=1)).all())
        known = (spoken[:, :1] if steady else spoken) & ~np.isnan(depth_mm)[:, None, :]
        depth = np.broadcast_to(depth_mm[:, None, :], known.shape)
        up = np.maximum.accumulate(np.where(known, depth, -np.inf), axis=-1)
        before = np.concatenate([np.full((*up.shape[:-1], 1), -np.inf), up[..., :-1]], axis=-1)
        down = np.minimum.accumulate(np.where(known, depth, np.inf)[..., ::-1], axis=-1)[..., ::-1]
        after = np.concatenate([down[..., 1:], np.full((*down.shape[:-1], 1), np.inf)], axis=-1)
        safe = np.where(known, depth, 0.0)
        self._top = np.where(np.isinf(before), 0.0, (before + safe) / 2)
        self._bottom = np.where(known, (after + safe) / 2, 0.0)
        self._own = soils.at(np.where(np.isnan(depth_mm), 0.0, depth_mm))
        rows = np.arange(depth_mm.shape[0])[:, None]
        wilt, available = soils.theta_wilt[rows, self._own], soils.available[rows, self._own]
        share = (theta - wilt[:, None, :]) / available[:, None, :]
        self._share = np.where(spoken, share, 1.0)
        deepest = np.where(known, depth, -np.inf).max(axis=-1)
        second = np.where(known & (depth < deepest[..., None]), depth, 0.0).max(axis=-1)
        self._reach = deepest + (deepest - second) / 2

    def _cut(self, root_mm: Floats) -> tuple[Floats, Floats]:
        """Top and bottom of each part within the roots; bottom at or above top where none."""
        limit = np.minimum(root_mm, self._soils.root_limit_mm[:, None])
        low = np.minimum(self._bottom, limit[..., None])[..., None]
        upper = self._soils.top_mm[:, None, None, :]
        lower = upper + self._soils.thick_mm[:, None, None, :]
        return np.maximum(self._top[..., None], upper), np.minimum(low, lower)

    def _elsewhere(self, thick: Floats) -> tuple[np.ndarray, ...]:
        """Sites, sensors and horizons of the parts that are told by tension; arrays (pairs,)."""
        own = np.take_along_axis(self._kind, self._own, axis=1)
        across = (thick > 0).any(axis=1) & (self._kind[:, None, :] != own[..., None])
        return np.nonzero(across)

    def _known(self, site: np.ndarray, sensor: np.ndarray, horizon: np.ndarray) -> Floats:
        """Share of the available water left in horizons that a sensor is not in; (pairs, times)."""
        share = self._share[site, :, sensor]
        return share_in_other(self._soils, share, site, self._own[site, sensor], horizon)

    def parts(self, root_mm: Floats) -> LayerParts:
        """Every part of the root zone that a sensor speaks for.

        Parameters
        ----------
        root_mm : array, shape (sites, times) [mm]
        """
        top, bottom = self._cut(root_mm)
        thick = np.maximum(bottom - top, 0.0)
        available = thick * self._soils.available[:, None, None, :]
        shape = np.broadcast_shapes((*self._share.shape, 1), thick.shape)
        share = np.broadcast_to(self._share[..., None], shape).copy()
        site, sensor, horizon = self._elsewhere(thick)
        share[site, :, sensor, horizon] = self._known(site, sensor, horizon)
        return LayerParts(
            top_mm=top,
            bottom_mm=bottom,
            thick_mm=thick,
            available_mm=available,
            fraction=share,
            deficit_mm=available * (1 - np.clip(share, 0, 1)),
            surplus_mm=available * np.maximum(share - 1, 0),
        )

    def down_to(self, root_mm: Floats) -> Deficit:
        """Deficit, surplus and unseen soil above a depth of each site at each moment.

        Parameters
        ----------
        root_mm : array, shape (sites, times) [mm]

        Returns
        -------
        Deficit
            Arrays (sites, times).
        """
        # Roots that stand still have their layers cut once.
        still = bool((root_mm == root_mm[:, :1]).all())
        roots = root_mm[:, :1] if still else root_mm
        top, bottom = self._cut(roots)
        available = np.maximum(bottom - top, 0.0) * self._soils.available[:, None, None, :]
        site, sensor, horizon = self._elsewhere(available)
        there = available[site, :, sensor, horizon]
        known = self._known(site, sensor, horizon)
        available[site, :, sensor, horizon] = 0.0
        own = np.broadcast_to(available.sum(axis=-1), self._share.shape)
        limit = np.minimum(roots, self._soils.root_limit_mm[:, None])

        def summed(of: Callable[[Floats], Floats]) -> Floats:
            total: Floats = np.einsum("stn,stn->st", own, of(self._share))
            np.add.at(total, site, there * of(known))
            return np.where(self.any_word, total, np.nan)

        unseen = np.maximum(limit - self._reach, 0.0)
        return Deficit(
            deficit_mm=summed(lambda share: 1 - np.clip(share, 0, 1)),
            surplus_mm=summed(lambda share: np.maximum(share - 1, 0)),
            unseen_mm=np.where(self.any_word, unseen, np.nan),
        )
