"""What a soil comes to while it is being described: limits by every method, curves, salt."""

from dataclasses import replace

import numpy as np

from core.crop.catalogue import Crop
from core.crop.depletion import adjusted_p
from core.crop.salinity import relative_yield
from core.crop.season import IN_SEASON, Stage, crop_days
from core.irrigation.intake import BASIC_INTAKE_MM_H
from core.limits.root_zone import root_zone_limits
from core.soil.horizon import CurveShape, Horizon, HorizonProblem, LimitMethod
from core.soil.horizon_limits import HorizonLimits, horizon_limits, limits_by_every_method
from server.soils.convert import typed_horizon, typed_profile
from server.soils.schemas import (
    CurveOut,
    HorizonIn,
    HorizonOut,
    MethodOut,
    SoilPreviewOut,
)

TENSIONS_KPA = [round(float(t), 3) for t in np.geomspace(1, 1500, 41)]
ORDINARY_ET_MM_DAY = 5.0
METHOD_OF = {
    CurveShape.POWER: LimitMethod.REGRESSION,
    CurveShape.CLASS_MEANS: LimitMethod.CLASS_MEANS,
    CurveShape.ROSETTA: LimitMethod.ROSETTA,
    CurveShape.FITTED: LimitMethod.FITTED,
}


def _methods(horizon: Horizon) -> list[MethodOut]:
    out = []
    for method, limits_found in limits_by_every_method(horizon).items():
        if isinstance(limits_found, str):
            out.append(MethodOut(method=method, problem=limits_found))
            continue
        out.append(
            MethodOut(
                method=method,
                source=limits_found.source,
                theta_full=limits_found.theta_full,
                theta_wilt=limits_found.theta_wilt,
                available_mm_per_m=limits_found.available * 1000,
                sigma_mm_per_m=limits_found.sigma_available * 1000,
            )
        )
    return out


def _curves(horizon: Horizon, limits: HorizonLimits) -> list[CurveOut]:
    """Each shape by its own method, not stretched, and the one in force as it is used."""
    out = []
    for shape in CurveShape:
        own = _limits_by_shape(horizon, shape)
        in_force = shape is limits.shape
        if in_force:
            own = limits
        if own is not None:
            theta = own.curve.theta_at(TENSIONS_KPA) * (1 - own.gravel)
            out.append(
                CurveOut(shape=shape, in_force=in_force, theta=[round(float(x), 4) for x in theta])
            )
    return out


def _limits_by_shape(horizon: Horizon, shape: CurveShape) -> HorizonLimits | None:
    """The limits by the method whose curve has a shape; None where it can't be asked."""
    try:
        return horizon_limits(replace(horizon, method=METHOD_OF[shape], curve=None))
    except HorizonProblem:
        return None


def horizon_out(given: HorizonIn, limits: HorizonLimits) -> HorizonOut:
    """One horizon with the other methods and curves beside those in force."""
    horizon = typed_horizon(given)
    return HorizonOut(
        top_mm=given.top_mm,
        bottom_mm=given.bottom_mm,
        texture=limits.texture,
        sand=limits.sand,
        clay=limits.clay,
        theta_full=limits.theta_full,
        theta_wilt=limits.theta_wilt,
        theta_sat=limits.theta_sat,
        sigma_full=limits.sigma_full,
        sigma_wilt=limits.sigma_wilt,
        full_tension_kpa=limits.full_tension_kpa,
        ksat_mm_h=limits.ksat_mm_h,
        intake_mm_h=BASIC_INTAKE_MM_H[limits.texture],
        source=limits.source,
        clamped=limits.clamped,
        available_mm_per_m=limits.available * 1000,
        sigma_mm_per_m=limits.sigma_available * 1000,
        methods=_methods(horizon),
        curves=_curves(horizon, limits),
    )


def yield_left(crop: Crop, ece: float | None) -> float | None:
    """Share of the yield that the salt leaves; None where either is unknown."""
    if crop.salt is None or ece is None:
        return None
    return float(relative_yield(ece, crop.salt.threshold_ds_m, crop.salt.slope_percent))


def soil_preview(horizons: list[HorizonIn], crop: Crop | None, day: int | None) -> SoilPreviewOut:
    """Limits of a soil as typed, at the roots that a crop has on a day since planting.

    Raises
    ------
    RequestError
        With the path of the field to mend.
    """
    profile = typed_profile(horizons)
    out = SoilPreviewOut(
        horizons=[horizon_out(g, x) for g, x in zip(horizons, profile.limits, strict=True)],
        tensions_kpa=TENSIONS_KPA,
        root_limit_mm=profile.root_limit_mm,
        root_mm=None,
        taw_mm=None,
        raw_mm=None,
        stage=None,
        ece=None,
        relative_yield=None,
    )
    if crop is None or day is None:
        return out
    today = crop_days(crop, np.array([day]))
    out.stage = Stage(str(today.stage[0]))
    if out.stage in IN_SEASON:
        out.root_mm = min(float(today.root_mm[0]), profile.root_limit_mm)
        limits = root_zone_limits(profile, out.root_mm, adjusted_p(crop.p, ORDINARY_ET_MM_DAY))
        out.taw_mm, out.raw_mm = float(limits.taw_mm), float(limits.raw_mm)
        out.ece = profile.mean_ece(out.root_mm)
        out.relative_yield = yield_left(crop, out.ece)
    return out
