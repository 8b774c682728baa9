"""Full and wilting points of a horizon, and its retention curve, by the method in force."""

from dataclasses import dataclass, replace
from math import hypot

import numpy as np

from core.sentence import sentence
from core.soil.book import book_limits
from core.soil.class_means import class_mean_curves
from core.soil.fitted_curve import fit_curve
from core.soil.horizon import (
    FULL_TENSION_KPA,
    CurveShape,
    FineEarth,
    Horizon,
    HorizonProblem,
    LimitMethod,
    check_horizon,
    fine_earth,
    full_tension,
)
from core.soil.retention import WILTING_TENSION_KPA, RetentionCurve
from core.soil.rosetta_curve import RMSE, RMSE_WITH_DENSITY, rosetta_curve
from core.soil.saxton_rawls import (
    PARTICLE_DENSITY,
    SE_THETA_33,
    SE_THETA_1500,
    SaxtonRawls,
    saxton_rawls,
)
from core.soil.texture import TextureClass

# Uncertainty of what people bring [m3/m3]; working assumptions, no source.
SIGMA_CLASS_MEANS, SIGMA_MEASURED, SIGMA_LEARNED, SIGMA_FIT_LEAST = 0.06, 0.015, 0.02, 0.01

_SHAPE_OF = {
    LimitMethod.CLASS_MEANS: CurveShape.CLASS_MEANS,
    LimitMethod.ROSETTA: CurveShape.ROSETTA,
    LimitMethod.FITTED: CurveShape.FITTED,
}


@dataclass(frozen=True)
class HorizonLimits:
    """Limits of the whole soil, gravel included; all theta [m3/m3], tension [kPa].

    ``curve`` describes the fine earth; ``gravel`` is the volume fraction that holds nothing.
    ``sigma_full``, ``sigma_wilt`` [m3/m3] are standard uncertainties of the two limits.
    """

    texture: TextureClass
    sand: float
    clay: float
    method: LimitMethod
    shape: CurveShape
    source: str
    gravel: float
    theta_full: float
    theta_wilt: float
    theta_sat: float
    sigma_full: float
    sigma_wilt: float
    full_tension_kpa: float
    ksat_mm_h: float
    clamped: bool
    curve: RetentionCurve

    @property
    def available(self) -> float:
        """Water between full and wilting [m3/m3]."""
        return self.theta_full - self.theta_wilt

    @property
    def sigma_available(self) -> float:
        """Its uncertainty, the two limits taken as independent [m3/m3]."""
        return hypot(self.sigma_full, self.sigma_wilt)


@dataclass(frozen=True)
class _Limits:
    """Limits of the fine earth [m3/m3] with where they come from."""

    full: float
    wilt: float
    sigma_full: float
    sigma_wilt: float
    source: str


@dataclass(frozen=True)
class _Ground:
    """What every method starts from."""

    horizon: Horizon
    index: int
    earth: FineEarth
    tension: float
    regression: SaxtonRawls


def _shape_curve(ground: _Ground, shape: CurveShape) -> tuple[RetentionCurve, float]:
    """The curve of a shape before it is anchored, and its error [m3/m3]."""
    h, earth = ground.horizon, ground.earth
    if shape is CurveShape.CLASS_MEANS:
        return class_mean_curves()[earth.texture], SIGMA_CLASS_MEANS
    if shape is CurveShape.ROSETTA:
        error = RMSE if h.bulk_density is None else RMSE_WITH_DENSITY
        try:
            return rosetta_curve(earth.sand, earth.clay, h.bulk_density), error
        except ValueError as problem:
            raise HorizonProblem(
                ground.index, "method", sentence("{problem}.", problem=str(problem))
            ) from None
    if shape is CurveShape.FITTED:
        try:
            fit = fit_curve([t for t, _ in h.points], [x for _, x in h.points])
        except ValueError as problem:
            raise HorizonProblem(
                ground.index,
                "points",
                sentence("The points can't be fitted: {problem}.", problem=str(problem)),
            ) from None
        return fit.curve, max(fit.rmse, SIGMA_FIT_LEAST)
    sr = ground.regression
    full, wilt = float(sr.theta_33), float(sr.theta_1500)
    sat = max(float(sr.theta_sat), full + 0.01)
    return RetentionCurve.through(full, FULL_TENSION_KPA, wilt, sat), SE_THETA_33


def _measured(ground: _Ground) -> _Limits:
    by_tension = dict(ground.horizon.points)
    missing = [t for t in (ground.tension, WILTING_TENSION_KPA) if t not in by_tension]
    if missing:
        raise HorizonProblem(
            ground.index,
            "points",
            sentence(
                "Measured limits need the content at {tensions} kPa. Enter it, or choose another "
                "tension for full.",
                tensions=", ".join(f"{t:g}" for t in missing),
            ),
        )
    full, wilt = by_tension[ground.tension], by_tension[WILTING_TENSION_KPA]
    if not full > wilt:
        raise HorizonProblem(
            ground.index,
            "points",
            sentence("Full ({full:g}) must lie above wilting ({wilt:g}).", full=full, wilt=wilt),
        )
    return _Limits(full, wilt, SIGMA_MEASURED, SIGMA_MEASURED, "measured")


