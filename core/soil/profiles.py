"""Profiles of many blocks or sites side by side, and the water between depths in them."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Self

import numpy as np

from core.arrays import ArrayLike, Floats
from core.soil.profile import Profile, overlap_mm
from core.soil.retention import RetentionCurve


@dataclass(frozen=True)
class Profiles:
    """Arrays (profiles, horizons), padded with the last horizon without thickness.

    top_mm, thick_mm [mm]
    theta_full, theta_wilt, theta_sat : whole soil [m3/m3]; sigma_full spread of full [m3/m3]
    gravel [volume fraction]; curve of the fine earth
    root_limit_mm : array, shape (profiles,) [mm]
    """

    top_mm: Floats
    thick_mm: Floats
    theta_full: Floats
    theta_wilt: Floats
    theta_sat: Floats
    sigma_full: Floats
    gravel: Floats
    curve: RetentionCurve
    root_limit_mm: Floats

    @classmethod
    def of(cls, profiles: Sequence[Profile]) -> Self:
        """Profiles in their order."""
        count = np.array([p.top_mm.size for p in profiles], int)
        most = int(count.max(initial=1))
        horizon = np.minimum(np.arange(most), count[:, None] - 1)
        start = np.cumsum(count) - count
        rows = start[:, None] + horizon

        def padded(values: Sequence[ArrayLike]) -> Floats:
            flat = np.concatenate([np.empty(0), *(np.asarray(v, float) for v in values)])
            return flat[rows]

        curves = RetentionCurve.joined([p.curve for p in profiles])
        top = padded([p.top_mm for p in profiles])
        thick = padded([p.bottom_mm for p in profiles]) - top
        return cls(
            top_mm=top,
            thick_mm=np.where(np.arange(most) < count[:, None], thick, 0.0),
            theta_full=padded([p.theta_full for p in profiles]),
            theta_wilt=padded([p.theta_wilt for p in profiles]),
            theta_sat=padded([p.theta_sat for p in profiles]),
            sigma_full=padded([[h.sigma_full for h in p.limits] for p in profiles]),
            gravel=padded([p.gravel for p in profiles]),
            curve=curves.of(rows),
            root_limit_mm=np.array([p.root_limit_mm for p in profiles], float),
        )

    @property
    def available(self) -> Floats:
        """Full less wilting [m3/m3]."""
        return self.theta_full - self.theta_wilt

    def thick_between(self, top_mm: ArrayLike, bottom_mm: ArrayLike) -> Floats:
        """Thickness of each horizon between depths.

        Parameters
        ----------
        top_mm, bottom_mm : array, broadcastable with (profiles, ...) [mm]

        Returns
        -------
        array, shape (profiles, ..., horizons) [mm]
        """
        top, bottom = (np.asarray(x, float)[..., None] for x in (top_mm, bottom_mm))
        between = (1,) * (max(top.ndim, bottom.ndim) - 2)
        upper = self.top_mm.reshape(self.top_mm.shape[0], *between, -1)
        lower = upper + self.thick_mm.reshape(upper.shape)
        return overlap_mm(top, bottom, upper, lower)

    def held_above(self, content: Floats, depth_mm: Floats) -> Floats:
        """Water that contents of the horizons make from the surface down to depths.

        Parameters
        ----------
        content : array, shape (profiles, horizons) [m3/m3]
        depth_mm : array, shape (profiles, days) [mm]

        Returns
        -------
        array, shape (profiles, days) [mm]
        """
        held: Floats = np.einsum("pdh,ph->pd", self.thick_between(0.0, depth_mm), content)
        return held

    def at(self, depth_mm: Floats) -> np.ndarray:
        """Index of the horizon at each depth, below the profile the last; (profiles, depths)."""
        bottom = self.top_mm + self.thick_mm
        passed = (self.thick_mm[:, None, :] > 0) & (depth_mm[..., None] >= bottom[:, None, :])
        last = (self.thick_mm > 0).sum(axis=1)[:, None] - 1
        index: np.ndarray = np.minimum(passed.sum(axis=-1), last)
        return index

    def curves_at(self, profile: np.ndarray, horizon: np.ndarray) -> RetentionCurve:
        """Curves of given horizons of given profiles; index arrays of one shape."""
        flat = profile * self.top_mm.shape[1] + horizon
        return RetentionCurve(**{k: v.ravel()[flat] for k, v in vars(self.curve).items()})
