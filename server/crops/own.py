"""The farm's own crops as the core takes them, and what they differ in from the book."""

from dataclasses import replace
from typing import Any

from core.crop.catalogue import (
    Canopy,
    Crop,
    CropProblem,
    DegreeDayClock,
    SaltTolerance,
    check_crop,
    crop,
)
from core.crop.degree_days import DegreeDayMethod
from core.crop.reference import Surface
from core.sentence import sentence
from server.crops.models import FarmCrop

# Each value of a crop that a farm may change, with the name its source goes by.
SOURCE_OF = {
    "stage_days": "stage_days",
    "kc": "kc",
    "kcb": "kcb",
    "surface": "kc",
    "height_m": "height_m",
    "root_initial_mm": "root_depth",
    "root_schedule_mm": "root_depth",
    "root_deep_mm": "root_depth",
    "p": "p",
    "tension_kpa": "tension_kpa",
    "salt": "salt",
    "degree_days": "degree_days",
    "canopy": "canopy",
}

ITS_OWN_KC = {"kc", "surface"}


def plain_value(grown: Crop, name: str) -> Any:
    """A value of a crop as JSON holds it."""
    value = getattr(grown, name)
    if name == "surface":
        return str(value)
    if name in ("stage_days", "kc") or (name == "kcb" and value is not None):
        return list(value)
    if isinstance(value, SaltTolerance):
        return {"threshold_ds_m": value.threshold_ds_m, "slope_percent": value.slope_percent}
    if isinstance(value, Canopy):
        return {"height_m": value.height_m, "cover": value.cover}
    if isinstance(value, DegreeDayClock):
        return {
            "method": str(value.method),
            "base_c": value.base_c,
            "upper_c": value.upper_c,
            "stage_sums": list(value.stage_sums),
        }
    return value


def _core_value(name: str, value: Any) -> Any:
    if value is None:
        return None
    if name == "surface":
        return Surface(value)
    if name in ("stage_days", "kc", "kcb"):
        return tuple(value)
    if name == "salt":
        return SaltTolerance(**value)
    if name == "canopy":
        return Canopy(**value)
    if name == "degree_days":
        return DegreeDayClock(
            method=DegreeDayMethod(value["method"]),
            base_c=value["base_c"],
            upper_c=value["upper_c"],
            stage_sums=tuple(value["stage_sums"]),
        )
    return value


def own_key(own: FarmCrop) -> str:
    """How a farm's crop is asked for beside those of the book."""
    return f"own-{own.pk}"


def with_values(book_key: str, values: dict[str, Any], key: str, name: str, source: str) -> Crop:
    """A crop of the book with some values changed, their source saying whose they are.

    Raises
    ------
    CropProblem
        When a value can't be.
    """
    book = crop(book_key)
    for given in values:
        if given not in SOURCE_OF:
            raise CropProblem(given, sentence("A crop has no value {given}.", given=given))
    changed = {n: _core_value(n, v) for n, v in values.items()}
    sources = dict(book.sources)
    sources.update({SOURCE_OF[n]: source for n in changed})
    if changed.keys() & ITS_OWN_KC:
        # The book's basal values belong to the book's Kc.
        changed.setdefault("kcb", None)
    if "tension_kpa" in changed:
        # The book's easing in ripening belongs to the book's limit.
        changed.setdefault("ripening_kpa", None)
    if changed.get("kcb", book.kcb) is None:
        sources.pop("kcb", None)
    return check_crop(replace(book, key=key, name=name, sources=sources, **changed))


def own_crop(own: FarmCrop) -> Crop:
    """The farm's crop as the core takes it."""
    source = (
        sentence("the farm's own: {reason}", reason=own.reason) if own.reason else "the farm's own"
    )
    return with_values(own.book_key, own.values, own_key(own), own.name, source)


def differences(values: dict[str, Any], book_key: str) -> dict[str, Any]:
    """Those of the values that are not the book's; the basal ones too where Kc is not."""
    book = crop(book_key)
    out = {n: v for n, v in values.items() if plain_value(book, n) != v}
    if out.keys() & ITS_OWN_KC and values.get("kcb") is not None:
        out["kcb"] = values["kcb"]
    return out
