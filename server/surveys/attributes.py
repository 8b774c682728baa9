"""Which attribute of a soil survey is what: by its name, in any order, for each horizon."""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from types import MappingProxyType
from typing import Any

# Bounds of an unnumbered topsoil [mm]; common practice, no source.
TOPSOIL_MM = 300.0


class Figure(StrEnum):
    """What a survey tells of a horizon."""

    TOP = "top"
    BOTTOM = "bottom"
    THICKNESS = "thickness"
    TEXTURE = "texture"
    SAND = "sand"
    SILT = "silt"
    CLAY = "clay"
    ORGANIC_MATTER = "organic matter"
    ORGANIC_CARBON = "organic carbon"
    GRAVEL = "gravel"
    BULK_DENSITY = "bulk density"
    ECE = "ece"


_NAMES: Mapping[Figure, str] = MappingProxyType(
    {
        Figure.THICKNESS: r"thick(ness)?|thk|espesor|epaisseur|dicke|maechtigkeit",
        Figure.TEXTURE: r"text?(ure)?( ?(class|cls|cl))?|txt|textura|bodenart|klass",
        Figure.SAND: r"(total )?sand( total)?|snd|sable|arena",
        Figure.SILT: r"(total )?silt( total)?|slt|limon|limo|schluff",
        Figure.CLAY: r"(total )?clay( total)?|cly|argile|arcilla|ton",
        Figure.ORGANIC_MATTER: r"om|organic matter|org mat(ter)?|humus|mo|materia organica",
        Figure.ORGANIC_CARBON: r"oc|soc|toc|org(anic)? c(arbon)?|carbon",
        Figure.GRAVEL: r"gravel|stones?|stoniness|coarse( frag(ments)?)?|rock( frag(ments)?)?|cf|"
        r"skelett?|pedregosidad",
        Figure.BULK_DENSITY: r"bd|bulk dens(ity)?|dens(ity)?|db|densidad",
        Figure.ECE: r"ece|ec ?e|ec|salinity|salinidad",
        Figure.TOP: r"top|from|upper|desde|von|start|top depth|depth top|depth from|dep top",
        Figure.BOTTOM: r"bot(tom)?|to|lower|hasta|bis|end|depth|bottom depth|depth bot(tom)?|"
        r"depth to|dep bot|prof(undidad)?|tiefe",
    }
)
_SOIL_NAMES = (
    r"soil ?name|soil ?series|soil ?type|map ?unit ?name|mu ?name",
    r"soil|series|suelo|sol|boden(typ|name)?",
    r"map ?unit|mu ?sym(bol)?|unit",
    r"name|nombre|nom",
    r"symbol|label|code|class|type",
)
_UNIT_MM: Mapping[str, float] = MappingProxyType(
    {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "inch": 25.4, "ft": 304.8}
)
CM = 10.0
# Words of a heading that say of which part of the soil it is.
_PARTS: tuple[tuple[str, int], ...] = (
    (r"top ?soil|surface|ober ?boden", 1),
    (r"sub ?soil|subsurface|unter ?boden", 2),
)


@dataclass(frozen=True)
class Attribute:
    """An attribute understood.

    Parameters
    ----------
    horizon : int
        Its number from the top, from 1; 0 where the name does not say.
    top_mm, bottom_mm : float or None [mm]
        Where the name itself gives the bounds.
    size_mm : float
        Millimetres in one of its units, for a depth.
    """

    name: str
    figure: Figure
    horizon: int = 0
    top_mm: float | None = None
    bottom_mm: float | None = None
    size_mm: float = CM


@dataclass(frozen=True)
class Understood:
    """The attributes of a survey: those of horizons, those that may name the soil, the others."""

    figures: tuple[Attribute, ...]
    names: tuple[str, ...]
    others: tuple[str, ...] = field(default=())


def understood(attributes: Iterable[str]) -> Understood:
    """Sort the attributes of a survey by what they hold."""
    figures: list[Attribute] = []
    left: list[str] = []
    for name in attributes:
        found = _attribute(name)
        if found is None:
            left.append(name)
        else:
            figures.append(found)
    placed = sorted((p, i, n) for i, n in enumerate(left) if (p := _place(n)) is not None)
    names = tuple(n for _, _, n in placed)
    return Understood(tuple(figures), names, tuple(n for n in left if n not in names))


def _place(name: str) -> int | None:
    plain = _plain(name)
    return next((i for i, p in enumerate(_SOIL_NAMES) if re.fullmatch(p, plain)), None)


def _plain(name: str) -> str:
    """Small letters, words apart: `ClayPct_H2` is `clay pct h 2`."""
    apart = re.sub(r"(?<=[a-zäöü])(?=[A-Z])", " ", name)
    apart = re.sub(r"(?<=[a-zA-Zäöü])(?=\d)|(?<=\d)(?=[a-zA-Z])", " ", apart)
    return re.sub(r"[^a-z0-9äöü.%]+", " ", apart.lower()).strip()


def _attribute(name: str) -> Attribute | None:
    words = _plain(name)
    part = 0
    for pattern, number in _PARTS:
        without = re.sub(rf"\b({pattern})\b", " ", words)
        if without != words:
            words, part = without.strip(), number
    words = re.sub(r"\b(pct|percent|perc|mean|avg|r|rep|class)\b|%", " ", words)
    words = re.sub(r"\s+", " ", words).strip()
    bounds = re.search(
        r"\b(\d+(?:\.\d+)?) (?:to )?(\d+(?:\.\d+)?)(?: (mm|cm|m|inch|in|ft))?\b", words
    )
    if bounds and float(bounds.group(1)) < float(bounds.group(2)):
        rest = f"{words[: bounds.start()]} {words[bounds.end() :]}".strip()
        figure = _figure(rest)
        size = _UNIT_MM[bounds.group(3) or "cm"]
        top, bottom = float(bounds.group(1)) * size, float(bounds.group(2)) * size
        return None if figure is None else Attribute(name, figure, 0, top, bottom)
    unit = re.search(r" (mm|cm|m|inch|in|ft)$", words)
    size = _UNIT_MM[unit.group(1)] if unit else CM
    words = words[: unit.start()] if unit else words
    words = re.sub(r"\b(h|hz|hor|horizon|layer|lay|lyr)\b", " ", words)
    numbered = re.search(r"\b(\d{1,2})\b", words)
    words = re.sub(r"\s+", " ", re.sub(r"\b\d{1,2}\b", " ", words)).strip()
    figure = _figure(words)
    if figure is None:
        return None
    horizon = int(numbered.group(1)) if numbered else part
    if part and not numbered:
        top, bottom_or_none = (0.0, TOPSOIL_MM) if part == 1 else (TOPSOIL_MM, None)
        return Attribute(name, figure, horizon, top, bottom_or_none, size)
    return Attribute(name, figure, horizon, size_mm=size)


def _figure(words: str) -> Figure | None:
    plain = words.strip()
    return next((f for f, p in _NAMES.items() if re.fullmatch(p, plain)), None)


def horizons_listed(properties: Mapping[str, Any]) -> list[Mapping[str, Any]] | None:
    """A list of horizons among the properties of a GeoJSON feature; None where there is none."""
    for value in properties.values():
        if isinstance(value, list) and value and all(isinstance(v, dict) for v in value):
            return value
    return None
