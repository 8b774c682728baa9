"""All that is wrong with a block: instruments first, and one name for one cause."""

from collections.abc import Sequence
from dataclasses import replace

from core.diagnosis.between_sites import between_sites
from core.diagnosis.block import SeenBlock
from core.diagnosis.cause import Cause
from core.diagnosis.clock import clock_off
from core.diagnosis.depth_reached import depth_reached
from core.diagnosis.drift import drifting, settling
from core.diagnosis.finding import Finding
from core.diagnosis.found_again import found_again
from core.diagnosis.instrument_faults import (
    broken_columns,
    jumps_together,
    poor_contact,
    water_down_tube,
)
from core.diagnosis.limits_seen import limits_seen
from core.diagnosis.not_logged import not_logged
from core.diagnosis.not_run import not_run
from core.diagnosis.responses import responses_of
from core.diagnosis.silent import silent
from core.diagnosis.use_seen import use_seen
from core.diagnosis.wet_subsoil import wet_subsoil
from core.quality.climbs import DAY_HOURS

# What is said of single irrigations goes back so far, of habits and trends so far [h].
RECENT_H, SEASON_H = 21 * DAY_HOURS, 60 * DAY_HOURS


def diagnose(block: SeenBlock) -> list[Finding]:
    """What is wrong with a block now.

    Returns
    -------
    list of Finding
        Faults of instruments first. A sensor that is found to be at fault says nothing of water; a
        site whose clock or tube is at fault says nothing of irrigations.
    """
    faults = [
        *silent(block),
        *broken_columns(block, -RECENT_H),
        *jumps_together(block, -RECENT_H),
        *clock_off(block, -SEASON_H),
        *water_down_tube(block, -SEASON_H),
        *poor_contact(block, -SEASON_H),
        *drifting(block),
        *settling(block),
    ]
    sound = _without(block, faults)
    responses = responses_of(sound)
    uneven = between_sites(sound, responses, -SEASON_H)
    odd = {f.site for f in uneven if f.site is not None}
    water = [
        *not_run(sound, responses, -RECENT_H),
        *not_logged(sound, -RECENT_H),
        *uneven,
        *found_again(sound, responses, -SEASON_H, odd),
    ]
    below = [*depth_reached(sound, -SEASON_H), *wet_subsoil(sound)]
    use = use_seen(sound, -SEASON_H)
    return _one_name([*faults, *water, *below, *use, *limits_seen(sound)])


# A site with one of these can't be believed about when and how much water came.
_DISTRUSTED = (Cause.CLOCK_OFF, Cause.WATER_DOWN_TUBE, Cause.JUMPS_TOGETHER)
_SPOILS_SENSOR = (Cause.POOR_CONTACT, Cause.SENSOR_DRIFTS)


def _without(block: SeenBlock, faults: Sequence[Finding]) -> SeenBlock:
    """The block as its sound sensors see it; a distrusted site keeps its place, without a word."""
    sites = []
    for s, site in enumerate(block.sites):
        own = [f for f in faults if f.site == s]
        bad = {f.sensor for f in own if f.cause in _SPOILS_SENSOR and f.sensor is not None}
        if any(f.cause in _DISTRUSTED for f in own):
            every = set(range(site.record.site.depth_mm.size))
            sites.append(site.without(every))
        else:
            sites.append(site.without(bad))
    return replace(block, sites=tuple(sites))


def _one_name(findings: list[Finding]) -> list[Finding]:
    """Findings without those that another one of the same place explains."""
    return [f for f in findings if not any(_explains(g, f) for g in findings)]


def _explains(by: Finding, other: Finding) -> bool:
    here = by.site is None or other.site is None or by.site == other.site
    return here and other.cause in _EXPLAINED.get(by.cause, ())


# What each cause also looks like.
_EXPLAINED: dict[Cause, tuple[Cause, ...]] = {
    Cause.WATER_DOWN_TUBE: (Cause.JUMPS_TOGETHER,),
    Cause.TABLE_RISES: (Cause.PASSES_ROOTS, Cause.POOR_DRAINAGE, Cause.ROOTS_OFF),
    Cause.PASSES_ROOTS: (Cause.POOR_DRAINAGE, Cause.RATE_OFF),
    Cause.USE_OFF: (Cause.RATE_OFF,),
    Cause.SITE_DRY: (Cause.SHORT_OF_WATER, Cause.ROOTS_OFF, Cause.RUN_TOO_SHORT),
    Cause.SHORT_OF_WATER: (Cause.ROOTS_OFF,),
    Cause.RUN_TOO_SHORT: (Cause.ROOTS_OFF,),
}
