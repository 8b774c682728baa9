"""Soil water limits from texture and organic matter.

References
----------
.. [1] Saxton, K. E., Rawls, W. J. (2006), Soil water characteristic estimates by texture
   and organic matter for hydrologic solutions, Soil Sci. Soc. Am. J. 70:1569-1578,
   doi:10.2136/sssaj2005.0117.
"""

from dataclasses import dataclass

import numpy as np

from core.arrays import ArrayLike, Bools, Floats

# The authors' data hold no soils beyond these; outside them the regression bends back.
MAX_ORGANIC_MATTER_PERCENT = 8.0
MAX_CLAY_PERCENT = 60.0
PARTICLE_DENSITY = 2.65  # [g/cm3], the authors' own constant
# The authors adjust for densities from 0.9 to 1.3 of the texture's normal one.
DENSITY_FACTOR = (0.9, 1.3)
# Standard error of the two regressions [m3/m3]; their table 1, from memory.
SE_THETA_33, SE_THETA_1500 = 0.05, 0.02
MIN_GAP = 0.01  # least distance kept between wilting, full and saturation [m3/m3]


@dataclass(frozen=True)
class SaxtonRawls:
    """Limits by regression; every field has the broadcast shape of the inputs.

    theta_1500, theta_33, theta_sat [m3/m3], ksat_mm_h [mm/h];
    ``clamped`` marks soils outside the regression's data or bent back into order.
    """

    theta_1500: Floats
    theta_33: Floats
    theta_sat: Floats
    ksat_mm_h: Floats
    clamped: Bools


def saxton_rawls(
    sand: ArrayLike,
    clay: ArrayLike,
    organic_matter: ArrayLike = 2.5,
    bulk_density: ArrayLike = np.nan,
) -> SaxtonRawls:
    """Wilting point, 33 kPa content, saturation and conductivity [1]_.

    Parameters
    ----------
    sand, clay : array, broadcastable [percent by weight of the fine earth]
    organic_matter : array, broadcastable [percent by weight]
    bulk_density : array, broadcastable [g/cm3 of the fine earth]
        NaN where unknown: the texture's normal density.

    Returns
    -------
    SaxtonRawls

    Raises
    ------
    ValueError
        When an input is negative or sand and clay exceed 100 together.

    Notes
    -----
    With S, C as fractions and OM in percent, e.g.
    ``t = -0.024 S + 0.487 C + 0.006 OM + 0.005 S OM - 0.013 C OM + 0.068 S C + 0.031`` and
    ``theta_1500 = t + 0.14 t - 0.02``. Organic matter above 8 % and clay above 60 % are
    computed at the bound and marked ``clamped``; so are limits bent back into their order and
    densities beyond 0.9-1.3 of the normal one. A stated density moves saturation to
    ``1 - density / 2.65`` and theta_33 by a fifth of that shift; theta_1500 stays.
    The air-entry equation is left out: the retention curve here has no wet segment to need it.
    """
    sand_p, clay_p, om_p = np.broadcast_arrays(
        np.asarray(sand, float), np.asarray(clay, float), np.asarray(organic_matter, float)
    )
    if np.any((sand_p < 0) | (clay_p < 0) | (om_p < 0)):
        raise ValueError("sand, clay and organic matter can't be negative")
    if np.any(sand_p + clay_p > 100 + 1e-9):
        raise ValueError("sand and clay together can't exceed 100 percent")

    outside = (om_p > MAX_ORGANIC_MATTER_PERCENT) | (clay_p > MAX_CLAY_PERCENT)
    s = sand_p / 100
    c = np.minimum(clay_p, MAX_CLAY_PERCENT) / 100
    om = np.minimum(om_p, MAX_ORGANIC_MATTER_PERCENT)

    t1500 = (
        -0.024 * s
        + 0.487 * c
        + 0.006 * om
        + 0.005 * s * om
        - 0.013 * c * om
        + 0.068 * s * c
        + 0.031
    )
    theta_1500 = t1500 + (0.14 * t1500 - 0.02)
    t33 = (
        -0.251 * s
        + 0.195 * c
        + 0.011 * om
        + 0.006 * s * om
        - 0.027 * c * om
        + 0.452 * s * c
        + 0.299
    )
    theta_33 = t33 + (1.283 * t33**2 - 0.374 * t33 - 0.015)
    ts33 = (
        0.278 * s + 0.034 * c + 0.022 * om - 0.018 * s * om - 0.027 * c * om - 0.584 * s * c + 0.078
    )
    theta_s33 = ts33 + (0.636 * ts33 - 0.107)
    theta_sat = theta_33 + theta_s33 - 0.097 * s + 0.043

    normal_density = (1 - theta_sat) * PARTICLE_DENSITY
    factor = np.asarray(bulk_density, float) / normal_density
    dense = np.where(np.isnan(factor), 1.0, np.clip(factor, *DENSITY_FACTOR))
    off_density = ~np.isnan(factor) & (dense != factor)
    adjusted_sat = 1 - normal_density * dense / PARTICLE_DENSITY
    theta_33 = theta_33 - 0.2 * (theta_sat - adjusted_sat)
    theta_sat = adjusted_sat

    wilt = np.maximum(theta_1500, MIN_GAP)
    full = np.maximum(theta_33, wilt + MIN_GAP)
    sat = np.maximum(theta_sat, full + MIN_GAP)
    bent = (wilt != theta_1500) | (full != theta_33) | (sat != theta_sat)

    slope = (np.log(full) - np.log(wilt)) / (np.log(1500) - np.log(33))  # lambda = 1/B
    ksat = 1930 * (sat - full) ** (3 - slope)
    return SaxtonRawls(
        theta_1500=wilt,
        theta_33=full,
        theta_sat=sat,
        ksat_mm_h=ksat,
        clamped=outside | bent | off_density,
    )
