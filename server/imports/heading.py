"""What the heading of a column says: a depth, a unit, and words that may name an instrument."""

import re
from dataclasses import dataclass

from core.instrument.kinds import Quantity
from core.instrument.reading_units import ReadingUnit
from core.units import MM_PER_FOOT, MM_PER_INCH

_DEPTH = re.compile(
    r"(?<![\d.,])(\d+(?:[.,]\d+)?)\s*(mm|cm|m|inches|inch|in|\"|feet|foot|ft|')(?![a-z0-9/³^])",
    re.I,
)
_DEPTH_MM = {
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    "in": MM_PER_INCH,
    "inch": MM_PER_INCH,
    "inches": MM_PER_INCH,
    '"': MM_PER_INCH,
    "ft": MM_PER_FOOT,
    "foot": MM_PER_FOOT,
    "feet": MM_PER_FOOT,
    "'": MM_PER_FOOT,
}
# Longer spellings first: the first that is found counts.
_UNITS: tuple[tuple[str, ReadingUnit], ...] = (
    (r"% ?(?:of )?available|% ?paw|% ?aw\b", ReadingUnit.PERCENT_AVAILABLE),
    (r"mm ?(?:/|per) ?100 ?mm", ReadingUnit.MM_PER_100MM),
    (
        r"c?m[3³] ?/ ?c?m[3³]|c?m\^3 ?/ ?c?m\^3|c?m3 ?c?m-3|\bv/v\b|\bfraction\b",
        ReadingUnit.FRACTION,
    ),
    (r"%|\bvol\.? ?%|\bpct\b|\bpercent\b", ReadingUnit.PERCENT),
    (r"\bkpa\b", ReadingUnit.KPA),
    (r"\bcbar\b|\bcb\b|\bcentibars?\b", ReadingUnit.CENTIBAR),
    (r"\bmpa\b", ReadingUnit.MEGAPASCAL),
    (r"\bbar\b", ReadingUnit.BAR),
    (r"\bk ?ohms?\b|kω", ReadingUnit.KILO_OHM),
    (r"°c|\bdeg\.? ?c\b|\bcelsius\b|[(\[]c[)\]]", ReadingUnit.CELSIUS),
    (r"°f|\bdeg\.? ?f\b|\bfahrenheit\b|[(\[]f[)\]]", ReadingUnit.FAHRENHEIT),
    (r"\bcounts?\b|\braw\b", ReadingUnit.COUNTS),
    (r"\bpermittivity\b|\bepsilon\b|\bdielectric\b", ReadingUnit.PERMITTIVITY),
    (r"\bm[3³]", ReadingUnit.CUBIC_METRE),
    (r"\bgal(?:lons?)?\b", ReadingUnit.US_GALLON),
    (r"\bmm\b", ReadingUnit.MILLIMETRE),
    (r"[(\[]cm[)\]]", ReadingUnit.CENTIMETRE),
    (r"[(\[]in[)\]]", ReadingUnit.INCH),
)
_QUANTITIES: tuple[tuple[str, Quantity], ...] = (
    (r"temp", Quantity.TEMPERATURE),
    (r"tension|suction|matric|\bswt\b|tensio", Quantity.TENSION),
    (r"moist|\bvwc\b|theta|water content|\bswc\b", Quantity.THETA),
)


@dataclass(frozen=True)
class Heading:
    """``words`` are what is left in lower case; None is not said."""

    text: str
    depth_mm: float | None
    unit: ReadingUnit | None
    quantity: Quantity | None
    words: frozenset[str]


def words(text: str) -> frozenset[str]:
    """Words of a name, in lower case."""
    return frozenset(re.findall(r"[^\W_]+", text.lower()))


def read_heading(text: str) -> Heading:
    """What a heading says."""
    spread = text.replace("_", " ")
    depth = None
    match = _DEPTH.search(spread)
    if match is not None:
        depth = round(float(match[1].replace(",", ".")) * _DEPTH_MM[match[2].lower()], 1)
        spread = f"{spread[: match.start()]} {spread[match.end() :]}"
    low = spread.lower()
    unit = next((u for pattern, u in _UNITS if re.search(pattern, low)), None)
    quantity = next((q for pattern, q in _QUANTITIES if re.search(pattern, low)), None)
    return Heading(text, depth, unit, quantity, words(text))
