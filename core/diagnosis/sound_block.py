"""A block as its sound sensors see it: faults of instruments are found first."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from core.diagnosis.between_sites import between_sites
from core.diagnosis.block import SeenBlock
from core.diagnosis.cause import Cause
from core.diagnosis.clock import clock_off
from core.diagnosis.drift import drifting, settling
from core.diagnosis.finding import Finding
from core.diagnosis.instrument_faults import (
    broken_columns,
    jumps_together,
    poor_contact,
    water_down_tube,
)
from core.diagnosis.periods import RECENT_H, SEASON_H
from core.diagnosis.responses import Responses, responses_of
from core.diagnosis.silent import silent


@dataclass(frozen=True)
class SoundBlock:
    """What is left of a block without sensors at fault, and how it answered its irrigations.

    ``faults`` are those of instruments, ``uneven`` sites that get less than others.
    """

    block: SeenBlock
    faults: list[Finding]
    responses: Responses
    uneven: list[Finding]

    @property
    def odd(self) -> set[int]:
        """Places of the sites that get less than others."""
        return {f.site for f in self.uneven if f.site is not None}


def sound_block(block: SeenBlock) -> SoundBlock:
    """Find faults of instruments, and read the block without them."""
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
    rest = _without(block, faults)
    responses = responses_of(rest)
    return SoundBlock(rest, faults, responses, between_sites(rest, responses, -SEASON_H))


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
