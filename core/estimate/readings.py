"""Readings of a block's instruments at the ends of the steps, as water content with its error."""

from collections.abc import Sequence

import numpy as np

from core.arrays import Floats
from core.estimate.forcing import STEP_H, Steps
from core.estimate.ground import BlockGround
from core.estimate.soils import tension_content
from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.site import Site
from core.instrument.trust import Doubt
from core.soil.profile import Profile

# Error of a tension: of its curve [m3/m3], in kPa, and as a share of itself.
TENSION_CURVE_SD, TENSION_KPA_SD, TENSION_SHARE_SD, MATRIX_SHARE_SD = 0.025, 1.0, 0.1, 0.15
# A granular-matrix sensor tells of a soil this wet, or this dry, only that it is [kPa]: the
# resistance hardly moves below, and loggers end their tables above (common practice, no source).
MATRIX_BLIND_KPA, MATRIX_DRIEST_KPA = 10.0, 199.0
THETA_SD = 0.015
# What a person judged by hand errs by [m3/m3].
BY_HAND_SD = 0.03


def _content(site: Site, rows: np.ndarray, profile: Profile) -> Floats:
    """Water content at some readings, its error, and what the soil holds at least or at most where
    a reading tells no more; (4, rows, depths), NaN where nothing may be believed."""
    doubt = site.doubt[rows]
    trusted = (doubt == "") | (doubt == str(Doubt.STALE))
    quantity = kinds()[site.kind].quantity
    if quantity is not Quantity.TENSION:
        by_hand = site.kind in (InstrumentKind.FEEL_CHECK, InstrumentKind.CORE_SAMPLE)
        sd = BY_HAND_SD if by_hand else THETA_SD
        theta = np.where(trusted, site.theta[rows], np.nan)
        none = np.full(theta.shape, np.nan)
        return np.stack([theta, np.full(theta.shape, sd), none, none])
    matrix = site.kind is InstrumentKind.GRANULAR_MATRIX
    least = MATRIX_BLIND_KPA if matrix else 0.0
    tension = np.where(trusted, np.maximum(site.value[rows], least), np.nan)
    content, slope = tension_content(profile, site.depth_mm, tension)
    share = MATRIX_SHARE_SD if matrix else TENSION_SHARE_SD
    moved = slope * np.hypot(TENSION_KPA_SD / np.maximum(tension, 1.5), share)
    wet, dry = matrix & (tension <= MATRIX_BLIND_KPA), matrix & (tension >= MATRIX_DRIEST_KPA)
    return np.stack(
        [
            np.where(wet | dry, np.nan, content),
            np.hypot(TENSION_CURVE_SD, moved),
            np.where(wet, content, np.nan),
            np.where(dry, content, np.nan),
        ]
    )


def readings_of(
    ground: BlockGround, sites: Sequence[Site], profile: Profile, steps: Steps
) -> Floats:
    """Each sensor's reading nearest to the end of each step.

    Parameters
    ----------
    ground : BlockGround
    sites : sequence of Site, as `block_ground` had them
    profile : Profile
    steps : Steps

    Returns
    -------
    array, shape (4, steps, sensors) [m3/m3]
        Reading, its error, and what the soil holds at least, or at most, where a sensor can't tell
        how much wetter or drier it is; NaN where none lies within half a step of its end.
    """
    out = np.full((4, steps.count, ground.sensors), np.nan)
    middle = 0.5 * (steps.end[:-1] + steps.end[1:])
    for number, site in enumerate(sites):
        columns = np.flatnonzero(ground.site == number)
        if not columns.size or not site.hours.size:
            continue
        near = np.searchsorted(middle, site.hours)
        off = np.abs(site.hours - steps.end[near])
        usable = off <= STEP_H / 2
        # Far ones first, so that the nearest of a step is written last.
        order = np.argsort(-off, kind="stable")
        order = order[usable[order]]
        site_content = _content(site, order, profile)
        for c in columns:
            own = site_content[:, :, ground.column[c]]
            kept = ~np.isnan(own[[0, 2, 3]]).all(axis=0)
            out[:, near[order][kept], c] = own[:, kept]
    return out
