"""Which column of a file is what, by its heading: in several languages, with any units."""

import re
from collections.abc import Mapping, Sequence

from core.siting.layer import LayerKind
from core.siting.yield_units import FlowUnit, YieldUnit
from server.siting.layer_files.reading import ColumnRole, LengthUnit, SpeedUnit

# English, German, French, Spanish, Portuguese, Italian, Dutch, Scandinavian and Polish words, in
# the order they are looked for: the first that a heading matches is its role.
_HEADINGS: tuple[tuple[ColumnRole, str], ...] = (
    (
        ColumnRole.MOISTURE,
        r"moist|hum[ieí]d|feucht|umi[dt]|vocht|vattenhalt|vandindhold|wilgot|"
        r"water ?content",
    ),
    (ColumnRole.SPEED, r"speed|velocid|velocit|geschwind|vitesse|snelheid|hastighe|pr[ęe]dko"),
    (
        ColumnRole.WIDTH,
        r"swath|width|wdth|breite.*arbeit|arbeits.?breite|schnittbreite|ancho|larg(eur|ura|hez)|"
        r"werkbreed|arbetsbredd|arbejdsbredde|szeroko.*rob",
    ),
    (
        ColumnRole.EAST,
        r"^position east$|^lon|longitud|^x$|^x[ _]|easting|^este$|^est$|rechtswert|ostwert|"
        r"l[äa]ngengrad|^(geogr\w*\W*)?l[äa]nge\b|lengtegraad|längdgrad|længdegrad|d[łl]ugo",
    ),
    (
        ColumnRole.NORTH,
        r"^position north$|^lat|latitud|^y$|^y[ _]|northing|^north$|^norte$|^nord$|hochwert|"
        r"nordwert|breitengrad|^(geogr\w*\W*)?breite\b|breedtegraad|breddgrad|szeroko",
    ),
    (
        ColumnRole.TIME,
        r"time|hora\b|zeit|heure|\bora\b|\btijd|\btid\b|klock|czas|seconds|sekund|stamp",
    ),
    (
        ColumnRole.VALUE,
        r"yield|yld|ertrag|rendi?[me]|produtiv|\bresa\b|opbrengst|skörd|sk[oö]rd|udbytte|plon|mass|"
        r"flow|\beca?|eca|\bem[hv]\b|conduct|condut|condutt|leitf|ndvi|index|indice|elev|height|"
        r"alti|^alt\b|hoogte|höjd|^z$|höhe|^band \d+$|value|wert|valor",
    ),
)
# A column of days tells passes apart only where it has the time of day too.
_DATES = r"date|datum|dato|fecha|\bdata\b"
_HAS_CLOCK = r"\d[:.h]\d\d\b"
# A yield before its flow, a dry yield before a wet one: of several values the likeliest.
_YIELD = r"yield|yld|ertrag|rendi?[me]|produtiv|\bresa\b|opbrengst|sk[oö]rd|udbytte|plon"
_ELEVATION = r"elev|alti|^alt\b|höhe|hoogte|höjd"
_DRY = r"\bdry|trocken|\bsec\b|seco|\bsecca|droog|\btorr|\btør|such"
_BEST_VALUES = (
    rf"({_DRY}).*({_YIELD})|({_YIELD}).*({_DRY})",
    _YIELD,
    r"eca|conduc|condut|leitf|\bec(?![a-z])|\bem[hv]\b",
    r"ndvi|index|indice",
    _ELEVATION,
    r"mass|flow",
)
_YIELD_UNITS: tuple[tuple[str, YieldUnit], ...] = (
    (r"bu(shels?)?[ /_]*(per|/)?[ /_]*ac?\b", YieldUnit.BU_AC),
    (r"lbs?[ /_]*(per)?[ /_]*ac?\b", YieldUnit.LB_AC),
    (r"tons?[ /_]*(per)?[ /_]*ac", YieldUnit.TON_AC),
    (r"kg[ /_]*(per)?[ /_]*ha", YieldUnit.KG_HA),
    (r"(dt|q|qx|qli?|quint\w*)[ /_]*(per)?[ /_]*ha", YieldUnit.DT_HA),
    (r"(t(on(ne)?s?)?|mg)[ /_]*(per)?[ /_]*ha", YieldUnit.T_HA),
    (r"%|percent", YieldUnit.RELATIVE),
)


