"""One soil horizon as a person describes it, and the limits that follow from it."""

from dataclasses import dataclass
from enum import StrEnum

from core.soil.book import book_limits
from core.soil.retention import PowerCurve
from core.soil.saxton_rawls import (
    MAX_CLAY_PERCENT,
    MAX_ORGANIC_MATTER_PERCENT,
    saxton_rawls,
)
from core.soil.texture import (
    CLASS_CENTRES,
    SUM_TOLERANCE_PERCENT,
    TextureClass,
    texture_class,
)

MAX_GRAVEL_PERCENT = 90.0
# Coarse soils have drained by about 10 kPa, the others by about 33 (common practice, no source).
COARSE_FULL_TENSION_KPA = 10.0
FULL_TENSION_KPA = 33.0
COARSE_CLASSES = frozenset({TextureClass.SAND, TextureClass.LOAMY_SAND})


class LimitMethod(StrEnum):
    """Where a horizon's full and wilting points come from."""

    REGRESSION = "regression"
    BOOK = "book"
    MEASURED = "measured"


class HorizonProblem(ValueError):
    """A horizon that can't be used.

    ``index`` is its place in the profile from 0, ``field`` the input to mend; the message
    says what is wrong and what to do.
    """

    def __init__(self, index: int, field: str, message: str) -> None:
        super().__init__(message)
        self.index = index
        self.field = field
        self.message = message


@dataclass(frozen=True)
class Horizon:
    """A horizon as entered.

    Either ``sand``/``silt``/``clay`` [percent by weight of the fine earth] or ``texture``.
    ``organic_matter`` [percent by weight], ``gravel`` [percent by volume], depths [mm],
    ``theta_full``/``theta_wilt`` [m3/m3, of the fine earth] for the measured method.
    """

    top_mm: float
    bottom_mm: float
    sand: float | None = None
    silt: float | None = None
    clay: float | None = None
    texture: TextureClass | None = None
    organic_matter: float = 1.5
    gravel: float = 0.0
    method: LimitMethod = LimitMethod.REGRESSION
    theta_full: float | None = None
    theta_wilt: float | None = None


@dataclass(frozen=True)
class HorizonLimits:
    """Limits of the whole soil, gravel included; all theta [m3/m3], tension [kPa].

    ``curve`` describes the fine earth; ``gravel`` is the volume fraction that holds nothing.
    """

    texture: TextureClass
    sand: float
    clay: float
    method: LimitMethod
    source: str
    gravel: float
    theta_full: float
    theta_wilt: float
    theta_sat: float
    full_tension_kpa: float
    ksat_mm_h: float
    clamped: bool
    curve: PowerCurve


def _fractions(horizon: Horizon, index: int) -> tuple[float, float, TextureClass]:
    """Sand and clay percent and the class, from percentages or from the named class."""
    given = [x for x in (horizon.sand, horizon.silt, horizon.clay) if x is not None]
    if not given:
        if horizon.texture is None:
            raise HorizonProblem(
                index, "texture", "Name a texture class, or give sand, silt and clay."
            )
        sand, clay = CLASS_CENTRES[horizon.texture]
        return sand, clay, horizon.texture
    if len(given) < 2:
        raise HorizonProblem(
            index, "sand", "Give at least two of sand, silt and clay; the third follows."
        )
    for name in ("sand", "silt", "clay"):
        value = getattr(horizon, name)
        if value is not None and not 0 <= value <= 100:
            raise HorizonProblem(index, name, f"{name} is {value:g} %; it must lie in 0-100 %.")
    sand = horizon.sand if horizon.sand is not None else 100 - sum(given)
    clay = horizon.clay if horizon.clay is not None else 100 - sum(given)
    silt = horizon.silt if horizon.silt is not None else 100 - sum(given)
    total = sand + silt + clay
    if abs(total - 100) > SUM_TOLERANCE_PERCENT or min(sand, silt, clay) < 0:
        shown = sum(given) if len(given) < 3 else total
        raise HorizonProblem(
            index,
            "sand",
            f"Sand, silt and clay add to {shown:g} %; they must add to 100 %. "
            "Check the laboratory sheet and correct one of them.",
        )
    return sand, clay, TextureClass(str(texture_class(sand, 100 - sand - clay, clay)))


def _fine_earth_limits(
    horizon: Horizon,
    index: int,
    texture: TextureClass,
    full_tension_kpa: float,
    sr33: float,
    sr1500: float,
) -> tuple[float, float, str]:
    """Full and wilting content of the fine earth and where they come from [m3/m3]."""
    if horizon.method is LimitMethod.MEASURED:
        if horizon.theta_full is None or horizon.theta_wilt is None:
            raise HorizonProblem(
                index, "theta_full", "Measured limits need both the full and the wilting point."
            )
        if not 0 < horizon.theta_wilt < horizon.theta_full < 0.8:
            raise HorizonProblem(
                index,
                "theta_full",
                f"Full ({horizon.theta_full:g}) must lie above wilting "
                f"({horizon.theta_wilt:g}), both between 0 and 0.8 m3/m3.",
            )
        return horizon.theta_full, horizon.theta_wilt, "measured"
    if horizon.method is LimitMethod.BOOK:
        row = book_limits()[texture]
        return row.theta_full, row.theta_wilt, row.source
    curve = PowerCurve.through(sr33, FULL_TENSION_KPA, sr1500, max(sr33, 0.8))
    full = float(curve.theta_at(full_tension_kpa))
    return full, sr1500, "Saxton & Rawls 2006"


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
        Gravel scales every content by (1 - volume fraction).

    Raises
    ------
    HorizonProblem
        When the description can't be used.
    """
    if not 0 <= horizon.gravel <= MAX_GRAVEL_PERCENT:
        raise HorizonProblem(
            index, "gravel", f"Gravel is {horizon.gravel:g} %; give 0-90 % by volume."
        )
    if not 0 <= horizon.organic_matter <= 100:
        raise HorizonProblem(
            index,
            "organic_matter",
            f"Organic matter is {horizon.organic_matter:g} %; give 0-100 %.",
        )
    sand, clay, texture = _fractions(horizon, index)
    regression = saxton_rawls(sand, clay, horizon.organic_matter)
    full_tension = COARSE_FULL_TENSION_KPA if texture in COARSE_CLASSES else FULL_TENSION_KPA
    full, wilt, source = _fine_earth_limits(
        horizon,
        index,
        texture,
        full_tension,
        float(regression.theta_33),
        float(regression.theta_1500),
    )
    # Book and measured limits say nothing of saturation: keep the regression's pore space.
    sat = max(float(regression.theta_sat), full + 0.01)
    fine = 1 - horizon.gravel / 100
    return HorizonLimits(
        texture=texture,
        sand=sand,
        clay=clay,
        method=horizon.method,
        source=source,
        gravel=horizon.gravel / 100,
        theta_full=full * fine,
        theta_wilt=wilt * fine,
        theta_sat=sat * fine,
        full_tension_kpa=full_tension,
        ksat_mm_h=float(regression.ksat_mm_h),
        clamped=horizon.method is LimitMethod.REGRESSION
        and (horizon.organic_matter > MAX_ORGANIC_MATTER_PERCENT or clay > MAX_CLAY_PERCENT),
        curve=PowerCurve.through(full, full_tension, wilt, sat),
    )
