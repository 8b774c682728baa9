"""What a sensor in one horizon says of another: neighbours have the same tension."""

from dataclasses import dataclass

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


@dataclass(frozen=True)
class EqualTension:
    """What goes with a sensor's tension in another horizon; arrays (pairs, times) [kPa].

    own_kpa, own_full_kpa : where the sensor is, and when it is full there
    other_kpa, other_full_kpa : the same in the other horizon
    """

    own_kpa: Floats
    own_full_kpa: Floats
    other_kpa: Floats
    other_full_kpa: Floats


def _of(values: Floats, site: np.ndarray, horizon: np.ndarray) -> Floats:
    return values[site, horizon][:, None]


def equal_tension(
    soils: Profiles, share: Floats, site: np.ndarray, own: np.ndarray, other: np.ndarray
) -> EqualTension:
    """The tension of another horizon from the share of water left where a sensor is.

    Parameters as of `share_in_other`, whose notes say why.
    """
    here, there = (soils.curves_at(site[:, None], h[:, None]) for h in (own, other))
    fine = 1 - _of(soils.gravel, site, own)
    full = np.clip(here.tension_at(_of(soils.theta_full, site, own) / fine), *FULL_TENSION_KPA)
    content = _of(soils.theta_wilt, site, own) + share * _of(soils.available, site, own)
    psi = np.clip(here.tension_at(content / fine), full, WILTING_TENSION_KPA)
    gone = np.log(psi / full) / np.log(WILTING_TENSION_KPA / full)
    fine = 1 - _of(soils.gravel, site, other)
    held = _of(soils.theta_full, site, other) / fine
    other_full = np.clip(there.tension_at(held), *FULL_TENSION_KPA)
    other_psi = other_full * (WILTING_TENSION_KPA / other_full) ** gone
    return EqualTension(psi, full, other_psi, other_full)


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
    psi = equal_tension(soils, share, site, own, other).other_kpa
    there = soils.curves_at(site[:, None], other[:, None])
    theta = there.theta_at(psi) * (1 - _of(soils.gravel, site, other))
    wilt, available = (_of(x, site, other) for x in (soils.theta_wilt, soils.available))
    left = np.clip((theta - wilt) / available, 0.0, 1.0)
    return np.where((share > 0) & (share < 1), left, share)
