"""A block's outline in WGS 84: checked, measured on the ellipsoid, split by a line.

References
----------
.. [1] Karney, C. F. F. (2013), Algorithms for geodesics, J. Geodesy 87:43-55,
   doi:10.1007/s00190-012-0578-z (as in PROJ, through pyproj).
.. [2] Butler, H. et al. (2016), The GeoJSON Format, RFC 7946.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from pyproj import Geod
from shapely.errors import GEOSException
from shapely.geometry import LineString, MultiPolygon, Polygon, mapping, shape
from shapely.geometry.polygon import orient
from shapely.ops import split
from shapely.strtree import STRtree
from shapely.validation import explain_validity

from core.sentence import Sentence, sentence

WGS84 = Geod(ellps="WGS84")
MAX_VERTICES = 20_000
SMALLEST_M2, LARGEST_M2 = 10.0, 1e8
# Neighbours drawn by hand overlap by slivers; more than this share of the smaller is an error.
OVERLAP_SHARE = 0.02


class OutlineProblem(ValueError):
    """An outline that can't be used; the message says what is wrong and what to do."""

    def __init__(self, message: Sentence) -> None:
        super().__init__(message)
        self.message = message


def corners(geometry: Any) -> int:
    """How many positions a GeoJSON polygon has, counted before a geometry is made of it.

    0 where it is none, or has no rings.
    """
    if not isinstance(geometry, Mapping):
        return 0
    rings = geometry.get("coordinates")
    rings = rings if isinstance(rings, (list, tuple)) else []
    if geometry.get("type") == "MultiPolygon":
        rings = [ring for part in rings if isinstance(part, (list, tuple)) for ring in part]
    return sum(len(ring) for ring in rings if isinstance(ring, (list, tuple)))


def refuse_too_many_corners(geometry: Any) -> None:
    """Refuse a polygon that no block needs, at little cost.

    Raises
    ------
    OutlineProblem
    """
    found = corners(geometry)
    if found > MAX_VERTICES:
        raise OutlineProblem(
            sentence(
                "The outline has {found} corners; at most {max_vertices} are taken. Simplify it.",
                found=found,
                max_vertices=MAX_VERTICES,
            )
        )


def outline_of(geometry: Any) -> Polygon | MultiPolygon:
    """A GeoJSON polygon [2]_ as a geometry, longitude first.

    Raises
    ------
    OutlineProblem
        When it is no polygon, has too many or too few corners, crosses itself, lies outside
        the range of longitude and latitude, or is far too small or large for a block.
    """
    if not isinstance(geometry, Mapping) or geometry.get("type") not in ("Polygon", "MultiPolygon"):
        kind = geometry.get("type") if isinstance(geometry, Mapping) else None
        raise OutlineProblem(
            sentence(
                "A block needs a Polygon or MultiPolygon, not {kind}. Export areas, not lines or "
                "points.",
                kind=kind or "nothing",
            )
        )
    refuse_too_many_corners(geometry)
    try:
        found = shape(dict(geometry))
    except (ValueError, TypeError, KeyError, IndexError, OverflowError, GEOSException):
        raise OutlineProblem(
            sentence(
                "The coordinates can't be read: rings of [longitude, latitude] pairs are needed, "
                "each with at least four and the last like the first."
            )
        ) from None
    if found.is_empty:
        raise OutlineProblem(sentence("The outline is empty; draw at least three corners."))
    west, south, east, north = found.bounds
    if not (-90 <= south <= north <= 90):
        raise OutlineProblem(
            sentence(
                "Latitude reaches {latitude:g}, beyond 90. The axes may be swapped (latitude "
                "first) or the file may be in metres: tick “latitude first” or name its "
                "projection.",
                latitude=max(abs(south), abs(north)),
            )
        )
    if not (-180 <= west <= east <= 180):
        raise OutlineProblem(
            sentence(
                "Longitude reaches {longitude:g}, beyond 180. The file may be in metres: name its "
                "projection.",
                longitude=max(abs(west), abs(east)),
            )
        )
    if not found.is_valid:
        explained = explain_validity(found)
        where = explained[explained.find("[") + 1 : explained.find("]")] if "[" in explained else ""
        raise OutlineProblem(
            sentence(
                "The outline crosses or touches itself at {where}. Move the corners there so that "
                "the ring runs round once.",
                where=where,
            )
            if where
            else sentence(
                "The outline crosses or touches itself. Move the corners there so that the ring "
                "runs round once."
            )
        )
    area = area_m2(found)
    if not SMALLEST_M2 <= area <= LARGEST_M2:
        raise OutlineProblem(
            sentence(
                "The outline covers {area:.4g} ha; a block has 0.001 to 10 000 ha. Check the "
                "projection and the order of the axes.",
                area=area / 10000,
            )
        )
    return found


