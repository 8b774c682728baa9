"""The texture triangle as patches, for drawing: each class with its corners.

References
----------
.. [1] Soil Science Division Staff (2017), Soil Survey Manual, USDA Handbook 18, ch. 3.
"""

from dataclasses import dataclass

from core.soil.texture import TextureClass

T = TextureClass


@dataclass(frozen=True)
class Patch:
    """Corners in order round the patch, and where its name stands [percent]."""

    texture: TextureClass
    sand: tuple[float, ...]
    clay: tuple[float, ...]
    label: tuple[float, float]


def _patch(
    texture: TextureClass, label: tuple[float, float], *corners: tuple[float, float]
) -> Patch:
    return Patch(texture, tuple(s for s, _ in corners), tuple(c for _, c in corners), label)


# Corners as (sand, clay), from the inequalities that `core.soil.texture` classifies by [1]_.
PATCHES: tuple[Patch, ...] = (
    _patch(T.SAND, (92, 3), (100, 0), (85, 0), (90, 10)),
    _patch(T.LOAMY_SAND, (82, 6), (85, 0), (70, 0), (85, 15), (90, 10)),
    _patch(
        T.SANDY_LOAM, (65, 11),
        (70, 0), (50, 0), (43, 7), (52, 7), (52, 20), (80, 20), (85, 15),
    ),
    _patch(T.LOAM, (41, 18), (52, 7), (43, 7), (23, 27), (45, 27), (52, 20)),
    _patch(T.SILT_LOAM, (24, 13), (50, 0), (20, 0), (8, 12), (0, 12), (0, 27), (23, 27)),
    _patch(T.SILT, (8, 5), (20, 0), (0, 0), (0, 12), (8, 12)),
    _patch(T.SANDY_CLAY_LOAM, (60, 27), (80, 20), (52, 20), (45, 27), (45, 35), (65, 35)),
    _patch(T.CLAY_LOAM, (33, 33), (45, 27), (20, 27), (20, 40), (45, 40)),
    _patch(T.SILTY_CLAY_LOAM, (10, 33), (20, 27), (0, 27), (0, 40), (20, 40)),
    _patch(T.SANDY_CLAY, (52, 42), (65, 35), (45, 35), (45, 55)),
    _patch(T.SILTY_CLAY, (7, 47), (20, 40), (0, 40), (0, 60)),
    _patch(T.CLAY, (23, 62), (45, 40), (20, 40), (0, 60), (0, 100), (45, 55)),
)  # fmt: skip
