"""The crop catalogue: data in ``catalogue.json``, every value with its source."""

import json
from dataclasses import dataclass, replace
from functools import cache
from importlib import resources
from typing import Any

import numpy as np

from core.arrays import Floats
from core.crop.degree_days import DegreeDayMethod
from core.crop.reference import Surface, kc_factor
from core.sentence import Sentence, sentence

STAGES = ("initial", "development", "mid", "late")
STAGE_NAMES = dict(
    zip(STAGES, ("initial", "development", "mid season", "late season"), strict=True)
)


class CropProblem(ValueError):
    """A crop's values that can't be used; ``field`` is the value to mend."""

    def __init__(self, field: str, message: Sentence) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


@dataclass(frozen=True)
class CriticalWindow:
    """A stretch of the season and how much yield it loses to a share of missed water (Ky).

    start, end : place in the season, as stage number from 0 plus the share of that stage
    """

    name: str
    start: float
    end: float
    ky: float


@dataclass(frozen=True)
class SaltTolerance:
    """ECe that costs no yield [dS/m], and the loss per dS/m above it [percent]."""

    threshold_ds_m: float
    slope_percent: float


@dataclass(frozen=True)
class DegreeDayClock:
    """Warmth that each stage takes [degrees C day], with the method and its bounds."""

    method: DegreeDayMethod
    base_c: float
    upper_c: float | None
    stage_sums: tuple[float, float, float, float]


@dataclass(frozen=True)
class Canopy:
    """Height [m] and ground cover [fraction] of the orchard that the book's Kc stands for."""

    height_m: float
    cover: float


def scaled(kc: tuple[float, float, float], factor: float) -> tuple[float, float, float]:
    """Three coefficients times a factor."""
    first, mid, end = kc
    return first * factor, mid * factor, end * factor


@dataclass(frozen=True)
class CuttingCycle:
    """Growth after a cut: four stages [days], and Kc after the cut, at full growth and at the
    next; the basal ``kcb`` likewise, None where the table has no row."""

    days: tuple[int, int, int, int]
    kc: tuple[float, float, float]
    kcb: tuple[float, float, float] | None = None

    def times(self, factor: float) -> "CuttingCycle":
        """The cycle on another reference surface."""
        return replace(self, kc=scaled(self.kc, factor), kcb=self.kcb and scaled(self.kcb, factor))


@dataclass(frozen=True)
class Crop:
    """A crop's values.

    stage_days : initial, development, mid, late [days]
    kc : initial, mid, end [-], on the reference ``surface``
    kcb : basal, the same three [-]; None where the table has no row for the crop
    height_m : at full growth [m]
    root_initial_mm, root_schedule_mm, root_deep_mm [mm]
    p : allowable depletion at 5 mm/day [-]
    tension_kpa : root-zone tension at which to water [kPa]; None where nobody gives one
    ripening_kpa : the same at the end of ripening, towards which it eases over the late stage;
        None where it stays
    ky_season : yield response over the whole season [-]
    sources : table by value name
    """

    key: str
    name: str
    group: str
    stage_days: tuple[int, int, int, int]
    calendar: str
    kc: tuple[float, float, float]
    surface: Surface
    height_m: float
    root_initial_mm: float
    root_schedule_mm: float
    root_deep_mm: float
    p: float
    perennial: bool
    sources: dict[str, str]
    kcb: tuple[float, float, float] | None = None
    tension_kpa: float | None = None
    ripening_kpa: float | None = None
    ky_season: float | None = None
    windows: tuple[CriticalWindow, ...] = ()
    salt: SaltTolerance | None = None
    degree_days: DegreeDayClock | None = None
    canopy: Canopy | None = None
    cutting: CuttingCycle | None = None

    @property
    def stage_ends(self) -> Floats:
        """Days of the calendar at which its stages begin and end; array, shape (5,)."""
        return np.concatenate([[0.0], np.cumsum(self.stage_days)])

    def kc_on(self, book_day: Floats) -> Floats:
        """Kc on days of the calendar (FAO-56, fig. 34); beyond it that of its last day."""
        k1, k2, k3 = self.kc
        out: Floats = np.interp(book_day, self.stage_ends, [k1, k1, k2, k2, k3])
        return out

    def on(self, surface: Surface, alfalfa_ratio: float | None) -> "Crop":
        """The crop with its Kc turned to another reference surface, its source saying so.

        Raises
        ------
        SurfacesDiffer
            When the surface is another and no ratio is stated.
        """
        factor = kc_factor(self.surface, surface, alfalfa_ratio)
        if factor == 1.0 and self.surface is surface:
            return self
        source = f"{self.sources['kc']}; {self.surface} Kc × {factor:.3g} for {surface} ET"
        return replace(
            self,
            kc=scaled(self.kc, factor),
            kcb=self.kcb and scaled(self.kcb, factor),
            surface=surface,
            cutting=self.cutting and self.cutting.times(factor),
            sources={**self.sources, "kc": source},
        )


