"""Whether a probe's radio sees its base station over the terrain.

References
----------
.. [1] ITU-R P.453-14 (2019), The radio refractive index: its formula and refractivity data; radio
   waves bend as if the Earth's radius were 4/3 of what it is.
"""

import numpy as np

from core.arrays import Floats
from core.siting.raster import Raster

EARTH_RADIUS_M = 6_371_000.0
RADIO_BENDING = 4 / 3
# Height of the probe's antenna over the ground [m]: above most crops; common practice, no source.
USUAL_ANTENNA_M = 1.5
# Places along a line that are looked at.
PLACES = 64


def clearance(
    elevation_m: Floats,
    raster: Raster,
    base: tuple[float, float],
    base_height_m: float,
    antenna_m: float = USUAL_ANTENNA_M,
    cells: Floats | None = None,
) -> Floats:
    """How far the line from each cell to the base station passes above the ground at its lowest.

    The ground rises between them by the Earth's curve, d1 d2 / (2 k R), with radio's bending [1]_.
    Ground that the layer doesn't reach is not counted.

    Parameters
    ----------
    elevation_m : array, shape (cells,) [m]
    base : (x, y) [m]
        On the raster's map; it may lie outside of the block.
    base_height_m : float [m]
        Of its antenna, in the elevation's own datum.
    cells : array of int, optional
        Those that are asked for; all where none are given.

    Returns
    -------
    array, shape (cells asked for,) [m]
        Below zero where the ground stands between; NaN where the cell's own height is not known.
    """
    x, y = raster.middles()
    which = np.arange(len(x)) if cells is None else np.asarray(cells)
    own = elevation_m[which] + antenna_m
    bulge = np.hypot(x[which] - base[0], y[which] - base[1]) ** 2
    bulge /= 2 * RADIO_BENDING * EARTH_RADIUS_M
    # With a rim of unknown ground, where lines that leave the raster are held.
    ground = np.pad(raster.spread_out(elevation_m), 1, constant_values=np.nan)
    col, base_col = ((v - raster.west) / raster.cell_m + 1 for v in (x[which], base[0]))
    row, base_row = ((raster.north - v) / raster.cell_m + 1 for v in (y[which], base[1]))
    lowest = np.full(len(which), np.inf)
    for share in (np.arange(PLACES) + 0.5) / PLACES:
        at = [
            np.clip(own_at + share * (base_at - own_at), 0, size + 1).astype(np.int32)
            for own_at, base_at, size in (
                (row, base_row, raster.rows),
                (col, base_col, raster.cols),
            )
        ]
        height = ground.take(at[0] * ground.shape[1] + at[1])
        over = (1 - share) * own + share * base_height_m - height - share * (1 - share) * bulge
        np.fmin(lowest, over, out=lowest)
    found: Floats = np.where(np.isfinite(own), lowest, np.nan)
    return found
