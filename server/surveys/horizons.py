"""Horizons of a surveyed soil from the attributes of its area."""

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from core.sentence import Sentence, sentence
from core.soil.texture import TextureClass
from core.soil.texture_names import texture_named
from server.base.errors import RequestError
from server.files.table_file import MISSING, cell_number
from server.soils.convert import typed_profile
from server.soils.laboratory_file import CARBON_TO_MATTER
from server.soils.schemas import HorizonIn
from server.surveys.attributes import (
    Attribute,
    Figure,
    Understood,
    horizons_listed,
    understood,
)

_FRACTIONS = (Figure.SAND, Figure.SILT, Figure.CLAY)
_BOUNDS = frozenset({Figure.TOP, Figure.BOTTOM, Figure.THICKNESS})


@dataclass(frozen=True)
class SurveyedSoil:
    """What a survey tells of one area's soil.

    Parameters
    ----------
    horizons : list of HorizonIn
        From the surface down; empty where no texture is told.
    depth_assumed : bool
        Whether the survey does not tell how deep the last one reaches.
    problem : Sentence or None
        Why there are no horizons.
    """

    horizons: list[HorizonIn]
    depth_assumed: bool = False
    problem: Sentence | None = None


@dataclass
class _Part:
    """A horizon as far as it is told; depths in mm."""

    values: dict[Figure, float] = field(default_factory=dict)
    texture: TextureClass | None = None
    unread: str = ""
    top_mm: float | None = None
    bottom_mm: float | None = None
    thick_mm: float | None = None

    @property
    def has_texture(self) -> bool:
        return self.texture is not None or sum(f in self.values for f in _FRACTIONS) >= 2


def percent_per_unit(rows: Sequence[Mapping[str, Any]], known: Understood) -> float:
    """What one unit of the survey's sand, silt and clay is in percent: they may be shares of one,
    percent or grams in a kilogram, told by the largest."""
    found = [
        value
        for row in rows
        for part in _rows_of(row, known)
        for attribute, cell in part
        if attribute.figure in _FRACTIONS and (value := _number(cell)) is not None
    ]
    largest = max(found, default=50.0)
    return 100.0 if largest <= 1 else 0.1 if largest > 100 else 1.0


def surveyed_soil(
    row: Mapping[str, Any], known: Understood, percent: float, depth_mm: float
) -> SurveyedSoil:
    """The horizons of one area.

    Parameters
    ----------
    percent : float
        See `percent_per_unit`.
    depth_mm : float [mm]
        How deep the last horizon reaches where the survey does not say.
    """
    parts = [p for p in _parts(row, known, percent) if p.has_texture or p.unread]
    unread = next((p.unread for p in parts if not p.has_texture), None)
    if unread:
        return SurveyedSoil(
            [], problem=sentence("“{texture}” is no texture that is known here.", texture=unread)
        )
    if not parts:
        return SurveyedSoil([], problem=sentence("The survey tells no texture of it."))
    horizons: list[HorizonIn] = []
    at, assumed = 0.0, False
    for number, part in enumerate(parts):
        top = at if part.top_mm is None else part.top_mm
        bottom = part.bottom_mm
        if bottom is None and part.thick_mm is not None:
            bottom = top + part.thick_mm
        if bottom is None and number + 1 < len(parts):
            bottom = parts[number + 1].top_mm
            if bottom is None:
                return SurveyedSoil(
                    [],
                    problem=sentence(
                        "The survey does not tell where horizon {number} ends.", number=number + 1
                    ),
                )
        if bottom is None:
            bottom, assumed = max(depth_mm, top + 100.0), True
        horizons.append(_horizon(part, top, bottom))
        at = bottom
    try:
        typed_profile(horizons)
    except RequestError as refused:
        return SurveyedSoil([], problem=_first(refused))
    return SurveyedSoil(horizons, assumed)


def _first(refused: RequestError) -> Sentence:
    return Sentence("{problem}", {"problem": refused.problems[0].message})