def roles_of(columns: Mapping[str, Sequence[object]]) -> dict[ColumnRole, str]:
    """A column for each role that one of the headings tells.

    Parameters
    ----------
    columns : first rows of each column, by its heading
    """
    found: dict[ColumnRole, str] = {}
    values: list[str] = []
    for heading in columns:
        role = next((r for r, p in _HEADINGS if re.search(p, heading, re.I)), None)
        if role is ColumnRole.VALUE:
            values.append(heading)
        elif role is not None and role not in found:
            found[role] = heading
    if ColumnRole.TIME not in found:
        dated = (h for h in columns if re.search(_DATES, h, re.I) and _has_clock(columns[h]))
        if first := next(dated, None):
            found[ColumnRole.TIME] = first
    if values:
        best = found[ColumnRole.VALUE] = min(values, key=_place)
        if re.search(_DRY, best, re.I):
            # Its water is taken off already.
            found.pop(ColumnRole.MOISTURE, None)
    return found


def _has_clock(cells: Sequence[object]) -> bool:
    return any(re.search(_HAS_CLOCK, str(c).strip()[8:]) for c in cells if c is not None)


def _place(heading: str) -> int:
    places = (i for i, p in enumerate(_BEST_VALUES) if re.search(p, heading, re.I))
    return next(places, len(_BEST_VALUES))


def kind_of(file_name: str, heading: str) -> LayerKind | None:
    """What a layer is of, by the heading of its values and the file's name; None where neither
    says."""
    for text in (heading, file_name):
        if re.search(r"deep|tief|_dp|\bdp\b|prof|\bemv\b", text, re.I) and _is_conductivity(text):
            return LayerKind.CONDUCTIVITY_DEEP
        if _is_conductivity(text):
            return LayerKind.CONDUCTIVITY_SHALLOW
        if re.search(rf"{_ELEVATION}|height|(?<![a-z])(dem|dtm)(?![a-z])|^z$", text, re.I):
            return LayerKind.ELEVATION
        if re.search(r"ndvi|index|indice|(?<![a-z])evi(?![a-z])", text, re.I):
            return LayerKind.INDEX
        if re.search(rf"{_YIELD}|mass|flow", text, re.I):
            return LayerKind.YIELD
    return None


def _is_conductivity(text: str) -> bool:
    return re.search(r"\beca?\b|eca|ec[ _]|\bem[hv]\b|condu[ct]|leitf", text, re.I) is not None


def unit_of(heading: str, values: Sequence[float]) -> YieldUnit:
    """The unit of a yield by its heading, else by its size."""
    for pattern, unit in _YIELD_UNITS:
        if re.search(pattern, heading, re.I):
            return unit
    middle = sorted(values)[len(values) // 2] if values else 0.0
    return YieldUnit.KG_HA if middle > 400 else YieldUnit.T_HA


def flow_unit_of(heading: str) -> FlowUnit:
    """The unit of a flow by its heading; kilograms a second where it says none."""
    if re.search(r"lbs?[ /_]*(per)?[ /_]*s", heading, re.I):
        return FlowUnit.LB_S
    return FlowUnit.T_H if re.search(r"\bt[ /_]*h\b", heading, re.I) else FlowUnit.KG_S


def speed_unit_of(heading: str, values: Sequence[float]) -> SpeedUnit:
    """The unit of a speed by its heading, else by its size: none harvests at 5 m/s."""
    if re.search(r"km[ /_]*h|kph", heading, re.I):
        return SpeedUnit.KM_H
    if re.search(r"mph|mi", heading, re.I):
        return SpeedUnit.MPH
    if re.search(r"m[ /_]*s\b", heading, re.I):
        return SpeedUnit.M_S
    middle = sorted(values)[len(values) // 2] if values else 0.0
    return SpeedUnit.KM_H if middle > 3 else SpeedUnit.M_S


def width_unit_of(heading: str, values: Sequence[float]) -> LengthUnit:
    """The unit of a width by its heading, else by its size."""
    if re.search(r"\bin\b|inch|[(_]in[)_]?$", heading, re.I):
        return LengthUnit.IN
    if re.search(r"\bft\b|feet|[(_]ft", heading, re.I):
        return LengthUnit.FT
    middle = sorted(values)[len(values) // 2] if values else 0.0
    return LengthUnit.IN if middle > 60 else LengthUnit.M


def year_of(file_name: str) -> int | None:
    """The year that a file's name says."""
    found = re.search(r"(?<!\d)(19[5-9]\d|20\d\d)(?!\d)", file_name)
    return int(found.group(1)) if found else None
