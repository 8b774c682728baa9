"""Crop coefficients of trees and vines by how much of the ground they cover.

References
----------
.. [1] Allen, R. G., Pereira, L. S. (2009), Estimating crop coefficients from fraction of
   ground cover and height, Irrig. Sci. 28:17-34, doi:10.1007/s00271-009-0182-z.
"""

import numpy as np

from core.arrays import ArrayLike, Floats

KC_MIN = 0.15  # bare, dry ground between plants [1]_
ML = 1.5  # what a leaf canopy adds to its own shade, 1.5-2.0 [1]_


def density_coefficient(cover: ArrayLike, height_m: ArrayLike) -> Floats:
    """Kd: how near a thin canopy comes to a full one (eq. 10 of [1]_).

    Parameters
    ----------
    cover : array, broadcastable [fraction of ground shaded at noon]
    height_m : array, broadcastable [m]

    Returns
    -------
    array, broadcast shape [-]
        ``min(1, ML * fc, fc ** (1 / (1 + h)))``.

    Raises
    ------
    ValueError
        When cover is not within 0-1 or a height is negative.
    """
    fc, h = np.asarray(cover, float), np.asarray(height_m, float)
    if np.any((fc < 0) | (fc > 1)) or np.any(h < 0):
        raise ValueError("ground cover lies between 0 and 1, height at or above 0 m")
    return np.minimum(np.minimum(1.0, ML * fc), fc ** (1 / (1 + h)))


def cover_factor(
    cover: ArrayLike, height_m: ArrayLike, book_cover: float, book_height_m: float
) -> Floats:
    """What the share of Kc above bare ground is multiplied by, for a cover other than the book's.

    Returns
    -------
    array, broadcast shape [-]
        Kd of the orchard over Kd of the cover and height that the book's Kc stands for, so
        that ``Kc = 0.15 + factor * (Kc_book - 0.15)``.
    """
    return density_coefficient(cover, height_m) / density_coefficient(book_cover, book_height_m)
