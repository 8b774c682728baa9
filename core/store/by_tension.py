"""What a sensor in one horizon says of another: neighbours have the same tension."""

import numpy as np

from core.arrays import Floats
from core.soil.profiles import Profiles
from core.soil.retention import WILTING_TENSION_KPA

# Bounds of the tension that a horizon's curve has at full [kPa]: a curve entered by hand may be
# flat there (working assumption, no source).
FULL_TENSION_KPA = (0.5, 300.0)


def held_alike(soils: Profiles) -> np.ndarray:
    """A number for each horizon, the same where two hold water alike; array of int."""
    curve = soils.curve
    figures = (soils.theta_full, soils.theta_wilt, soils.gravel, curve.a, curve.b, curve.alpha)
    held = np.stack([*figures, curve.n]).reshape(len(figures) + 1, -1)
    _, kind = np.unique(np.nan_to_num(held), axis=1, return_inverse=True)
    out: np.ndarray = kind.reshape(soils.top_mm.shape)
    return out


def share_in_other(
    soils: Profiles, share: Floats, site: np.ndarray, own: np.ndarray, other: np.ndarray
) -> Floats:
    """Share of the available water left in one horizon, told by a sensor in another.

    Parameters
    ----------
    soils : Profiles, a profile for each site
    share : array, shape (pairs, times) [-]
        Left where the sensor is.
    site, own, other : array of int, shape (pairs,)
        The site, the horizon of the sensor, and the one that it speaks for.

    Returns
    -------
    array, shape (pairs, times) [-]

    Notes
    -----
    Neighbours exchange water until their tension is the same. Both are full once both have
    drained, whatever tension each is said to be full at, so that tension counts, as a logarithm,
    from each one's own full to wilting at 1500 kPa. Water above full is taken to be above full
    by as much in both (working assumption, no source).
    """
    here, there = (soils.curves_at(site[:, None], h[:, None]) for h in (own, other))

    def of(values: Floats, horizon: np.ndarray) -> Floats:
        return values[site, horizon][:, None]

    fine = 1 - of(soils.gravel, own)
    full_kpa = np.clip(here.tension_at(of(soils.theta_full, own) / fine), *FULL_TENSION_KPA)
    content = (of(soils.theta_wilt, own) + share * of(soils.available, own)) / fine
    psi = np.clip(here.tension_at(content), full_kpa, WILTING_TENSION_KPA)
    gone = np.log(psi / full_kpa) / np.log(WILTING_TENSION_KPA / full_kpa)
    fine = 1 - of(soils.gravel, other)
    full_kpa = np.clip(there.tension_at(of(soils.theta_full, other) / fine), *FULL_TENSION_KPA)
    theta = there.theta_at(full_kpa * (WILTING_TENSION_KPA / full_kpa) ** gone) * fine
    left = np.clip((theta - of(soils.theta_wilt, other)) / of(soils.available, other), 0.0, 1.0)
    return np.where((share > 0) & (share < 1), left, share)