def parts(outline: Polygon | MultiPolygon) -> list[Polygon]:
    """The polygons of an outline."""
    return list(outline.geoms) if isinstance(outline, MultiPolygon) else [outline]


def area_m2(outline: Polygon | MultiPolygon) -> float:
    """Area on the WGS 84 ellipsoid [1]_, holes taken off [m2]."""
    return abs(WGS84.geometry_area_perimeter(_oriented(outline))[0])


def _oriented(outline: Polygon | MultiPolygon) -> MultiPolygon:
    # The geodesic area is signed by the ring's direction: shells one way, holes the other.
    return MultiPolygon([orient(p) for p in parts(outline)])


@dataclass(frozen=True)
class Overlap:
    """Two outlines that lie on the same ground, and how much of it [m2]."""

    first: int
    second: int
    area_m2: float


def overlaps(outlines: Sequence[Polygon | MultiPolygon]) -> list[Overlap]:
    """Pairs that share more than a sliver.

    Returns
    -------
    list of Overlap
        By the outlines' places in the sequence, the first below the second.
    """
    tree = STRtree(outlines)
    found = []
    for i, outline in enumerate(outlines):
        for j in sorted(int(k) for k in tree.query(outline, predicate="intersects")):
            if j <= i:
                continue
            common = outline.intersection(outlines[j])
            areas = [p for p in getattr(common, "geoms", [common]) if isinstance(p, Polygon)]
            if not areas:
                continue
            shared = area_m2(MultiPolygon(areas))
            if shared > OVERLAP_SHARE * min(area_m2(outline), area_m2(outlines[j])):
                found.append(Overlap(i, j, shared))
    return found


def split_outline(
    outline: Polygon | MultiPolygon, line: Sequence[Sequence[float]]
) -> tuple[dict[str, Any], dict[str, Any]]:
    """Cut an outline in two.

    Parameters
    ----------
    line : sequence of [longitude, latitude]
        Must enter and leave the outline once.

    Returns
    -------
    two GeoJSON geometries, the larger first

    Raises
    ------
    OutlineProblem
        When the line does not cut the outline into exactly two pieces.
    """
    if isinstance(outline, MultiPolygon):
        raise OutlineProblem(
            sentence("A block of several parts can't be cut; split its parts first.")
        )
    if len(line) < 2:
        raise OutlineProblem(sentence("The cut needs at least two points."))
    try:
        pieces = list(split(outline, LineString([tuple(p[:2]) for p in line])).geoms)
    except (ValueError, TypeError, GEOSException):
        raise OutlineProblem(sentence("The cut can't be read; draw it again.")) from None
    if len(pieces) != 2:
        raise OutlineProblem(
            sentence(
                "The cut leaves the block whole; it must cross it once from edge to edge. Begin "
                "and end it outside the block."
            )
            if len(pieces) < 2
            else sentence(
                "The cut leaves {count} pieces; it must cross the block once from edge to edge. "
                "Begin and end it outside the block.",
                count=len(pieces),
            )
        )
    large, small = sorted(pieces, key=area_m2, reverse=True)
    if area_m2(small) < SMALLEST_M2:
        raise OutlineProblem(sentence("The cut leaves a sliver; draw it further in."))
    return dict(mapping(large)), dict(mapping(small))
