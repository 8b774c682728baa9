"""The raster that all layers of a block share: square cells, and which of them lie in it."""

from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry import MultiPolygon, Polygon

from core.arrays import Bools, Floats, Ints
from core.sentence import sentence
from core.siting.frame import Frame, frame_about
from core.siting.problem import SitingProblem

# Side of a cell [m]: a harvester's width; finer than this a yield map holds its own lag.
USUAL_CELL_M, SMALLEST_CELL_M, LARGEST_CELL_M = 5.0, 1.0, 50.0
# Cells of one block; a block of 250 ha has as many at 5 m.
MOST_CELLS = 100_000
# Fewer tell no pattern.
FEWEST_CELLS = 25
# Cells of the rectangle around it: a block in parts far from each other has an empty picture.
MOST_AROUND = 40 * MOST_CELLS


@dataclass(frozen=True)
class Raster:
    """Square cells over a block.

    Parameters
    ----------
    frame : Frame
        The map in whose metres it lies.
    west, north : float [m]
        Its upper left corner.
    cell_m : float [m]
        Side of a cell.
    inside : array of bool, shape (rows, cols)
        Whether the middle of a cell lies in the block; rows from the north.
    """

    frame: Frame
    west: float
    north: float
    cell_m: float
    inside: Bools

    @property
    def rows(self) -> int:
        return int(self.inside.shape[0])

    @property
    def cols(self) -> int:
        return int(self.inside.shape[1])

    @property
    def cell_m2(self) -> float:
        return self.cell_m**2

    def middles(self) -> tuple[Floats, Floats]:
        """East and north of the cells inside [m], shape (cells,) each, by rows from the north."""
        row, col = np.nonzero(self.inside)
        return self.west + (col + 0.5) * self.cell_m, self.north - (row + 0.5) * self.cell_m

    def cell_at(self, x: Floats, y: Floats) -> Ints:
        """Which cell inside a point lies in, counted as in `middles`; -1 outside.

        Parameters
        ----------
        x, y : array, shape (n,) [m]

        Returns
        -------
        array of int, shape (n,)
        """
        number = np.full(self.inside.shape, -1)
        number[self.inside] = np.arange(int(self.inside.sum()))
        with np.errstate(invalid="ignore"):
            col = np.floor((x - self.west) / self.cell_m)
            row = np.floor((self.north - y) / self.cell_m)
        on = (col >= 0) & (col < self.cols) & (row >= 0) & (row < self.rows)
        found = np.full(np.shape(x), -1)
        found[on] = number[row[on].astype(int), col[on].astype(int)]
        return found

    def spread_out(self, values: Floats) -> Floats:
        """Values of the cells inside as a picture of (rows, cols), NaN elsewhere."""
        picture = np.full(self.inside.shape, np.nan)
        picture[self.inside] = values
        return picture


def raster_over(outline: Polygon | MultiPolygon, cell_m: float = USUAL_CELL_M) -> Raster:
    """The raster over a block; its cells are made larger where there would be too many.

    Parameters
    ----------
    outline : Polygon or MultiPolygon
        In WGS 84, longitude first.
    cell_m : float [m]

    Raises
    ------
    SitingProblem
        When the cell is out of range, or the block is smaller than a few cells.
    """
    if not SMALLEST_CELL_M <= cell_m <= LARGEST_CELL_M:
        raise SitingProblem(
            sentence(
                "A cell of {cell_m:g} m can't be used: enter {smallest:g} to {largest:g} m.",
                cell_m=cell_m,
                smallest=SMALLEST_CELL_M,
                largest=LARGEST_CELL_M,
            )
        )
    frame = frame_about(outline)
    in_metres = frame.geometry(outline)
    west, south, east, north = in_metres.bounds
    around = (east - west) * (north - south)
    cell = max(cell_m, (in_metres.area / MOST_CELLS) ** 0.5, (around / MOST_AROUND) ** 0.5)
    cols, rows = (max(1, int(np.ceil(s / cell))) for s in (east - west, north - south))
    x = west + (np.arange(cols) + 0.5) * cell
    y = north - (np.arange(rows) + 0.5) * cell
    shapely.prepare(in_metres)
    inside = shapely.contains_xy(in_metres, *np.meshgrid(x, y))
    if inside.sum() < FEWEST_CELLS:
        raise SitingProblem(
            sentence(
                "The block has {count} cells of {cell:g} m; at least {fewest} are needed. Choose "
                "smaller cells.",
                count=int(inside.sum()),
                cell=cell,
                fewest=FEWEST_CELLS,
            )
        )
    return Raster(frame, west, north, cell, inside)
