"""One soil horizon as a person describes it, checked."""

from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from core.sentence import Sentence, outside, sentence
from core.soil.texture import (
    CLASS_CENTRES,
    SUM_TOLERANCE_PERCENT,
    TextureClass,
    texture_class,
)

MAX_GRAVEL_PERCENT = 90.0
MAX_THETA = 0.9
DENSITY_RANGE = (0.2, 2.2)
FULL_TENSION_RANGE = (5.0, 50.0)
MAX_ECE_DS_M = 100.0
# Coarse soils have drained by about 10 kPa, the others by about 33 (common practice, no source).
COARSE_FULL_TENSION_KPA = 10.0
FULL_TENSION_KPA = 33.0
COARSE_CLASSES = frozenset({TextureClass.SAND, TextureClass.LOAMY_SAND})


class LimitMethod(StrEnum):
    """Where a horizon's full and wilting points come from."""

    REGRESSION = "regression"
    CLASS_MEANS = "class means"
    ROSETTA = "rosetta"
    BOOK = "book"
    MEASURED = "measured"
    FITTED = "fitted"
    LEARNED = "learned"


class CurveShape(StrEnum):
    """Which retention curve turns tension into water between and beyond the limits."""

    POWER = "power"
    CLASS_MEANS = "class means"
    ROSETTA = "rosetta"
    FITTED = "fitted"


class HorizonProblem(ValueError):
    """A horizon that can't be used.

    ``index`` is its place in the profile from 0, ``field`` the input to mend; the message
    says what is wrong and what to do.
    """

    def __init__(self, index: int, field: str, message: Sentence) -> None:
        super().__init__(message)
        self.index = index
        self.field = field
        self.message = message


@dataclass(frozen=True)
class Horizon:
    """A horizon as entered.

    Either ``sand``/``silt``/``clay`` [percent by weight of the fine earth] or ``texture``.
    ``organic_matter`` [percent by weight], ``gravel`` [percent by volume], ``bulk_density``
    [g/cm3 of the fine earth], ``ece`` [dS/m of the saturation extract], depths [mm].
    ``points`` are measured pairs of tension [kPa] and content [m3/m3 of the fine earth];
    ``theta_full``/``theta_wilt`` [the same] are limits learned in the field.
    ``full_tension_kpa`` overrules what the texture says full is; ``curve`` the retention
    curve that goes with the method. Roots end at the top of a horizon that ``stops_roots``.
    """

    top_mm: float
    bottom_mm: float
    sand: float | None = None
    silt: float | None = None
    clay: float | None = None
    texture: TextureClass | None = None
    organic_matter: float = 1.5
    gravel: float = 0.0
    bulk_density: float | None = None
    ece: float | None = None
    stops_roots: bool = False
    method: LimitMethod = LimitMethod.REGRESSION
    curve: CurveShape | None = None
    full_tension_kpa: float | None = None
    points: tuple[tuple[float, float], ...] = ()
    theta_full: float | None = None
    theta_wilt: float | None = None


@dataclass(frozen=True)
class FineEarth:
    """Texture of a horizon, checked: sand and clay [percent by weight] and the class."""

    sand: float
    clay: float
    texture: TextureClass


def fine_earth(horizon: Horizon, index: int = 0) -> FineEarth:
    """Sand, clay and class of a horizon, from percentages or from the named class.

    Raises
    ------
    HorizonProblem
        When nothing or too little is given, or the fractions do not add to 100.
    """
    given = [x for x in (horizon.sand, horizon.silt, horizon.clay) if x is not None]
    if not given:
        if horizon.texture is None:
            raise HorizonProblem(
                index, "texture", sentence("Choose a texture class, or enter sand, silt and clay.")
            )
        sand, clay = CLASS_CENTRES[horizon.texture]
        return FineEarth(sand, clay, horizon.texture)
    if len(given) < 2:
        raise HorizonProblem(
            index, "sand", sentence("Enter at least two of sand, silt and clay; the third follows.")
        )
    for name in ("sand", "silt", "clay"):
        value = getattr(horizon, name)
        if value is not None and not 0 <= value <= 100:
            raise HorizonProblem(
                index,
                name,
                sentence("{name} is {value:g} %; it must lie in 0-100 %.", name=name, value=value),
            )
    sand = horizon.sand if horizon.sand is not None else 100 - sum(given)
    clay = horizon.clay if horizon.clay is not None else 100 - sum(given)
    silt = horizon.silt if horizon.silt is not None else 100 - sum(given)
    total = sand + silt + clay
    if abs(total - 100) > SUM_TOLERANCE_PERCENT or min(sand, silt, clay) < 0:
        shown = sum(given) if len(given) < 3 else total
        raise HorizonProblem(
            index,
            "sand",
            sentence(
                "Sand, silt and clay add to {shown:g} %; they must add to 100 %. Check the "
                "laboratory sheet and correct one of them.",
                shown=shown,
            ),
        )
    # Rounded sheets may add to a little over 100; silt takes up the rest.
    clay = min(clay, 100 - sand)
    texture = TextureClass(str(texture_class(sand, 100 - sand - clay, clay)))
    return FineEarth(sand, clay, texture)


def full_tension(horizon: Horizon, texture: TextureClass) -> float:
    """Tension at the full point: the person's, or what the texture suggests [kPa]."""
    if horizon.full_tension_kpa is not None:
        return horizon.full_tension_kpa
    return COARSE_FULL_TENSION_KPA if texture in COARSE_CLASSES else FULL_TENSION_KPA


def _require(index: int, field: str, value: float | None, low: float, high: float, of: str) -> None:
    if value is not None and not low <= value <= high:
        raise HorizonProblem(index, field, outside(of, value, low, high))


def check_horizon(horizon: Horizon, index: int = 0) -> None:
    """Refuse a description with an impossible figure.

    Raises
    ------
    HorizonProblem
    """
    _require(index, "gravel", horizon.gravel, 0, MAX_GRAVEL_PERCENT, "Gravel, % by volume,")
    _require(index, "organic_matter", horizon.organic_matter, 0, 100, "Organic matter, %,")
    _require(index, "bulk_density", horizon.bulk_density, *DENSITY_RANGE, "Bulk density, g/cm3,")
    _require(index, "ece", horizon.ece, 0, MAX_ECE_DS_M, "Salinity ECe, dS/m,")
    _require(
        index, "full_tension_kpa", horizon.full_tension_kpa, *FULL_TENSION_RANGE, "Tension at full"
    )
    points = sorted(horizon.points)
    for tension, theta in points:
        if not 0 <= tension <= 1e6 or not 0 < theta < MAX_THETA:
            raise HorizonProblem(
                index,
                "points",
                sentence(
                    "A point says {theta:g} m3/m3 at {tension:g} kPa; contents lie between 0 and "
                    "{max_theta:g}, tensions at or above 0.",
                    theta=theta,
                    tension=tension,
                    max_theta=MAX_THETA,
                ),
            )
    for (t1, wet), (t2, dry) in pairwise(points):
        if t2 > t1 and dry > wet:
            raise HorizonProblem(
                index,
                "points",
                sentence(
                    "The soil holds {wet:g} at {t1:g} kPa but {dry:g} at {t2:g} kPa; a drier soil "
                    "can't hold more. Swap or correct them.",
                    wet=wet,
                    t1=t1,
                    dry=dry,
                    t2=t2,
                ),
            )
        if t2 == t1:
            raise HorizonProblem(
                index, "points", sentence("Two points at {tension:g} kPa; keep one.", tension=t1)
            )
