"""A layer of a block made of a file's points: cleaned, gridded, packed."""

from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
from shapely.geometry import MultiPolygon, Polygon

from core.arrays import Floats
from core.sentence import sentence
from core.siting.clean import AS_SURVEYED, Cleaned, Cleaning, clean
from core.siting.gridding import Gridded, gridded
from core.siting.layer import LayerKind
from core.siting.problem import SitingProblem
from core.siting.raster import Raster, raster_over
from core.siting.yield_points import YieldPoints
from server.siting.layer_files.read_layer import LayerPoints
from server.siting.packing import counts, packed, packed_points, unpacked_points

# Points beyond the outline that belong to the block's edge [m].
BEYOND_M = 60.0


@dataclass(frozen=True)
class MadeLayer:
    """What is kept of a layer."""

    points: bytes
    point_count: int
    grid: bytes
    facts: dict[str, Any]


def points_of_block(
    found: LayerPoints, outline: Polygon | MultiPolygon, raster: Raster
) -> YieldPoints:
    """The points in a block and near it, on its map."""
    x, y = raster.frame.metres(found.lon, found.lat)
    west, south, east, north = raster.frame.geometry(outline).bounds
    near = (x > west - BEYOND_M) & (x < east + BEYOND_M)
    near &= (y > south - BEYOND_M) & (y < north + BEYOND_M)

    def part(values: Floats | None) -> Floats | None:
        return None if values is None else values[near]

    return YieldPoints(
        x[near],
        y[near],
        found.value[near],
        part(found.time_s),
        part(found.speed_m_s),
        part(found.width_m),
    )


def cleaned(
    points: YieldPoints,
    kind: LayerKind,
    outline: Polygon | MultiPolygon,
    raster: Raster,
    cleaning: dict[str, float],
    put_back: list[int],
    put_aside: list[int],
) -> Cleaned:
    """What becomes of each point, by the usual rules and what a person changed of them."""
    usual = Cleaning() if kind is LayerKind.YIELD else AS_SURVEYED
    rules = Cleaning(**{**asdict(usual), **cleaning})
    return clean(
        points,
        raster.frame.geometry(outline),
        rules,
        np.array(put_back, int),
        np.array(put_aside, int),
    )


def made_layer(
    points: YieldPoints,
    kind: LayerKind,
    outline: Polygon | MultiPolygon,
    cleaning: dict[str, float],
    put_back: list[int],
    put_aside: list[int],
) -> MadeLayer:
    """Clean and grid the points of a block.

    Raises
    ------
    SitingProblem
        When too few are left to make a layer of.
    """
    raster = raster_over(outline)
    kept_as = packed_points(points)
    # As they are kept, so that the same rules leave out the same points ever after.
    points = unpacked_points(kept_as)
    found = cleaned(points, kind, outline, raster, cleaning, put_back, put_aside)
    kept = found.kept
    if not kept.any():
        raise SitingProblem(
            sentence("No point is left after cleaning. Loosen the rules, or look at the file.")
        )
    grid = gridded(points.x[kept], points.y[kept], points.value[kept], raster)
    return MadeLayer(
        kept_as,
        len(points),
        packed({"value": grid.value, "error": grid.error}),
        _facts(grid, found, points, kept),
    )


def _facts(grid: Gridded, found: Cleaned, points: YieldPoints, kept: Any) -> dict[str, Any]:
    known = np.isfinite(grid.value)
    fit = grid.variogram
    return {
        "by": str(grid.by),
        "points": grid.points,
        "mean": float(np.nanmean(grid.value)) if known.any() else None,
        "low": float(np.nanpercentile(grid.value, 5)) if known.any() else None,
        "high": float(np.nanpercentile(grid.value, 95)) if known.any() else None,
        "error": float(np.nanmean(grid.error)) if np.isfinite(grid.error).any() else None,
        "unknown_share": float(1 - known.mean()),
        "dropped": counts(found.why),
        "not_checked": [d.name.lower() for d in found.not_checked],
        "variogram": None
        if fit is None
        else {
            "model": str(fit.model),
            "nugget": fit.nugget,
            "partial_sill": fit.partial_sill,
            "range_m": fit.range_m,
        },
    }
