"""The soils of many sites side by side, and one soil's word for its neighbour."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Self

import numpy as np

from core.arrays import Floats
from core.soil.profile import Profile
from core.soil.retention import WILTING_TENSION_KPA, RetentionCurve

# Bounds of the tension that a horizon's curve has at full [kPa]: a curve entered by hand may be
# flat there (working assumption, no source).
FULL_TENSION_KPA = (0.5, 300.0)


@dataclass(frozen=True)
class Soils:
    """Profiles side by side, padded with horizons of no thickness; arrays (sites, horizons).

    full, wilt, gravel [m3/m3]; curve of the fine earth; full_kpa its tension at full [kPa]
    kind : array of int, alike where two horizons hold water alike
    root_limit_mm : array, shape (sites,) [mm]
    """

    top_mm: Floats
    thick_mm: Floats
    full: Floats
    wilt: Floats
    gravel: Floats
    curve: RetentionCurve
    full_kpa: Floats
    kind: np.ndarray
    root_limit_mm: Floats

    @classmethod
    def of(cls, profiles: Sequence[Profile]) -> Self:
        """The soils of sites in their order."""
        most = max((p.top_mm.size for p in profiles), default=1)
        # Padding repeats the last horizon, without thickness.
        rows = [np.minimum(np.arange(most), p.top_mm.size - 1) for p in profiles]

        def padded(of: str) -> Floats:
            values = [getattr(p, of)[r] for p, r in zip(profiles, rows, strict=True)]
            return np.array(values, float).reshape(len(profiles), most)

        top, bottom = padded("top_mm"), padded("bottom_mm")
        there = np.arange(most) < np.array([p.top_mm.size for p in profiles], int)[:, None]
        curves = [p.curve.of(r) for p, r in zip(profiles, rows, strict=True)]
        curve = (
            RetentionCurve.stack(curves)
            if curves
            else RetentionCurve.stack([]).of(np.empty((0, most), int))
        )
        full, wilt, gravel = padded("theta_full"), padded("theta_wilt"), padded("gravel")
        tension = curve.tension_at(full / (1 - gravel))
        held = np.stack([full, wilt, *(getattr(curve, f) for f in ("a", "b", "alpha", "n"))])
        _, kind = np.unique(held.reshape(held.shape[0], -1), axis=1, return_inverse=True)
        return cls(
            top_mm=top,
            thick_mm=np.where(there, bottom - top, 0.0),
            full=full,
            wilt=wilt,
            gravel=gravel,
            curve=curve,
            full_kpa=np.clip(tension, *FULL_TENSION_KPA),
            kind=kind.reshape(full.shape),
            root_limit_mm=np.array([p.root_limit_mm for p in profiles], float),
        )

    @property
    def available(self) -> Floats:
        """Full less wilting [m3/m3]."""
        return self.full - self.wilt

    def at(self, depth_mm: Floats) -> np.ndarray:
        """Index of the horizon at each depth, below the profile the last; (sites, sensors)."""
        bottom = self.top_mm + self.thick_mm
        passed = (self.thick_mm[:, None, :] > 0) & (depth_mm[..., None] >= bottom[:, None, :])
        last = (self.thick_mm > 0).sum(axis=1)[:, None] - 1
        index: np.ndarray = np.minimum(passed.sum(axis=-1), last)
        return index

    def share_in(
        self, share: Floats, site: np.ndarray, own: np.ndarray, other: np.ndarray
    ) -> Floats:
        """Share of the available water left in one horizon, told by a sensor in another.

        Parameters
        ----------
        share : array, shape (pairs, times) [-]
            Left where the sensor is.
        site, own, other : array of int, shape (pairs,)
            The site, the horizon of the sensor, and the one that it speaks for.

        Returns
        -------
        array, shape (pairs, times) [-]

        Notes
        -----
        Neighbours exchange water until their tension is the same. Both are full once both
        have drained, whatever tension each is said to be full at, so that tension counts, as
        a logarithm, from each one's own full to wilting at 1500 kPa. Water above full is
        taken to be above full by as much in both (working assumption, no source).
        """

        def of(values: Floats, horizon: np.ndarray) -> Floats:
            return values[site, horizon][:, None]

        def curve(horizon: np.ndarray) -> RetentionCurve:
            found = self.curve
            flat = site * found.a.shape[1] + horizon
            each = {name: values.ravel()[flat][:, None] for name, values in vars(found).items()}
            return RetentionCurve(**each)

        wilt, available = of(self.wilt, own), of(self.available, own)
        content = (wilt + share * available) / (1 - of(self.gravel, own))
        full_kpa = of(self.full_kpa, own)
        with np.errstate(invalid="ignore"):
            psi = np.clip(curve(own).tension_at(content), full_kpa, WILTING_TENSION_KPA)
        gone = np.log(psi / full_kpa) / np.log(WILTING_TENSION_KPA / full_kpa)
        other_kpa = of(self.full_kpa, other)
        there = curve(other).theta_at(other_kpa * (WILTING_TENSION_KPA / other_kpa) ** gone)
        there = there * (1 - of(self.gravel, other))
        left = (there - of(self.wilt, other)) / of(self.available, other)
        told = np.where((share > 0) & (share < 1), np.clip(left, 0.0, 1.0), share)
        return np.where(np.isnan(share), np.nan, told)
