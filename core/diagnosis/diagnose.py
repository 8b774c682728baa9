"""All that is wrong with a block: instruments first, and one name for one cause."""

from core.diagnosis.block import SeenBlock
from core.diagnosis.cause import Cause
from core.diagnosis.depth_reached import depth_reached
from core.diagnosis.finding import Finding
from core.diagnosis.found_again import found_again
from core.diagnosis.limits_seen import limits_seen
from core.diagnosis.not_logged import not_logged
from core.diagnosis.not_run import not_run
from core.diagnosis.periods import RECENT_H, SEASON_H
from core.diagnosis.sound_block import sound_block
from core.diagnosis.use_seen import use_seen
from core.diagnosis.wet_subsoil import wet_subsoil


def diagnose(block: SeenBlock) -> list[Finding]:
    """What is wrong with a block now.

    Returns
    -------
    list of Finding
        Faults of instruments first. A sensor that is found to be at fault says nothing of water; a
        site whose clock or tube is at fault says nothing of irrigations.
    """
    sound = sound_block(block)
    rest, responses = sound.block, sound.responses
    water = [
        *not_run(rest, responses, -RECENT_H),
        *not_logged(rest, -RECENT_H),
        *sound.uneven,
        *found_again(rest, responses, -SEASON_H, sound.odd),
    ]
    below = [*depth_reached(rest, -SEASON_H), *wet_subsoil(rest)]
    use = use_seen(rest, -SEASON_H)
    return _one_name([*sound.faults, *water, *below, *use, *limits_seen(rest)])


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
