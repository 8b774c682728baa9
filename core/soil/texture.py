"""The twelve USDA texture classes from sand, silt and clay.

References
----------
.. [1] Soil Science Division Staff (2017), Soil Survey Manual, USDA Handbook 18, ch. 3.
"""

from enum import StrEnum

import numpy as np

from core.arrays import ArrayLike

# Laboratory sheets round each fraction; further off than this the sheet itself is wrong.
SUM_TOLERANCE_PERCENT = 1.0


class TextureClass(StrEnum):
    SAND = "sand"
    LOAMY_SAND = "loamy sand"
    SANDY_LOAM = "sandy loam"
    LOAM = "loam"
    SILT_LOAM = "silt loam"
    SILT = "silt"
    SANDY_CLAY_LOAM = "sandy clay loam"
    CLAY_LOAM = "clay loam"
    SILTY_CLAY_LOAM = "silty clay loam"
    SANDY_CLAY = "sandy clay"
    SILTY_CLAY = "silty clay"
    CLAY = "clay"


# Sand and clay percent that stand for a class named without percentages: the points at
# which Saxton & Rawls (2006) print their example table.
CLASS_CENTRES: dict[TextureClass, tuple[float, float]] = {
    TextureClass.SAND: (88, 5),
    TextureClass.LOAMY_SAND: (80, 5),
    TextureClass.SANDY_LOAM: (65, 10),
    TextureClass.LOAM: (40, 20),
    TextureClass.SILT_LOAM: (20, 15),
    TextureClass.SILT: (10, 5),
    TextureClass.SANDY_CLAY_LOAM: (60, 25),
    TextureClass.CLAY_LOAM: (30, 35),
    TextureClass.SILTY_CLAY_LOAM: (10, 35),
    TextureClass.SILTY_CLAY: (10, 45),
    TextureClass.SANDY_CLAY: (50, 40),
    TextureClass.CLAY: (25, 50),
}


def texture_class(sand: ArrayLike, silt: ArrayLike, clay: ArrayLike) -> np.ndarray:
    """Texture class of each soil.

    Parameters
    ----------
    sand, silt, clay : array, broadcastable [percent by weight]

    Returns
    -------
    array of str, broadcast shape
        Values of `TextureClass`.

    Raises
    ------
    ValueError
        When a fraction is outside 0-100 or the three do not add to 100 within 1.

    Notes
    -----
    A soil that lies on a line belongs where the manual's own inequalities put it [1]_
    ("7 to less than 20 percent clay"): the lower bound is inside, the upper outside.
    The twelve conditions are disjoint and cover the triangle, so order does not matter.
    """
    s, i, c = np.broadcast_arrays(
        np.asarray(sand, float), np.asarray(silt, float), np.asarray(clay, float)
    )
    if np.any((s < 0) | (i < 0) | (c < 0) | (s > 100) | (i > 100) | (c > 100)):
        raise ValueError("sand, silt and clay must each lie between 0 and 100 percent")
    off = np.abs(s + i + c - 100)
    if np.any(~(off <= SUM_TOLERANCE_PERCENT)):
        raise ValueError(
            f"sand, silt and clay must add to 100 percent; they add to {(s + i + c).max():g}"
        )
    # Classify on sand and clay, as the triangle does; silt takes up the rounding.
    i = 100.0 - s - c

    sandy_edge = i + 1.5 * c
    loamy_edge = i + 2 * c
    conditions: dict[TextureClass, np.ndarray] = {
        TextureClass.SAND: sandy_edge < 15,
        TextureClass.LOAMY_SAND: (sandy_edge >= 15) & (loamy_edge < 30),
        TextureClass.SANDY_LOAM: (loamy_edge >= 30)
        & (((c >= 7) & (c < 20) & (s > 52)) | ((c < 7) & (i < 50))),
        TextureClass.LOAM: (c >= 7) & (c < 27) & (i >= 28) & (i < 50) & (s <= 52),
        TextureClass.SILT_LOAM: (c < 27) & (i >= 50) & ((c >= 12) | (i < 80)),
        TextureClass.SILT: (i >= 80) & (c < 12),
        TextureClass.SANDY_CLAY_LOAM: (c >= 20) & (c < 35) & (i < 28) & (s > 45),
        TextureClass.CLAY_LOAM: (c >= 27) & (c < 40) & (s > 20) & (s <= 45),
        TextureClass.SILTY_CLAY_LOAM: (c >= 27) & (c < 40) & (s <= 20),
        TextureClass.SANDY_CLAY: (c >= 35) & (s > 45),
        TextureClass.SILTY_CLAY: (c >= 40) & (i >= 40),
        TextureClass.CLAY: (c >= 40) & (s <= 45) & (i < 40),
    }
    return np.select(list(conditions.values()), [str(k) for k in conditions], default="")
