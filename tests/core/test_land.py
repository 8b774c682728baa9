"""Outlines: geodesic area against pyproj, overlaps, cuts, projections, and what is refused."""

from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pyproj import Geod

from core.land.outline import OutlineProblem, area_m2, corners, outline_of, overlaps, split_outline
from core.land.projection import crs_of, swapped, to_wgs84


def box(west: float, south: float, east: float, north: float) -> dict[str, Any]:
    ring = [[west, south], [east, south], [east, north], [west, north], [west, south]]
    return {"type": "Polygon", "coordinates": [ring]}


@given(west=st.floats(-179, 178), south=st.floats(-80, 79), size=st.floats(0.0005, 0.03))
def test_area_is_pyprojs(west: float, south: float, size: float) -> None:
    """PROJ's geodesic polygon area (Karney 2013), asked directly."""
    outline = box(west, south, west + size, south + size)
    lon, lat = zip(*outline["coordinates"][0], strict=True)
    expected, _ = Geod(ellps="WGS84").polygon_area_perimeter(lon, lat)
    assert area_m2(outline_of(outline)) == pytest.approx(abs(expected), rel=1e-9)


def test_a_degree_at_the_equator() -> None:
    """A tenth of a degree each way at the equator is 11.13 x 11.06 km (WGS 84: 110.57 km to a
    degree of latitude there)."""
    with pytest.raises(OutlineProblem, match="0.001 to 10 000 ha".replace(".", r"\.")):
        outline_of(box(0, 0, 0.1, 0.1))
    small = area_m2(outline_of(box(0, 0, 0.01, 0.01)))
    assert small == pytest.approx(1113.19 * 1105.74, rel=1e-4)


def test_holes_and_direction_do_not_matter() -> None:
    outer, hole = box(3, 56, 3.01, 56.01), box(3.004, 56.004, 3.006, 56.006)
    both = {
        "type": "Polygon",
        "coordinates": [outer["coordinates"][0][::-1], hole["coordinates"][0]],
    }
    expected = area_m2(outline_of(outer)) - area_m2(outline_of(hole))
    assert area_m2(outline_of(both)) == pytest.approx(expected, rel=1e-9)
    parts = {
        "type": "MultiPolygon",
        "coordinates": [outer["coordinates"], box(4, 56, 4.01, 56.01)["coordinates"]],
    }
    assert area_m2(outline_of(parts)) == pytest.approx(2 * area_m2(outline_of(outer)), rel=1e-9)


def test_neighbours_may_touch_and_overlap_by_a_sliver() -> None:
    a, b = box(3, 56, 3.01, 56.01), box(3.01, 56, 3.02, 56.01)
    sliver, much = box(3.00995, 56, 3.02, 56.01), box(3.008, 56, 3.02, 56.01)
    shapes = [outline_of(x) for x in (a, b, sliver, much)]
    assert overlaps(shapes[:2]) == []
    assert overlaps([shapes[0], shapes[2]]) == []
    found = overlaps([shapes[0], shapes[3]])
    assert [(o.first, o.second) for o in found] == [(0, 1)]
    assert found[0].area_m2 == pytest.approx(0.2 * area_m2(shapes[0]), rel=1e-3)


def test_a_cut_keeps_all_the_ground() -> None:
    outline = outline_of(box(3, 56, 3.01, 56.01))
    large, small = split_outline(outline, [[3.003, 55.9], [3.003, 56.1]])
    areas = [area_m2(outline_of(g)) for g in (large, small)]
    # The cut edge is straight in degrees, the geodesic beside it a hair off.
    assert sum(areas) == pytest.approx(area_m2(outline), rel=1e-8)
    assert areas[1] == pytest.approx(0.3 * area_m2(outline), rel=1e-3)


@pytest.mark.parametrize(
    "line, says",
    [
        ([[3.003, 56.002], [3.003, 56.004]], "leaves the block whole;"),
        ([[4, 56], [4, 57]], "leaves the block whole;"),
        ([[3.003, 55.9]], "two points"),
        ([[2.9, 56.0000001], [3.1, 56.0000001]], "sliver"),
        ([["a", "b"], ["c", "d"]], "can't be read"),
    ],
)
def test_cuts_that_do_not_cut(line: list[list[Any]], says: str) -> None:
    with pytest.raises(OutlineProblem, match=says):
        split_outline(outline_of(box(3, 56, 3.01, 56.01)), line)


def test_projections_go_there_and_back() -> None:
    # ETRS89 / UTM zone 32N: 9 degrees east is its middle, at 500 km.
    utm = box(500_000, 6_200_000, 500_400, 6_200_400)
    moved = to_wgs84(utm, crs_of("32632"))
    assert moved["coordinates"][0][0][0] == pytest.approx(9.0, abs=1e-9)
    assert area_m2(outline_of(moved)) == pytest.approx(400 * 400 / 0.9996**2, rel=1e-5)
    same = box(3, 56, 3.01, 56.01)
    assert to_wgs84(same, crs_of("EPSG:4326")) == same
    assert outline_of(swapped(swapped(same))).equals(outline_of(same))
    with pytest.raises(OutlineProblem, match="EPSG number"):
        crs_of("atlantis")
    with pytest.raises(OutlineProblem, match="don't fit"):
        to_wgs84(box(1e30, 1e30, 2e30, 2e30), crs_of("32632"))


json_like = st.recursive(
    st.none() | st.booleans() | st.floats(allow_nan=True) | st.text(max_size=8),
    lambda inner: (
        st.lists(inner, max_size=4)
        | st.dictionaries(st.sampled_from(["type", "coordinates", "x"]), inner, max_size=3)
    ),
    max_leaves=12,
)


@given(
    kind=st.sampled_from(["Polygon", "MultiPolygon"]),
    coordinates=json_like
    | st.lists(st.lists(st.tuples(st.floats(), st.floats()), max_size=6), max_size=3),
)
def test_whatever_comes_is_taken_or_refused(kind: str, coordinates: Any) -> None:
    try:
        outline_of({"type": kind, "coordinates": coordinates})
    except OutlineProblem as problem:
        assert str(problem)


def test_corners_are_counted_of_whatever_is_sent() -> None:
    """Rings of all parts; what is no polygon has none."""
    square = [[0, 0], [0, 1], [1, 1], [0, 0]]
    assert corners({"type": "Polygon", "coordinates": [square, square]}) == 8
    assert corners({"type": "MultiPolygon", "coordinates": [[square], [square, square]]}) == 12
    for nothing in (None, [], {"type": "Polygon"}, {"type": "Polygon", "coordinates": 7}):
        assert corners(nothing) == 0
    assert corners({"type": "MultiPolygon", "coordinates": [3, [4, square]]}) == 4
