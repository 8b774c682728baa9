"""A layered profile: horizons from the surface down, as arrays."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Self

import numpy as np

from core.arrays import ArrayLike, Floats
from core.sentence import sentence
from core.soil.horizon import Horizon, HorizonProblem
from core.soil.horizon_limits import HorizonLimits, horizon_limits
from core.soil.retention import RetentionCurve

MAX_PROFILE_MM = 5000.0


def overlap_mm(
    top_a: ArrayLike, bottom_a: ArrayLike, top_b: ArrayLike, bottom_b: ArrayLike
) -> Floats:
    """Thickness that two depth intervals share; never negative; broadcasts [mm]."""
    shared = np.minimum(np.asarray(bottom_a, float), bottom_b) - np.maximum(
        np.asarray(top_a, float), top_b
    )
    return np.maximum(shared, 0.0)


@dataclass(frozen=True)
class Profile:
    """Horizons from the surface down.

    top_mm, bottom_mm : array, shape (horizons,) [mm]
    theta_full, theta_wilt, theta_sat : array, shape (horizons,) [m3/m3, whole soil]
    gravel : array, shape (horizons,) [volume fraction]
    curve : RetentionCurve of the fine earth, one per horizon
    root_limit_mm : depth that no root passes: the first horizon that stops them, or the bottom
    ece : array, shape (horizons,) [dS/m], NaN where not measured
    limits : the same by horizon, with texture, method and source
    """

    top_mm: Floats
    bottom_mm: Floats
    theta_full: Floats
    theta_wilt: Floats
    theta_sat: Floats
    gravel: Floats
    curve: RetentionCurve
    root_limit_mm: float
    ece: Floats
    limits: tuple[HorizonLimits, ...]

    @classmethod
    def from_horizons(cls, horizons: Sequence[Horizon]) -> Self:
        """Profile of horizons that start at the surface and follow without gap.

        Raises
        ------
        HorizonProblem
            Names the horizon and the field to mend.
        """
        if not horizons:
            raise HorizonProblem(0, "bottom", sentence("A profile needs at least one horizon."))
        expected_top = 0.0
        for i, h in enumerate(horizons):
            if abs(h.top_mm - expected_top) > 0.5:
                raise HorizonProblem(
                    i,
                    "top",
                    sentence(
                        "Horizon {number} starts at {top_mm:g} cm but should start at "
                        "{expected:g} cm, where the one above ends.",
                        number=i + 1,
                        top_mm=h.top_mm / 10,
                        expected=expected_top / 10,
                    ),
                )
            if h.bottom_mm <= h.top_mm:
                raise HorizonProblem(
                    i,
                    "bottom",
                    sentence(
                        "Horizon {number} ends at {bottom_mm:g} cm, not below its top at "
                        "{top_mm:g} cm. Depth counts downward from the surface.",
                        number=i + 1,
                        bottom_mm=h.bottom_mm / 10,
                        top_mm=h.top_mm / 10,
                    ),
                )
            expected_top = h.bottom_mm
        if expected_top > MAX_PROFILE_MM:
            raise HorizonProblem(
                len(horizons) - 1,
                "bottom",
                sentence(
                    "The profile ends at {expected:g} cm; depths are in cm and stop at "
                    "{max_profile_mm:g}.",
                    expected=expected_top / 10,
                    max_profile_mm=MAX_PROFILE_MM / 10,
                ),
            )
        if horizons[0].stops_roots:
            raise HorizonProblem(
                0,
                "stops_roots",
                sentence("Roots can't be stopped at the surface; nothing would grow."),
            )
        limits = tuple(horizon_limits(h, i) for i, h in enumerate(horizons))
        return cls(
            top_mm=np.array([h.top_mm for h in horizons]),
            bottom_mm=np.array([h.bottom_mm for h in horizons]),
            theta_full=np.array([x.theta_full for x in limits]),
            theta_wilt=np.array([x.theta_wilt for x in limits]),
            theta_sat=np.array([x.theta_sat for x in limits]),
            gravel=np.array([x.gravel for x in limits]),
            curve=RetentionCurve.stack([x.curve for x in limits]),
            root_limit_mm=next((h.top_mm for h in horizons if h.stops_roots), expected_top),
            ece=np.array([np.nan if h.ece is None else h.ece for h in horizons]),
            limits=limits,
        )

    @property
    def depth_mm(self) -> float:
        """Depth to which the soil is described [mm]."""
        return float(self.bottom_mm[-1])

    def horizon_at(self, depth_mm: ArrayLike) -> np.ndarray:
        """Index of the horizon that holds each depth; below the profile, the last one.

        Parameters
        ----------
        depth_mm : array, shape (n,) [mm]

        Returns
        -------
        array of int, shape (n,)
            A depth on a boundary belongs to the horizon below it.
        """
        index = np.searchsorted(self.bottom_mm, np.asarray(depth_mm, float), side="right")
        return np.minimum(index, len(self.bottom_mm) - 1)

    def mean_ece(self, root_mm: float) -> float | None:
        """Mean ECe of the root zone by thickness [dS/m]; None unless every part is measured."""
        thick = self.thick_between(0.0, min(root_mm, self.root_limit_mm))
        rooted = thick > 0
        if not rooted.any() or np.isnan(self.ece[rooted]).any():
            return None
        return float(np.average(self.ece[rooted], weights=thick[rooted]))

    def thick_between(self, top_mm: ArrayLike, bottom_mm: ArrayLike) -> Floats:
        """Thickness of each horizon between depths.

        Parameters
        ----------
        top_mm, bottom_mm : array, shape (...) [mm]

        Returns
        -------
        array, shape (..., horizons) [mm]
        """
        top = np.asarray(top_mm, float)[..., None]
        bottom = np.asarray(bottom_mm, float)[..., None]
        return overlap_mm(top, bottom, self.top_mm, self.bottom_mm)

    def available_between(self, top_mm: ArrayLike, bottom_mm: ArrayLike) -> Floats:
        """Total available water of depth intervals, by horizon.

        Parameters
        ----------
        top_mm, bottom_mm : array, shape (...) [mm]

        Returns
        -------
        array, shape (..., horizons) [mm]
            (full - wilting) x shared thickness; sum the last axis for the interval.
        """
        shared = self.thick_between(top_mm, bottom_mm)
        return shared * (self.theta_full - self.theta_wilt)

    def theta_from_tension(self, tension_kpa: ArrayLike, horizon: np.ndarray) -> Floats:
        """Whole-soil water content of tensions read in given horizons.

        Parameters
        ----------
        tension_kpa : array, shape (..., sensors) [kPa]
        horizon : array of int, shape (sensors,)

        Returns
        -------
        array, shape (..., sensors) [m3/m3]
        """
        return self.curve.of(horizon).theta_at(tension_kpa) * (1 - self.gravel[horizon])
