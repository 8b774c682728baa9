"""The steps of the working that tell what the wet bare soil gives off today.

References
----------
.. [1] Allen, R. G. et al. (1998), FAO-56, ch. 7, eq. 71-76.
"""

from core.advice.explain_climate import CLIMATE_FORMULA, climate_terms
from core.advice.working import COMPUTED, Step, StepKey, Term, Unit
from core.balance.coefficients import KC_BARE, SURFACE_MM
from core.balance.surface_layer import SurfaceDay, SurfaceLayer
from core.soil.horizon_limits import HorizonLimits


def evaporation_steps(
    surface: SurfaceDay, layer: SurfaceLayer, top: HorizonLimits, kcb: float, known: bool
) -> list[Step]:
    """Evaporation coefficient and the whole Kc of today.

    Parameters
    ----------
    surface : SurfaceDay, layer : SurfaceLayer
        Of blocks of which the first is explained.
    top : HorizonLimits
        Of its top soil.
    kcb : float
        Basal coefficient of the crop today [-].
    known : bool
        Whether wind and humidity were measured.
    """
    book = "FAO-56 ch. 7"
    tew, rew, height = (float(x[0]) for x in (layer.tew_mm, layer.rew_mm, surface.height_m))
    highest, cover, exposed = (
        float(x[0]) for x in (surface.highest, surface.cover, surface.exposed)
    )
    reduction, ke, gone = (float(x[0]) for x in (surface.reduction, surface.ke, surface.start_mm))
    wind, humidity = float(surface.wind_m_s[0]), float(surface.rh_min[0])
    wetted, shaded = float(surface.wetted[0]), bool(surface.shaded[0])
    basal = Term("Kcb", kcb, Unit.NUMBER, COMPUTED)
    h = Term("h", height, Unit.NUMBER, "height of the crop today, m")
    least = Term("Kmin", KC_BARE, Unit.NUMBER, f"dry bare soil, {book}")
    most = Term("Kmax", highest, Unit.NUMBER, COMPUTED)
    covered = Term("fc", cover, Unit.SHARE, COMPUTED)
    wet = Term("fw", wetted, Unit.SHARE, "share of the ground that the last water wetted")
    total = Term("TEW", tew, Unit.WATER_MM, COMPUTED)
    few = "min(1 - fc, fw * (1 - 2 / 3 * fc))" if shaded else "min(1 - fc, fw)"
    return [
        Step(
            StepKey.KC_MAX,
            "Kmax",
            f"max(1.2 + {CLIMATE_FORMULA}, Kcb + 0.05)",
            (*climate_terms(wind, humidity, height, known), basal),
            highest,
            Unit.NUMBER,
        ),
        Step(
            StepKey.COVER,
            "fc",
            "min((max(Kcb - Kmin, 0.01) / (Kmax - Kmin)) ** (1 + 0.5 * h), 0.99)",
            (basal, least, most, h),
            cover,
            Unit.SHARE,
        ),
        Step(StepKey.EXPOSED, "few", f"max({few}, 0.01)", (covered, wet), exposed, Unit.SHARE),
        Step(
            StepKey.TEW,
            "TEW",
            "(full - 0.5 * wilt) * Ze",
            (
                Term("full", top.theta_full, Unit.THETA, "top layer"),
                Term("wilt", top.theta_wilt, Unit.THETA, "top layer"),
                Term("Ze", SURFACE_MM, Unit.DEPTH_MM, f"soil that dries by evaporation, {book}"),
            ),
            tew,
            Unit.WATER_MM,
        ),
        Step(
            StepKey.KR,
            "Kr",
            "max(min((TEW - De) / (TEW - REW), 1), 0)",
            (
                total,
                Term("De", gone, Unit.WATER_MM, "evaporated from the top since its last water"),
                Term("REW", rew, Unit.WATER_MM, f"readily evaporable from {top.texture}, table 19"),
            ),
            reduction,
            Unit.NUMBER,
        ),
        Step(
            StepKey.KE,
            "Ke",
            "max(min(Kr * (Kmax - Kcb), few * Kmax), 0)",
            (
                Term("Kr", reduction, Unit.NUMBER, COMPUTED),
                most,
                basal,
                Term("few", exposed, Unit.SHARE, COMPUTED),
            ),
            ke,
            Unit.NUMBER,
        ),
        Step(
            StepKey.KC,
            "Kc",
            "Kcb + Ke",
            (basal, Term("Ke", ke, Unit.NUMBER, COMPUTED)),
            kcb + ke,
            Unit.NUMBER,
        ),
    ]
