"""A grid from GeoTIFF or ASCII, or a picture: its cells as points with one value each."""

import warnings
from pathlib import Path

import numpy as np
import polars as pl
import rasterio
from rasterio.errors import NotGeoreferencedWarning

from core.sentence import sentence
from server.base.errors import RequestError
from server.files.broken_file import refuse_broken
from server.siting.layer_files.frames import MOST_POINTS, SAMPLE_ROWS, PointFrame
from server.siting.layer_files.point_shapes import EAST, NORTH

# Pixels of a picture: it is thinned to as many as a layer may have points.
MOST_PIXELS = 400_000_000
VALUE = "band {number}"


def read_grid(path: Path, *, sample: bool, band: int = 1) -> PointFrame:
    """The cells of a grid that have a value.

    A grid of more cells than a layer takes is read thinner. A picture that does not say where it
    lies is read as shares of its width and height.

    Raises
    ------
    RequestError
        When it is broken, or has not that many bands.
    """
    message = sentence(
        "The grid is broken, or it is no GeoTIFF, ASCII grid or picture. Export it again."
    )
    with refuse_broken(message), warnings.catch_warnings():
        warnings.simplefilter("ignore", NotGeoreferencedWarning)
        with rasterio.open(path, driver=None) as grid:
            if band > grid.count:
                raise RequestError(
                    sentence("The grid has {count} bands; choose one of them.", count=grid.count)
                )
            if grid.width * grid.height > MOST_PIXELS:
                raise RequestError(
                    sentence(
                        "The grid has {count:,} cells; up to {most:,} are taken. Cut it to the "
                        "farm.",
                        count=grid.width * grid.height,
                        most=MOST_PIXELS,
                    )
                )
            most = SAMPLE_ROWS * 50 if sample else MOST_POINTS
            thin = max(1.0, (grid.width * grid.height / most) ** 0.5)
            shape = max(1, int(grid.height / thin)), max(1, int(grid.width / thin))
            value = grid.read(band, out_shape=shape, masked=True).astype(float).filled(np.nan)
            placed = not grid.transform.is_identity
            of_cell = (
                grid.transform if placed else grid.transform.scale(1 / grid.width, 1 / grid.height)
            )
            across = of_cell * grid.transform.scale(grid.width / shape[1], grid.height / shape[0])
            projection = grid.crs.to_wkt() if grid.crs else ""
            total = grid.width * grid.height
    row, col = np.nonzero(np.isfinite(value))
    if not len(row):
        raise RequestError(sentence("No cell of the grid has a value in this band."))
    x, y = across * (col + 0.5, row + 0.5)
    columns = {EAST: x, NORTH: y, VALUE.format(number=band): value[row, col]}
    return PointFrame(pl.DataFrame(columns), projection, total, placed)
