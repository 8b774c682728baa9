"""Exact conversions between metric and US customary units.

Internal values are SI as the package docstring says; these are used once, at the border.
Every factor follows from the international inch (25.4 mm), the international acre
(4046.8564224 m2) and the US gallon (231 cubic inches).
"""

MM_PER_INCH = 25.4
MM_PER_FOOT = 304.8
M2_PER_HECTARE = 10_000.0
MM_M2_PER_M3 = 1000.0
M2_PER_ACRE = 4046.8564224
M3_PER_US_GALLON = 231 * (MM_PER_INCH / 1000) ** 3


def water_volume_m3(depth_mm: float, area_m2: float) -> float:
    """Volume of a water depth over an area.

    Parameters
    ----------
    depth_mm : float [mm]
    area_m2 : float [m2]

    Returns
    -------
    float [m3]
        1 mm on 1 ha is 10 m3.
    """
    return depth_mm / 1000.0 * area_m2


def water_depth_mm(volume_m3: float, area_m2: float) -> float:
    """Water depth of a volume spread over an area; inverse of `water_volume_m3`.

    Raises
    ------
    ValueError
        When the area is not above zero.
    """
    if area_m2 <= 0:
        raise ValueError("area must be above zero to spread a volume over it")
    return volume_m3 / area_m2 * 1000.0