def check_crop(crop: Crop) -> Crop:
    """The crop itself, or a refusal of the first value that can't be.

    Raises
    ------
    CropProblem
    """
    if not all(0 < d <= 366 for d in crop.stage_days) or sum(crop.stage_days) > 400:
        raise CropProblem(
            "stage_days", sentence("Each stage takes 1-366 days, and the season no more than 400.")
        )
    if not all(0 < k <= 2 for k in crop.kc):
        raise CropProblem("kc", sentence("A Kc must be above 0 and at most 2."))
    if crop.kcb and not all(0 < b <= k for b, k in zip(crop.kcb, crop.kc, strict=True)):
        raise CropProblem("kcb", sentence("A basal Kcb must be above 0 and not above its Kc."))
    if not 0.05 <= crop.height_m <= 30:
        raise CropProblem("height_m", sentence("The crop height must be between 0.05 and 30 m."))
    if not 0 < crop.root_initial_mm <= crop.root_schedule_mm <= crop.root_deep_mm <= 5000:
        raise CropProblem(
            "root", sentence("Root depths must rise from initial to deep, at most 5 m.")
        )
    if not 0.1 <= crop.p <= 0.8:
        raise CropProblem("p", sentence("p is {p:g}; it must be between 0.1 and 0.8.", p=crop.p))
    if crop.tension_kpa is not None and not 5 <= crop.tension_kpa <= 500:
        raise CropProblem(
            "tension_kpa", sentence("The tension limit must be between 5 and 500 kPa.")
        )
    if crop.ripening_kpa is not None and not (crop.tension_kpa or 0) <= crop.ripening_kpa <= 1500:
        raise CropProblem(
            "tension_kpa", sentence("The limit in ripening must be between it and 1500 kPa.")
        )
    if crop.salt and not (
        0 <= crop.salt.threshold_ds_m <= 30 and 0 < crop.salt.slope_percent <= 100
    ):
        raise CropProblem(
            "salt", sentence("Salt tolerance: threshold 0-30 dS/m, slope above 0 to 100 %.")
        )
    clock = crop.degree_days
    if clock and (
        any(s <= 0 for s in clock.stage_sums)
        or (clock.upper_c is not None and clock.upper_c <= clock.base_c)
    ):
        raise CropProblem(
            "degree_days",
            sentence("Degree-days of each stage lie above 0, the upper bound above the base."),
        )
    return crop


def _place(where: list[Any]) -> float:
    stage, share = where
    return STAGES.index(stage) + float(share)


def _read(key: str, row: dict[str, Any]) -> Crop:
    days, kc, root = row["stage_days"], row["kc"], row["root_depth_m"]
    optional = ("kcb", "tension_kpa", "ky", "salt", "degree_days", "canopy", "cutting")
    sources = {
        "stage_days": days["source"],
        "kc": kc["source"],
        "height_m": row["height_m"]["source"],
        "root_depth": root["source"],
        "p": row["p"]["source"],
        **{name: row[name]["source"] for name in optional if name in row},
    }
    ky, salt, clock = row.get("ky"), row.get("salt"), row.get("degree_days")
    canopy, cutting = row.get("canopy"), row.get("cutting")
    made = Crop(
        key=key,
        name=row["name"],
        group=row["group"],
        stage_days=tuple(days[s] for s in STAGES),
        calendar=days["calendar"],
        kc=(kc["initial"], kc["mid"], kc["end"]),
        surface=Surface(kc["surface"]),
        height_m=row["height_m"]["value"],
        root_initial_mm=root["initial"] * 1000,
        root_schedule_mm=root["schedule"] * 1000,
        root_deep_mm=root["deep"] * 1000,
        p=row["p"]["value"],
        perennial=row["perennial"],
        sources=sources,
        kcb=tuple(row["kcb"][k] for k in ("initial", "mid", "end")) if "kcb" in row else None,
        tension_kpa=row["tension_kpa"]["value"] if "tension_kpa" in row else None,
        ripening_kpa=row.get("tension_kpa", {}).get("ripening"),
        ky_season=ky["season"] if ky else None,
        windows=tuple(
            CriticalWindow(w["name"], _place(w["from"]), _place(w["to"]), w["ky"])
            for w in (ky["windows"] if ky else ())
        ),
        salt=SaltTolerance(salt["threshold_ds_m"], salt["slope_percent"]) if salt else None,
        degree_days=DegreeDayClock(
            DegreeDayMethod(clock["method"]),
            clock["base_c"],
            clock["upper_c"],
            tuple(clock["stage_sums"]),
        )
        if clock
        else None,
        canopy=Canopy(canopy["height_m"], canopy["cover"]) if canopy else None,
        cutting=CuttingCycle(
            tuple(cutting["days"]),
            tuple(cutting["kc"]),
            tuple(cutting["kcb"]) if "kcb" in cutting else None,
        )
        if cutting
        else None,
    )
    return check_crop(made)


@cache
def crops() -> dict[str, Crop]:
    """All crops of the book by key, in the catalogue's order."""
    text = resources.files("core.crop").joinpath("catalogue.json").read_text("utf-8")
    return {key: _read(key, row) for key, row in json.loads(text)["crops"].items()}


def crop(key: str) -> Crop:
    """One crop.

    Raises
    ------
    KeyError
        With the known keys, when the catalogue has no such crop.
    """
    try:
        return crops()[key]
    except KeyError:
        raise KeyError(f"no crop {key!r} in the catalogue; known: {', '.join(crops())}") from None
