"""Systems that stand still and wet the whole block at once: solid set, drip, micro."""

from dataclasses import dataclass

from core.irrigation.operation import Operation, need

SET_HOURS = 1.0  # what a pass is reckoned for where the run time is free


@dataclass(frozen=True)
class SolidSet:
    """Sprinklers on a grid: nozzle_m3_h [m3/h], spacing_m along the line and row_spacing_m [m]."""

    nozzle_m3_h: float
    spacing_m: float
    row_spacing_m: float

    def __post_init__(self) -> None:
        need("nozzle_m3_h", self.nozzle_m3_h, 0.05, 50, "The sprinkler's flow, m3/h,")
        need("spacing_m", self.spacing_m, 2, 60, "The spacing, m,")
        need("row_spacing_m", self.row_spacing_m, 2, 60, "The row spacing, m,")

    def operation(self, area_m2: float) -> Operation:
        """Rate = flow of one sprinkler over the ground it serves."""
        rate = 1000 * self.nozzle_m3_h / (self.spacing_m * self.row_spacing_m)
        return Operation(rate, rate, None, None, SET_HOURS, rate * SET_HOURS)


@dataclass(frozen=True)
class Drip:
    """Emitters or micro-sprinklers along lines.

    emitter_l_h [l/h]; emitter_spacing_m, line_spacing_m [m]; lines_per_row;
    wetted_fraction : share of the ground that gets wet [-]
    """

    emitter_l_h: float
    emitter_spacing_m: float
    line_spacing_m: float
    wetted_fraction: float
    lines_per_row: int = 1

    def __post_init__(self) -> None:
        need("emitter_l_h", self.emitter_l_h, 0.1, 500, "The emitter's flow, l/h,")
        need("emitter_spacing_m", self.emitter_spacing_m, 0.05, 20, "The emitter spacing, m,")
        need("line_spacing_m", self.line_spacing_m, 0.2, 20, "The spacing of the rows, m,")
        need("wetted_fraction", self.wetted_fraction, 0.02, 1, "The wetted share of the ground")
        need("lines_per_row", self.lines_per_row, 1, 6, "Lines to a row")

    def operation(self, area_m2: float) -> Operation:
        """Rate = emitter flow x lines over spacing x row spacing; one litre on 1 m2 is 1 mm."""
        served = self.emitter_spacing_m * self.line_spacing_m
        rate = self.emitter_l_h * self.lines_per_row / served
        return Operation(rate, rate / self.wetted_fraction, None, None, SET_HOURS, rate * SET_HOURS)
