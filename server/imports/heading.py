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
# A layer's two ends, in centimetres where no unit is said: "10-20", "0-10 cm", "30–60cm".
_LAYER = re.compile(
    r"(?<![\d.,:/-])(\d{1,3}(?:[.,]\d+)?)\s*[-–]\s*(\d{1,3}(?:[.,]\d+)?)"
    r"\s*(mm|cm|m|inches|inch|in|\"|feet|foot|ft|')?(?![a-z0-9/³^:.-])",
    re.I,
)
# Numbered from the top: "SWC 3 1" is the third level, "SWC_1_3_1" the third of the first pit.
_LEVEL = re.compile(r"^(?:[a-z]+) (?:\d{1,2} (?=\d{1,2} \d{1,2}$))?(\d{1,2}) \d{1,2}$", re.I)
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
    (r"moist|vwc|theta|water content|swc|\bsm(?=\b|\d)", Quantity.THETA),
)


@dataclass(frozen=True)
class Heading:
    """``words`` are what is left in lower case; None is not said.

    depth_mm : of a sensor, or of the middle of the layer ``layer_mm``, top and bottom
    level : which one from the top, from 1, where levels are numbered and depths are not said
    """

    text: str
    depth_mm: float | None
    unit: ReadingUnit | None
    quantity: Quantity | None
    words: frozenset[str]
    layer_mm: tuple[float, float] | None = None
    level: int | None = None


def words(text: str) -> frozenset[str]:
    """Words of a name, in lower case."""
    return frozenset(re.findall(r"[^\W_]+", text.lower()))


def read_heading(text: str) -> Heading:
    """What a heading says."""
    spread = text.replace("_", " ")
    depth = layer = None
    match = _layer(spread)
    if match is not None:
        scale = _DEPTH_MM[(match[3] or "cm").lower()]
        layer = (round(_number(match[1]) * scale, 1), round(_number(match[2]) * scale, 1))
        depth = round(sum(layer) / 2, 1)
    elif (match := _DEPTH.search(spread)) is not None:
        depth = round(_number(match[1]) * _DEPTH_MM[match[2].lower()], 1)
    if depth is not None and match is not None:
        spread = f"{spread[: match.start()]} {spread[match.end() :]}"
    numbered = _LEVEL.match(" ".join(spread.split())) if depth is None else None
    low = spread.lower()
    unit = next((u for pattern, u in _UNITS if re.search(pattern, low)), None)
    quantity = next((q for pattern, q in _QUANTITIES if re.search(pattern, low)), None)
    level = int(numbered[1]) if numbered and quantity is not None else None
    return Heading(text, depth, unit, quantity, words(text), layer, level)


def _layer(text: str) -> re.Match[str] | None:
    """The ends of a layer; without a unit only where nothing else in the text is a depth."""
    found = [m for m in _LAYER.finditer(text) if _number(m[1]) < _number(m[2])]
    with_unit = next((m for m in found if m[3]), None)
    if with_unit is not None or _DEPTH.search(text):
        return with_unit
    return next((m for m in found if not text[: m.start()][-1:].isalnum()), None)


def _number(text: str) -> float:
    return float(text.replace(",", "."))