def _learned(ground: _Ground) -> _Limits:
    full, wilt = ground.horizon.theta_full, ground.horizon.theta_wilt
    if full is None or wilt is None:
        raise HorizonProblem(
            ground.index,
            "theta_full",
            sentence("Learned limits need both the full and the wilting point."),
        )
    if not 0 < wilt < full < 0.8:
        raise HorizonProblem(
            ground.index,
            "theta_full",
            sentence(
                "Full ({full:g}) must lie above wilting ({wilt:g}), both between 0 and 0.8 m3/m3.",
                full=full,
                wilt=wilt,
            ),
        )
    # Fields show full points. How much lies between full and wilting is known no better than by the
    # texture, whatever wilting point was put beside it: advice that took it for known let crops go
    # short, see docs/closed-loop.md.
    return _Limits(full, wilt, SIGMA_LEARNED, SE_THETA_33, "learned in the field")


def _limits(ground: _Ground) -> _Limits:
    """Limits of the fine earth by the method in force."""
    method = ground.horizon.method
    if method is LimitMethod.MEASURED:
        return _measured(ground)
    if method is LimitMethod.LEARNED:
        return _learned(ground)
    if method is LimitMethod.BOOK:
        row = book_limits()[ground.earth.texture]
        # The printed range is taken as two standard deviations either way.
        return _Limits(
            row.theta_full,
            row.theta_wilt,
            (row.full_range[1] - row.full_range[0]) / 4,
            (row.wilt_range[1] - row.wilt_range[0]) / 4,
            row.source,
        )
    curve, error = _shape_curve(ground, _SHAPE_OF.get(method, CurveShape.POWER))
    full = float(curve.theta_at(ground.tension))
    wilt = float(curve.theta_at(WILTING_TENSION_KPA))
    if method is LimitMethod.REGRESSION:
        return _Limits(full, wilt, error, SE_THETA_1500, "Saxton & Rawls 2006")
    source = {
        LimitMethod.CLASS_MEANS: "Carsel & Parrish 1988",
        LimitMethod.ROSETTA: "Rosetta 3, Zhang & Schaap 2017",
        LimitMethod.FITTED: "fitted to measured points",
    }[method]
    return _Limits(full, wilt, error, error, source)


def horizon_limits(horizon: Horizon, index: int = 0) -> HorizonLimits:
    """Limits of one horizon by its method.

    Parameters
    ----------
    horizon : Horizon
    index : int
        Its place in the profile, for the error only.

    Returns
    -------
    HorizonLimits
        Gravel scales every content by (1 - volume fraction). The curve keeps the shape
        chosen and passes through the limits in force.

    Raises
    ------
    HorizonProblem
        When the description can't be used.
    """
    check_horizon(horizon, index)
    earth = fine_earth(horizon, index)
    density = float("nan") if horizon.bulk_density is None else horizon.bulk_density
    regression = saxton_rawls(earth.sand, earth.clay, horizon.organic_matter, density)
    ground = _Ground(horizon, index, earth, full_tension(horizon, earth.texture), regression)
    found = _limits(ground)
    shape = horizon.curve or _SHAPE_OF.get(horizon.method, CurveShape.POWER)
    curve, _ = _shape_curve(ground, shape)
    if horizon.bulk_density is not None:
        sat = 1 - horizon.bulk_density / PARTICLE_DENSITY
    else:
        sat = float(regression.theta_sat if shape is CurveShape.POWER else curve.theta_sat)
    sat = max(sat, found.full + 0.01)
    curve = replace(curve, theta_sat=np.asarray(sat)) if shape is CurveShape.POWER else curve
    fine = 1 - horizon.gravel / 100
    by_texture = horizon.method is LimitMethod.REGRESSION
    return HorizonLimits(
        texture=earth.texture,
        sand=earth.sand,
        clay=earth.clay,
        method=horizon.method,
        shape=shape,
        source=found.source,
        gravel=horizon.gravel / 100,
        theta_full=found.full * fine,
        theta_wilt=found.wilt * fine,
        theta_sat=sat * fine,
        sigma_full=found.sigma_full * fine,
        sigma_wilt=found.sigma_wilt * fine,
        full_tension_kpa=ground.tension,
        ksat_mm_h=float(regression.ksat_mm_h),
        clamped=by_texture and bool(regression.clamped),
        curve=curve.anchored(found.full, ground.tension, found.wilt),
    )


def limits_by_every_method(horizon: Horizon) -> dict[LimitMethod, HorizonLimits | str]:
    """What each method says of a horizon; why it can't be asked where it can't.

    Each method brings its own retention curve, whatever curve the horizon names.
    """
    out: dict[LimitMethod, HorizonLimits | str] = {}
    for method in LimitMethod:
        try:
            out[method] = horizon_limits(replace(horizon, method=method, curve=None))
        except HorizonProblem as problem:
            out[method] = problem.message
    return out