def _horizon(part: _Part, top: float, bottom: float) -> HorizonIn:
    values = part.values
    organic = values.get(Figure.ORGANIC_MATTER)
    if organic is None and Figure.ORGANIC_CARBON in values:
        organic = values[Figure.ORGANIC_CARBON] * CARBON_TO_MATTER
    by_size = sum(f in values for f in _FRACTIONS) >= 2
    return HorizonIn(
        top_mm=top,
        bottom_mm=bottom,
        sand=values.get(Figure.SAND) if by_size else None,
        silt=values.get(Figure.SILT) if by_size else None,
        clay=values.get(Figure.CLAY) if by_size else None,
        texture=None if by_size else part.texture,
        organic_matter=1.5 if organic is None else round(organic, 3),
        gravel=values.get(Figure.GRAVEL, 0.0),
        bulk_density=values.get(Figure.BULK_DENSITY),
        ece=values.get(Figure.ECE),
        note="",
    )


def _number(cell: Any) -> float | None:
    if isinstance(cell, bool) or cell is None:
        return None
    if isinstance(cell, int | float):
        return None if not math.isfinite(cell) or cell <= -999 else float(cell)
    text = str(cell).strip()
    if text.lower() in MISSING:
        return None
    return cell_number(text, decimal_comma="," in text)


Cells = list[tuple[Attribute, Any]]


def _rows_of(row: Mapping[str, Any], known: Understood) -> list[Cells]:
    """The cells of each horizon in a list of them, or of all together."""
    listed = horizons_listed(row)
    if listed is None:
        return [[(a, row.get(a.name)) for a in known.figures]]
    return [[(a, h.get(a.name)) for a in understood(h).figures] for h in listed]


def _parts(row: Mapping[str, Any], known: Understood, percent: float) -> list[_Part]:
    listed = horizons_listed(row)
    if listed is not None:
        return [_part(cells, percent) for cells in _rows_of(row, known)]
    (cells,) = _rows_of(row, known)
    groups: dict[tuple[float, float], Cells] = {}
    for attribute, cell in cells:
        by_name = attribute.horizon == 0 and attribute.top_mm is not None
        key = (attribute.top_mm or 0.0, 1.0) if by_name else (float(attribute.horizon), 0.0)
        groups.setdefault(key, []).append((attribute, cell))
    whole = groups.pop((0.0, 0.0), [])
    if not groups:
        return [_part(whole, percent)]
    parts = [_part(groups[key], percent) for key in sorted(groups)]
    return _down_to(parts, _part(whole, percent).bottom_mm)


def _down_to(parts: list[_Part], depth_mm: float | None) -> list[_Part]:
    """A depth of the whole soil is where its last horizon ends."""
    told = [p for p in parts if p.has_texture]
    if told and told[-1].bottom_mm is None and told[-1].thick_mm is None:
        told[-1].bottom_mm = depth_mm
    return parts


def _part(cells: Iterable[tuple[Attribute, Any]], percent: float) -> _Part:
    part = _Part()
    for attribute, cell in cells:
        if attribute.figure is Figure.TEXTURE:
            text = "" if cell is None else str(cell).strip()
            if text.lower() not in MISSING:
                part.texture = texture_named(text)
                part.unread = "" if part.texture else text[:60]
        elif (value := _number(cell)) is not None:
            if attribute.figure in _BOUNDS:
                _bound(part, attribute.figure, value * attribute.size_mm)
            else:
                size = percent if attribute.figure in _FRACTIONS else 1.0
                part.values[attribute.figure] = round(value * size, 3)
        if attribute.top_mm is not None and part.top_mm is None:
            part.top_mm = attribute.top_mm
        if attribute.bottom_mm is not None and part.bottom_mm is None:
            part.bottom_mm = attribute.bottom_mm
    return part


def _bound(part: _Part, figure: Figure, mm: float) -> None:
    if figure is Figure.TOP:
        part.top_mm = mm
    elif figure is Figure.BOTTOM:
        part.bottom_mm = mm
    else:
        part.thick_mm = mm
