"""Deficit of a block at one instant from all its sites, with its uncertainty."""

from dataclasses import dataclass

import numpy as np

from core.advice.inputs import BlockInputs
from core.arrays import Floats
from core.instrument.kinds import kinds
from core.instrument.site import Site
from core.soil.profile import Profile
from core.store.combine import combine_sites
from core.store.deficit import root_zone_deficit

# A reading this young is taken as of now; an older one is carried forward by water use.
FRESH_HOURS = 3.0
# Working assumptions of uncertainty, no source: soil no sensor speaks for [m3/m3], and the
# share of the water use since the last reading.
UNSEEN_SIGMA = 0.03
CARRIED_SHARE_SIGMA = 0.15


@dataclass(frozen=True)
class SiteEstimate:
    """One site at the instant; water depths [mm], ``read`` is before carrying it to now."""

    site: Site
    read_deficit_mm: float
    surplus_mm: float
    unseen_mm: float
    used_since_mm: float
    watered_since_mm: float
    deficit_mm: float
    sigma_mm: float


@dataclass(frozen=True)
class Estimate:
    """The block at the instant; ``sites`` are those with a word, each with its weight."""

    sites: tuple[SiteEstimate, ...]
    weight: tuple[float, ...]
    deficit_mm: float
    surplus_mm: float
    sigma_mm: float


def _site_estimate(
    inputs: BlockInputs, site: Site, root_mm: float, etc_mm_day: float
) -> SiteEstimate | None:
    theta, hour = site.latest()
    if not site.believed.any():
        return None
    now = root_zone_deficit(inputs.profile, site.depth_mm, theta[None, :], np.array([root_mm]))
    read = float(now.deficit_mm[0])
    age = -float(np.nanmax(hour))
    used = watered = 0.0
    if age > FRESH_HOURS:
        used = etc_mm_day * age / 24
        watered = sum(w.net_mm for w in inputs.waterings if -age < w.hours <= 0)
    unseen = float(now.unseen_mm[0])
    spread = kinds()[site.kind].theta_sigma * min(root_mm, inputs.profile.root_limit_mm)
    sigma = float(np.hypot(np.hypot(spread, UNSEEN_SIGMA * unseen), CARRIED_SHARE_SIGMA * used))
    return SiteEstimate(
        site=site,
        read_deficit_mm=read,
        surplus_mm=float(now.surplus_mm[0]),
        unseen_mm=unseen,
        used_since_mm=used,
        watered_since_mm=watered,
        deficit_mm=max(read + used - watered, 0.0),
        sigma_mm=sigma,
    )


def estimate(inputs: BlockInputs, root_mm: float, etc_mm_day: float) -> Estimate | None:
    """Deficit now, sites weighted by trust; None when no site has a trusted word.

    Parameters
    ----------
    inputs : BlockInputs
    root_mm : float [mm]
    etc_mm_day : float [mm/day]
        Carries a reading that is not fresh forward to the instant.
    """
    found = [_site_estimate(inputs, site, root_mm, etc_mm_day) for site in inputs.sites]
    sites = tuple(x for x in found if x is not None)
    if not sites:
        return None
    combined = combine_sites(
        [[x.deficit_mm] for x in sites], [[max(x.sigma_mm, 0.1)] for x in sites]
    )
    weight = combined.weight[:, 0]
    return Estimate(
        sites=sites,
        weight=tuple(float(w) for w in weight),
        deficit_mm=float(combined.value[0]),
        surplus_mm=float(sum(w * x.surplus_mm for w, x in zip(weight, sites, strict=True))),
        sigma_mm=float(combined.sigma[0]),
    )


def deficit_by_depth(profile: Profile, now: Estimate, root_mm: Floats) -> Floats:
    """Deficit down to several root depths, as the sensors saw the soil at their last word.

    Parameters
    ----------
    root_mm : array, shape (n,) [mm]

    Returns
    -------
    array, shape (n,) [mm]
        Sites weighted as in the estimate; differences along it are what growing roots meet.
    """
    total = np.zeros(root_mm.shape)
    for weight, part in zip(now.weight, now.sites, strict=True):
        theta, _ = part.site.latest()
        rows = np.broadcast_to(theta, (root_mm.size, theta.size))
        reached = root_zone_deficit(profile, part.site.depth_mm, rows, root_mm)
        total += weight * reached.deficit_mm
    return total
