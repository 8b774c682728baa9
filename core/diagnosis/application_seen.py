"""How much of the water on record reached the soil of a block: its rate and efficiency as seen."""

from dataclasses import dataclass
from enum import StrEnum

from core.diagnosis.block import SeenBlock
from core.diagnosis.cause import Cause
from core.diagnosis.found_again import FEWEST, lost_in_parts
from core.diagnosis.periods import SEASON_H
from core.diagnosis.sound_block import sound_block
from core.diagnosis.use_seen import use_seen
from core.diagnosis.water_found import water_found
from core.events.stored import EIGHT_OF_TEN

# Of water that came, sensors find so much in the middle [-]: some of it is used or has moved on
# before it is measured. Set on both simulated truths (0.95 and 0.91), see docs/diagnosis.md.
USUALLY_FOUND = 0.93


class ApplicationFit(StrEnum):
    """What was found beside what is on record."""

    FITS = "fits"
    DIFFERS = "differs"
    OTHER_CAUSE = "other cause"


@dataclass(frozen=True)
class ApplicationSeen:
    """Water that came over the net water on record [-]: best figure and its middle 80 percent.

    ``irrigations`` tell it, at ``sites`` sites; ``from_hours`` is when the first of them began [h
    from now]. ``cause`` is what else makes less or more of them be found; then rate and efficiency
    can't be told.
    """

    irrigations: int
    sites: int
    share: float
    low: float
    high: float
    from_hours: float
    cause: Cause | None

    @property
    def fit(self) -> ApplicationFit:
        """Whether what is on record lies within the range."""
        if self.cause is not None:
            return ApplicationFit.OTHER_CAUSE
        if self.low <= 1.0 <= self.high:
            return ApplicationFit.FITS
        return ApplicationFit.DIFFERS


def application_seen(block: SeenBlock) -> ApplicationSeen | None:
    """What sensors of content found of a block's irrigations since its rate was last changed; None
    with fewer than four that a sound site could measure."""
    sound = sound_block(block)
    found = water_found(sound.block, sound.responses, -SEASON_H, sound.odd)
    if found.rows.size < FEWEST:
        return None
    cause = lost_in_parts(found)
    if cause is None and any(f.cause is Cause.USE_OFF for f in use_seen(sound.block, -SEASON_H)):
        # What the crop took while water was coming is counted as stated.
        cause = Cause.USE_OFF
    share, off = found.typical / USUALLY_FOUND, EIGHT_OF_TEN * found.spread / USUALLY_FOUND
    return ApplicationSeen(
        irrigations=int(found.rows.size),
        sites=found.sites,
        share=share,
        low=max(share - off, 0.0),
        high=share + off,
        from_hours=float(sound.responses.start[found.rows[0]]),
        cause=cause,
    )
