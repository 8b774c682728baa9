"""A laboratory's sheet: one row per layer of a soil, columns in any order."""

import re
from dataclasses import dataclass, field

from core.sentence import sentence
from core.soil.horizon import LimitMethod
from core.soil.retention import WILTING_TENSION_KPA
from core.soil.saxton_rawls import PARTICLE_DENSITY
from server.files.table_file import (
    MISSING,
    FileProblems,
    cell_number,
    delimiter_of,
    read_rows,
    read_text,
)
from server.soils.schemas import HorizonIn, Point

# What a column may be called; the first word that fits names it.
_NAMES: dict[str, tuple[str, ...]] = {
    "soil": ("soil", "profile", "site", "sample", "name", "field"),
    "top": ("top", "from", "upper"),
    "bottom": ("bottom", "to", "lower"),
    "sand": ("sand",),
    "silt": ("silt",),
    "clay": ("clay",),
    "organic_matter": ("organic_matter", "organic matter", "om", "humus"),
    "organic_carbon": ("organic_carbon", "organic carbon", "oc", "toc"),
    "gravel": ("gravel", "stones", "coarse"),
    "bulk_density": ("bulk_density", "bulk density", "bd", "density"),
    "ece": ("ece", "ec_e", "salinity"),
    "note": ("note", "remark", "comment"),
}
_TENSION = re.compile(r"(?:theta|water|vwc|θ)\D*?(\d+(?:[.,]\d+)?)\s*kpa", re.I)
# Names of the form's fields where they are not those of the columns.
_FIELDS = {"top": "top_mm", "bottom": "bottom_mm"}
NEEDED = ("soil", "top", "bottom")
CARBON_TO_MATTER = 1.724  # van Bemmelen's factor, as laboratories use it
EXAMPLE = "soil,top cm,bottom cm,sand,silt,clay,om"


@dataclass
class SheetSoil:
    """One soil of a sheet; ``rows`` are the lines of its horizons, which are from the top down."""

    name: str
    rows: list[int] = field(default_factory=list)
    horizons: list[HorizonIn] = field(default_factory=list)

    @property
    def row(self) -> int:
        """The soil's first line."""
        return min(self.rows)


@dataclass(frozen=True)
class Sheet:
    """A sheet as understood: soils, and the columns used and not used.

    ``headings`` are the used columns' by what they hold, as the form names it.
    """

    soils: tuple[SheetSoil, ...]
    headings: dict[str, str]
    columns: tuple[str, ...]
    ignored: tuple[str, ...]


@dataclass(frozen=True)
class _Column:
    """What a column holds and what one of its units is in ours."""

    name: str
    size: float = 1.0
    tension_kpa: float | None = None


def _column(heading: str) -> _Column | None:
    text = heading.strip().lower()
    tension = _TENSION.search(text)
    if tension:
        percent = "%" in text or "percent" in text
        at = float(tension.group(1).replace(",", "."))
        return _Column("theta", 0.01 if percent else 1.0, at)
    plain = re.sub(r"[\(\[].*?[\)\]]|[%]", " ", text).strip()
    for name, words in _NAMES.items():
        if any(re.match(rf"{re.escape(w)}(\b|_)", plain) for w in words):
            if name in ("top", "bottom"):
                unit = re.search(r"(?<![a-z])(mm|cm|m|in)\b", text.replace("_", " "))
                size = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4}
                return _Column(name, size[unit.group(1)] if unit else 10.0)
            if name == "gravel" and re.search(r"weight|mass|\bw\b", text):
                return _Column("gravel_weight")
            return _Column(name)
    return None


def gravel_by_volume(percent_weight: float, bulk_density: float) -> float:
    """Gravel percent by volume from percent by weight.

    With a stone density of 2.65 and the fine earth's bulk density [g/cm3]
    (Saxton & Rawls 2006, eq. 19).
    """
    alpha, share = bulk_density / PARTICLE_DENSITY, percent_weight / 100
    return 100 * alpha * share / (1 - share * (1 - alpha))


