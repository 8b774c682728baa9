"""Bands of midday stem water potential in which a crop is kept, by product and phase."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib import resources

import numpy as np

from core.arrays import Floats
from core.crop.catalogue import STAGES, Crop
from core.sentence import Sentence, sentence

# No band of a person's own reaches lower: beyond it leaves are lost (common practice, no source)
# [MPa].
LOWEST_MPA = -2.0
NARROWEST_MPA = 0.1


class Product(StrEnum):
    """What the crop is grown for."""

    RED_WINE = "red_wine"
    WHITE_WINE = "white_wine"
    SPARKLING = "sparkling"
    TABLE_GRAPE = "table_grape"
    ALMOND = "almond"
    PRUNE = "prune"
    WALNUT = "walnut"


class LeafPhase(StrEnum):
    """Phases of a season between which the band changes."""

    TO_FRUIT_SET = "to_fruit_set"
    TO_VERAISON = "to_veraison"
    FRUIT_GROWTH = "fruit_growth"
    TO_HULL_SPLIT = "to_hull_split"
    HULL_SPLIT = "hull_split"
    NUT_SIZING = "nut_sizing"
    TO_HARVEST = "to_harvest"
    AFTER_HARVEST = "after_harvest"


class BandProblem(ValueError):
    """A band that can't be used; ``field`` is the phase to mend."""

    def __init__(self, field: str, message: Sentence) -> None:
        super().__init__(message)
        self.field = field
        self.message = message


@dataclass(frozen=True)
class Band:
    """Midday stem water potential between which the crop is kept in a phase [MPa].

    ends : where the phase ends, in stages of the crop's calendar [0-4]
    """

    phase: LeafPhase
    upper_mpa: float
    lower_mpa: float
    ends: float


@dataclass(frozen=True)
class RelationPrior:
    """What is thought of leaf and soil before any leaf was read, see `core.leaf.relation`.

    baseline : of the fully watered plant, its potential in air that is not dry [MPa] and what a
        kPa of vapour pressure deficit changes it by [MPa/kPa]; None where no source gives it
    """

    mean: tuple[float, ...]
    sd: tuple[float, ...]
    baseline: tuple[float, float] | None
    source: str


@dataclass(frozen=True)
class ProductBands:
    """The bands of a product in the order of the season."""

    product: Product
    name: str
    crops: frozenset[str]
    bands: tuple[Band, ...]
    prior: RelationPrior
    source: str


def _baseline(found: list[float] | None) -> tuple[float, float] | None:
    return (found[0], found[1]) if found else None


@cache
def products() -> Mapping[Product, ProductBands]:
    """All products with their bands, from ``bands.json``."""
    data = json.loads((resources.files("core.leaf") / "bands.json").read_text())
    priors = {
        key: RelationPrior(tuple(r["mean"]), tuple(r["sd"]), _baseline(r["baseline"]), r["source"])
        for key, r in data["relations"].items()
    }
    return {
        Product(key): ProductBands(
            product=Product(key),
            name=p["name"],
            crops=frozenset(p["crops"]),
            bands=tuple(
                Band(
                    LeafPhase(b["phase"]),
                    b["upper"],
                    b["lower"],
                    STAGES.index(b["to"][0]) + b["to"][1],
                )
                for b in p["phases"]
            ),
            prior=priors[p["relation"]],
            source=data["source"],
        )
        for key, p in data["products"].items()
    }


def baseline_mpa(product: Product, vpd_kpa: float | None) -> float | None:
    """Potential of a fully watered plant in such air [MPa]; None where no source gives it, or the
    air was not read."""
    line = products()[product].prior.baseline
    return None if line is None or vpd_kpa is None else line[0] + line[1] * vpd_kpa


def with_own(
    bands: tuple[Band, ...], own: Mapping[LeafPhase, tuple[float, float]]
) -> tuple[Band, ...]:
    """Bands with a person's own upper and lower edges in their place [MPa].

    Raises
    ------
    BandProblem
        Of a phase that the product does not have, edges in the wrong order or too near to each
        other, or outside what leaves are kept at.
    """
    known = {b.phase for b in bands}
    for phase, (upper, lower) in own.items():
        if phase not in known:
            raise BandProblem(phase, sentence("This product has no such phase."))
        if not LOWEST_MPA <= lower <= upper - NARROWEST_MPA <= -NARROWEST_MPA:
            raise BandProblem(
                phase,
                sentence(
                    "From {upper:g} to {lower:g} MPa is no band: both are at or below 0, the lower "
                    "edge at least {narrowest:g} MPa below the upper and not below {lowest:g} MPa.",
                    upper=upper,
                    lower=lower,
                    narrowest=NARROWEST_MPA,
                    lowest=LOWEST_MPA,
                ),
            )
    return tuple(Band(b.phase, *own[b.phase], b.ends) if b.phase in own else b for b in bands)


def band_index(bands: tuple[Band, ...], crop: Crop, book_day: Floats) -> np.ndarray:
    """Place of the band in force on days of the crop's own calendar; array of int, any shape."""
    ends = np.array([np.interp(b.ends, np.arange(5), crop.stage_ends) for b in bands])
    at: np.ndarray = np.searchsorted(ends, np.asarray(book_day, float), side="right")
    return np.minimum(at, len(bands) - 1)
