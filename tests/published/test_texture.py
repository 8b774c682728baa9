"""The twelve classes: Soil Survey Manual, and an independent library over the whole triangle."""

import numpy as np
import pedotri
import pytest
import soiltexture
from shapely.geometry import Point, Polygon

from core.soil.texture import CLASS_CENTRES, TextureClass, texture_class
from core.soil.triangle import PATCHES


@pytest.mark.parametrize(
    "sand, silt, clay, expected",
    [
        # Saxton & Rawls (2006) table 3 names these points (sand/clay); from memory.
        (88, 7, 5, "sand"),
        (80, 15, 5, "loamy sand"),
        (65, 25, 10, "sandy loam"),
        (40, 40, 20, "loam"),
        (20, 65, 15, "silt loam"),
        (10, 85, 5, "silt"),
        (60, 15, 25, "sandy clay loam"),
        (30, 35, 35, "clay loam"),
        (10, 55, 35, "silty clay loam"),
        (10, 45, 45, "silty clay"),
        (50, 10, 40, "sandy clay"),
        (25, 25, 50, "clay"),
        # On the lines, by the wording of the Soil Survey Manual, ch. 3.
        (52, 41, 7, "loam"),  # loam: 7 to 27 % clay, 28 to 50 % silt, 52 % or less sand
        (53, 40, 7, "sandy loam"),  # sandy loam: more than 52 % sand
        (20, 53, 27, "silty clay loam"),  # 20 % or less sand
        (21, 52, 27, "clay loam"),  # more than 20 % sand
        (45, 20, 35, "clay loam"),  # clay loam: 45 % sand still inside
        (46, 19, 35, "sandy clay"),  # sandy clay: 35 % or more clay, more than 45 % sand
        (20, 40, 40, "silty clay"),
        (45, 15, 40, "clay"),
        (8, 80, 12, "silt loam"),  # silt: less than 12 % clay
        (9, 80, 11, "silt"),
        (50, 50, 0, "silt loam"),
        (85, 15, 0, "loamy sand"),  # sand: silt + 1.5 clay less than 15
        (70, 30, 0, "sandy loam"),  # loamy sand: silt + 2 clay less than 30
        (100, 0, 0, "sand"),
        (0, 100, 0, "silt"),
        (0, 0, 100, "clay"),
    ],
)
def test_class_at_a_point(sand: float, silt: float, clay: float, expected: str) -> None:
    assert texture_class(sand, silt, clay) == expected


def test_every_point_of_the_triangle_has_one_class() -> None:
    sand, clay = np.meshgrid(np.arange(0, 100.5, 0.5), np.arange(0, 100.5, 0.5))
    inside = sand + clay <= 100
    found = texture_class(sand[inside], (100 - sand - clay)[inside], clay[inside])
    assert not np.any(found == "")
    assert set(found) == {str(t) for t in TextureClass}


def test_agrees_with_pedotri_off_the_lines() -> None:
    """`pedotri` is independent of ours; on the lines its ties differ from the manual's."""
    rng = np.random.default_rng(7)
    parts = rng.dirichlet([1, 1, 1], 1500) * 100
    ours = texture_class(parts[:, 0], parts[:, 1], parts[:, 2])
    theirs = _pedotri_classes(parts)
    differ = np.flatnonzero(ours != theirs)
    assert differ.size == 0, [(parts[i], ours[i], theirs[i]) for i in differ[:5]]


def _pedotri_classes(parts: np.ndarray) -> np.ndarray:
    names = pedotri.classify(parts[:, 0], parts[:, 2], "USDA")
    return np.array([str(n).lower().replace("_", " ") for n in names])


@pytest.mark.parametrize(
    "parts", [(40, 40, 30), (-5, 60, 45), (110, -5, -5), (float("nan"), 50, 50)]
)
def test_refuses_what_is_no_soil(parts: tuple[float, float, float]) -> None:
    with pytest.raises(ValueError, match="sand, silt and clay"):
        texture_class(*parts)


def test_rounded_laboratory_sheet_is_taken() -> None:
    assert texture_class(33.3, 33.3, 33.3) == "clay loam"


def test_class_centres_lie_in_their_class() -> None:
    for name, (sand, clay) in CLASS_CENTRES.items():
        assert texture_class(sand, 100 - sand - clay, clay) == name


def test_agrees_with_soiltexture_off_the_lines() -> None:
    """A second independent library. It takes classes from drawn polygons, so points on a line
    may fall either way: only points half a percent off every line are compared, our own rule
    for ties standing in the tests above."""
    sand, clay = np.meshgrid(np.arange(0.75, 100, 2.5), np.arange(0.75, 100, 2.5))
    inside = sand + clay < 99
    agreed = compared = 0
    for s, c in zip(sand[inside], clay[inside], strict=True):
        near = {
            str(texture_class(s + ds, 100 - s - c - ds - dc, c + dc))
            for ds in (-0.4, 0, 0.4)
            for dc in (-0.4, 0, 0.4)
        }
        if len(near) == 1:
            compared += 1
            agreed += soiltexture.getTexture(s, c, classification="USDA") == near.pop()
    assert compared > 500
    assert agreed == compared


def test_the_drawn_patches_are_the_classes() -> None:
    """Every point of the triangle lies in the patch of its class, and in no other."""
    polygons = {p.texture: Polygon(list(zip(p.sand, p.clay, strict=True))) for p in PATCHES}
    assert set(polygons) == set(TextureClass)
    assert sum(p.area for p in polygons.values()) == pytest.approx(5000)
    for sand in np.arange(1.3, 99, 3.1):
        for clay in np.arange(0.7, 99 - sand, 3.1):
            here = [t for t, p in polygons.items() if p.contains(Point(sand, clay))]
            assert here == [str(texture_class(sand, 100 - sand - clay, clay))]
    for patch in PATCHES:
        assert polygons[patch.texture].contains(Point(*patch.label))