def _horizon(values: dict[str, float], points: list[Point], note: str) -> HorizonIn:
    organic = values.get("organic_matter")
    if organic is None and "organic_carbon" in values:
        organic = values["organic_carbon"] * CARBON_TO_MATTER
    gravel = values.get("gravel", 0.0)
    if "gravel_weight" in values:
        gravel = gravel_by_volume(values["gravel_weight"], values.get("bulk_density", 1.4))
    measured = {p.tension_kpa for p in points}
    by_points = WILTING_TENSION_KPA in measured and measured & {10.0, 33.0}
    return HorizonIn(
        top_mm=values["top"],
        bottom_mm=values["bottom"],
        sand=values.get("sand"),
        silt=values.get("silt"),
        clay=values.get("clay"),
        organic_matter=round(organic, 3) if organic is not None else 1.5,
        gravel=round(gravel, 2),
        bulk_density=values.get("bulk_density"),
        ece=values.get("ece"),
        note=note[:200],
        points=points,
        method=LimitMethod.MEASURED if by_points else LimitMethod.REGRESSION,
        full_tension_kpa=min(measured & {10.0, 33.0}, key=lambda t: abs(t - 33))
        if by_points
        else None,
    )


def read_laboratory_file(data: bytes) -> Sheet:
    """A sheet as soils, or every problem in it.

    Raises
    ------
    RequestError
        With row, column and cure of each problem.
    """
    text = read_text(data)
    delimiter = delimiter_of(next(x for x in text.split("\n") if x.strip()), EXAMPLE)
    rows = read_rows(text, delimiter)
    problems = FileProblems()
    first, heading = rows[0]
    columns = [_column(h) for h in heading]
    known = {c.name for c in columns if c}
    headings = {c.name: h.strip() for h, c in zip(heading, columns, strict=True) if c}
    problems.headings = headings
    for name in NEEDED:
        if name not in known:
            problems.add(
                first,
                name,
                sentence(
                    "There is no column “{name}”; expected e.g. {example}.",
                    name=name,
                    example=EXAMPLE,
                ),
            )
    if not known & {"sand", "silt", "clay"}:
        problems.add(first, "sand", sentence("There are no columns of sand, silt and clay."))
    if problems.found:
        raise problems.refuse()
    soils: dict[str, SheetSoil] = {}
    for number, cells in rows[1:]:
        values: dict[str, float] = {}
        points: list[Point] = []
        name = note = ""
        for i, column in enumerate(columns):
            cell = cells[i].strip() if i < len(cells) else ""
            if column is None or cell.lower() in MISSING:
                continue
            if column.name == "soil":
                name = cell[:120]
            elif column.name == "note":
                note = cell
            else:
                value = cell_number(cell, decimal_comma=delimiter != ",")
                if value is None:
                    problems.add(
                        number,
                        heading[i].strip(),
                        sentence("'{cell}' is not a number.", cell=cell[:40]),
                    )
                elif column.tension_kpa is not None:
                    points.append(Point(tension_kpa=column.tension_kpa, theta=value * column.size))
                else:
                    values[column.name] = value * column.size
        missing = [n for n in ("top", "bottom") if n not in values]
        if not name or missing:
            problems.add(
                number, "soil" if not name else missing[0], sentence("This cell can't be empty.")
            )
            continue
        if not 0 <= values["top"] < values["bottom"] <= 5000:
            problems.add(
                number,
                "bottom",
                sentence("Depths must rise from top to bottom, within 5 m; check the unit."),
            )
            continue
        soil = soils.setdefault(name, SheetSoil(name))
        soil.rows.append(number)
        soil.horizons.append(_horizon(values, points, note))
    if problems.found:
        raise problems.refuse()
    for soil in soils.values():
        order = sorted(range(len(soil.rows)), key=lambda k: soil.horizons[k].top_mm)
        soil.horizons = [soil.horizons[k] for k in order]
        soil.rows = [soil.rows[k] for k in order]
    return Sheet(
        soils=tuple(soils.values()),
        headings={_FIELDS.get(n, n): h for n, h in headings.items()},
        columns=tuple(h.strip() for h, c in zip(heading, columns, strict=True) if c),
        ignored=tuple(h.strip() for h, c in zip(heading, columns, strict=True) if not c),
    )
