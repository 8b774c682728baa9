"""Machines that carry their sprinklers over the block: pivot, linear, travelling gun."""

from dataclasses import dataclass
from math import pi

from core.irrigation.operation import Operation, need
from core.units import water_depth_mm


@dataclass(frozen=True)
class Pivot:
    """A machine that turns about a point.

    flow_m3_h [m3/h]; length_m, end_gun_m, wetted_width_m [m]; sector_deg [degrees];
    turn_hours : one pass of the sector at 100 % speed [h]
    """

    flow_m3_h: float
    length_m: float
    turn_hours: float
    wetted_width_m: float
    end_gun_m: float = 0.0
    sector_deg: float = 360.0

    def __post_init__(self) -> None:
        need("flow_m3_h", self.flow_m3_h, 0.1, 20_000, "The flow, m3/h,")
        need("length_m", self.length_m, 10, 2000, "The length, m,")
        need("turn_hours", self.turn_hours, 0.5, 500, "Hours for a pass at full speed")
        need("wetted_width_m", self.wetted_width_m, 1, 100, "The wetted width, m,")
        need("end_gun_m", self.end_gun_m, 0, 100, "The end gun's reach, m,")
        need("sector_deg", self.sector_deg, 10, 360, "The sector, degrees,")

    @property
    def radius_m(self) -> float:
        """Reach of the water from the pivot point [m]."""
        return self.length_m + self.end_gun_m

    @property
    def covered_m2(self) -> float:
        """Area of the sector [m2]."""
        return pi * self.radius_m**2 * self.sector_deg / 360

    def operation(self, area_m2: float) -> Operation:
        """The pivot on a block; at its outer end water falls fastest, whatever the speed.

        depth of a pass = flow x hours / area; there the machine moves at
        ``2 pi R sector / 360 / hours`` and waters a point for ``width / speed``.
        """
        depth = water_depth_mm(self.flow_m3_h * self.turn_hours, self.covered_m2)
        speed = 2 * pi * self.radius_m * self.sector_deg / 360 / self.turn_hours
        return Operation(
            rate_mm_h=water_depth_mm(self.flow_m3_h, area_m2),
            peak_rate_mm_h=depth * speed / self.wetted_width_m,
            smallest_mm=depth,
            largest_mm=None,
            pass_hours=self.turn_hours,
            pass_mm=depth,
            covered_m2=self.covered_m2,
        )


@dataclass(frozen=True)
class Linear:
    """A machine that moves straight on.

    flow_m3_h [m3/h]; width_m, travel_m, wetted_width_m [m]; speed_m_h : at 100 % [m/h]
    """

    flow_m3_h: float
    width_m: float
    travel_m: float
    speed_m_h: float
    wetted_width_m: float

    def __post_init__(self) -> None:
        need("flow_m3_h", self.flow_m3_h, 0.1, 20_000, "The flow, m3/h,")
        need("width_m", self.width_m, 10, 2000, "The width, m,")
        need("travel_m", self.travel_m, 10, 10_000, "The travel, m,")
        need("speed_m_h", self.speed_m_h, 1, 500, "The speed, m/h,")
        need("wetted_width_m", self.wetted_width_m, 1, 100, "The wetted width, m,")

    def operation(self, area_m2: float) -> Operation:
        """The machine on a block: depth = flow / (width x speed)."""
        depth = water_depth_mm(self.flow_m3_h, self.width_m * self.speed_m_h)
        return Operation(
            rate_mm_h=water_depth_mm(self.flow_m3_h, area_m2),
            peak_rate_mm_h=depth * self.speed_m_h / self.wetted_width_m,
            smallest_mm=depth,
            largest_mm=None,
            pass_hours=self.travel_m / self.speed_m_h,
            pass_mm=depth,
            covered_m2=self.width_m * self.travel_m,
        )


@dataclass(frozen=True)
class Traveller:
    """A gun or boom drawn along lanes.

    flow_m3_h [m3/h]; lane_spacing_m, lane_length_m, wetted_radius_m [m]; speed_m_h [m/h]
    """

    flow_m3_h: float
    lane_spacing_m: float
    lane_length_m: float
    speed_m_h: float
    wetted_radius_m: float

    def __post_init__(self) -> None:
        need("flow_m3_h", self.flow_m3_h, 0.1, 1000, "The flow, m3/h,")
        need("lane_spacing_m", self.lane_spacing_m, 5, 200, "The lane spacing, m,")
        need("lane_length_m", self.lane_length_m, 10, 2000, "The lane length, m,")
        need("speed_m_h", self.speed_m_h, 1, 500, "The speed, m/h,")
        need("wetted_radius_m", self.wetted_radius_m, 5, 150, "The wetted radius, m,")

    def operation(self, area_m2: float) -> Operation:
        """The gun on a block: depth = flow / (lane spacing x speed), lane after lane."""
        depth = water_depth_mm(self.flow_m3_h, self.lane_spacing_m * self.speed_m_h)
        lanes = max(area_m2 / (self.lane_spacing_m * self.lane_length_m), 1.0)
        return Operation(
            rate_mm_h=water_depth_mm(self.flow_m3_h, area_m2),
            peak_rate_mm_h=water_depth_mm(self.flow_m3_h, pi * self.wetted_radius_m**2),
            smallest_mm=None,
            largest_mm=None,
            pass_hours=lanes * self.lane_length_m / self.speed_m_h,
            pass_mm=depth,
        )
