"""How a file of points or a grid is read: guessed at first sight, corrected by a person."""

from enum import StrEnum

from pydantic import Field

from core.siting.layer import LayerKind
from core.siting.yield_units import FlowUnit, YieldUnit
from server.base.schema import Body


class ColumnRole(StrEnum):
    """What a column of a file is."""

    EAST = "east"
    NORTH = "north"
    VALUE = "value"
    MOISTURE = "moisture"
    SPEED = "speed"
    WIDTH = "width"
    TIME = "time"


class SpeedUnit(StrEnum):
    M_S = "m/s"
    KM_H = "km/h"
    MPH = "mph"


class LengthUnit(StrEnum):
    M = "m"
    FT = "ft"
    IN = "in"


class Corner(Body):
    """A corner of a picture: longitude and latitude, or metres of the projection."""

    east: float = Field(ge=-1e8, le=1e8)
    north: float = Field(ge=-1e8, le=1e8)


class LayerReading(Body):
    """``columns`` names a column for each role that the file has; ``projection`` is an EPSG number
    or empty for longitude and latitude. ``unit`` and ``bushel_lb`` are for yields; ``flow`` says
    that the value is the flow of the crop, in ``flow_unit``, and not a yield. ``width_m`` is the
    swath where no column tells it. ``rain_mm`` fell in the season. A grid has a ``band``; a
    picture that does not say where it lies its ``corners``, clockwise from the upper left.
    """

    kind: LayerKind
    name: str = Field(min_length=1, max_length=80)
    year: int | None = Field(default=None, ge=1950, le=2100)
    columns: dict[ColumnRole, str] = Field(default_factory=dict)
    projection: str = Field(default="", max_length=2000)
    swap_axes: bool = False
    unit: YieldUnit = YieldUnit.T_HA
    bushel_lb: float | None = Field(default=None, gt=0, le=200)
    flow: bool = False
    flow_unit: FlowUnit = FlowUnit.KG_S
    speed_unit: SpeedUnit = SpeedUnit.KM_H
    width_unit: LengthUnit = LengthUnit.M
    width_m: float | None = Field(default=None, gt=0, le=60)
    rain_mm: float | None = Field(default=None, ge=0, le=20_000)
    band: int = Field(default=1, ge=1, le=50)
    corners: list[Corner] = Field(default_factory=list, max_length=4)
