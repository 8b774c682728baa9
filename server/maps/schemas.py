"""The farm's plan on the wire; geometries are GeoJSON in WGS 84, longitude first."""

import math
from typing import Annotated, Any, Literal

from ninja import Field
from pydantic import AfterValidator

from server.base.language import Translated
from server.base.schema import Body, Schema
from server.maps.models import FeatureKind


class MapBlock(Schema):
    """``area_m2`` as stated, ``outline_m2`` on the ellipsoid; null without an outline."""

    id: int
    name: str
    area_m2: float
    outline_m2: float | None
    crop: str | None
    soil: str
    geometry: dict[str, Any] | None


def _finite(value: Any) -> bool:
    if isinstance(value, float):
        return math.isfinite(value)
    if isinstance(value, dict):
        return all(_finite(v) for v in value.values())
    return all(_finite(v) for v in value) if isinstance(value, list) else True


def _in_numbers(geometry: dict[str, Any]) -> dict[str, Any]:
    if not _finite(geometry):
        raise ValueError("a coordinate is no finite number; draw it again")
    return geometry


# The body's own rule sees numbers in fields, not those inside of a geometry.
Geometry = Annotated[dict[str, Any], AfterValidator(_in_numbers)]


class FeatureIn(Body):
    kind: FeatureKind
    name: str = Field(max_length=80)
    geometry: Geometry


class FeatureOut(FeatureIn):
    """A soil zone has its ``soil`` where that is known; one that is ``surveyed`` was not seen."""

    id: int
    soil: str = ""
    surveyed: bool = False


class MapOut(Schema):
    blocks: list[MapBlock]
    features: list[FeatureOut]


class OutlineIn(Body):
    """Null takes the outline away; ``take_area`` makes its area the block's."""

    geometry: Geometry | None
    take_area: bool = False


class MeasureIn(Body):
    geometry: Geometry
    block_id: int | None = None


class MeasureOut(Schema):
    area_m2: float
    problem: Translated


class SplitIn(Body):
    """A line of [longitude, latitude] across the block, and the smaller part's name."""

    line: list[Annotated[list[float], Field(max_length=3)]] = Field(min_length=2, max_length=200)
    name: str = Field(max_length=80)


class ImportLine(Schema):
    """What becomes of one feature of a file."""

    row: int
    name: str
    action: Literal["outline", "new block", "left out"]
    outline_m2: float
    stated_m2: float | None
    geometry: dict[str, Any]


class ImportOut(Schema):
    projection: str
    properties: list[str]
    name_property: str
    lines: list[ImportLine]
    saved: bool
