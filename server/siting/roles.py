"""Which column of a file is what, by its heading: in several languages, with any units."""

import re
from collections.abc import Sequence

from core.siting.layer import LayerKind
from core.siting.yield_units import YieldUnit
from server.siting.reading import ColumnRole, LengthUnit, SpeedUnit

# In the order they are looked for: the first that a heading matches is its role.
_HEADINGS: tuple[tuple[ColumnRole, str], ...] = (
    (ColumnRole.EAST, r"^position east$|^lon|longitud|^x$|^x[ _]|easting|rechtswert|längengrad"),
    (
        ColumnRole.NORTH,
        r"^position north$|^lat|latitud|^y$|^y[ _]|north(ing)?|hochwert|breitengrad",
    ),
    (ColumnRole.MOISTURE, r"moist|humid|feuchte|humedad|water ?content"),
    (ColumnRole.SPEED, r"speed|velocid|geschwind|vitesse"),
    (ColumnRole.WIDTH, r"swath|width|arbeitsbreite|ancho|largeur"),
    (ColumnRole.TIME, r"time|gps ?time|hora|zeit|heure|seconds"),
    (
        ColumnRole.VALUE,
        r"yield|yld|ertrag|rendim|mass|flow|eca?\b|eca|conduct|leitf|ndvi|index|elev|height|"
        r"altitud|^z$|höhe|^band \d+$|value|wert|valor",
    ),
)
# A yield before its flow, a dry yield before a wet one: of several values the likeliest.
_BEST_VALUES = (
    r"dry.*(yield|yld)|(yield|yld).*dry",
    r"yield|yld|ertrag|rendim",
    r"eca|conduct|leitf|\bec\b",
    r"ndvi|index",
    r"elev|altitud|höhe",
    r"mass|flow",
)
_YIELD_UNITS: tuple[tuple[str, YieldUnit], ...] = (
    (r"bu(shels?)?[ /_]*(per)?[ /_]*ac", YieldUnit.BU_AC),
    (r"lbs?[ /_]*(per)?[ /_]*ac", YieldUnit.LB_AC),
    (r"tons?[ /_]*(per)?[ /_]*ac", YieldUnit.TON_AC),
    (r"kg[ /_]*(per)?[ /_]*ha", YieldUnit.KG_HA),
    (r"t(onnes?)?[ /_]*(per)?[ /_]*ha", YieldUnit.T_HA),
    (r"%|percent", YieldUnit.RELATIVE),
)


def roles_of(headings: Sequence[str]) -> dict[ColumnRole, str]:
    """A column for each role that one of the headings tells."""
    found: dict[ColumnRole, str] = {}
    values: list[str] = []
    for heading in headings:
        role = next((r for r, p in _HEADINGS if re.search(p, heading, re.I)), None)
        if role is ColumnRole.VALUE:
            values.append(heading)
        elif role is not None and role not in found:
            found[role] = heading
    if values:
        found[ColumnRole.VALUE] = min(values, key=_place)
    return found


def _place(heading: str) -> int:
    places = (i for i, p in enumerate(_BEST_VALUES) if re.search(p, heading, re.I))
    return next(places, len(_BEST_VALUES))


def kind_of(file_name: str, heading: str) -> LayerKind:
    """What a layer is of, by the heading of its values and the file's name."""
    for text in (heading, file_name):
        if re.search(r"deep|tief|_dp|\bdp\b|prof", text, re.I) and _is_conductivity(text):
            return LayerKind.CONDUCTIVITY_DEEP
        if _is_conductivity(text):
            return LayerKind.CONDUCTIVITY_SHALLOW
        if re.search(r"elev|altitud|height|dem|dtm|höhe|^z$", text, re.I):
            return LayerKind.ELEVATION
        if re.search(r"ndvi|index|evi", text, re.I):
            return LayerKind.INDEX
        if re.search(r"yield|yld|ertrag|rendim|mass|flow", text, re.I):
            return LayerKind.YIELD
    return LayerKind.YIELD


def _is_conductivity(text: str) -> bool:
    return re.search(r"\beca?\b|eca|ec[ _]|conduct|leitf", text, re.I) is not None


def unit_of(heading: str, values: Sequence[float]) -> YieldUnit:
    """The unit of a yield by its heading, else by its size."""
    for pattern, unit in _YIELD_UNITS:
        if re.search(pattern, heading, re.I):
            return unit
    middle = sorted(values)[len(values) // 2] if values else 0.0
    return YieldUnit.KG_HA if middle > 400 else YieldUnit.T_HA


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
