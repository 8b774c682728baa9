"""What blocks hold and will use on the days ahead: what a plan for all of them starts from."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from core.advice.assess import season_or_why
from core.advice.cost_of_set import wetting_mm
from core.advice.decide import Decisions, decide
from core.advice.inputs import BlockInputs
from core.advice.judge import Judgement
from core.advice.members_hold import MembersHold
from core.advice.members_need import members_need
from core.arrays import Floats
from core.crop.season import CropSeason


@dataclass(frozen=True)
class NeedsAhead:
    """A block on the days of the farm's calendar, today first; depths over its whole ground [mm].

    depletion_mm : array, shape (members,), now
    use_mm, water_mm : arrays, shape (members, days), crop use without stress, of today what is
        still to come; and rain that enters with what rises from below, irrigations left out
    raw_mm, taw_mm : arrays, shape (days,)
    book_day : float, of the crop's calendar
    et0_mm_day : float [mm/day], expected
    leaching_share : float [-], of the next irrigation, that is to pass the roots
    wetting_mm : float, of each irrigation, that evaporates beside crop use
    finished : bool, whether the crop needs no more water before it is over
    room_mm : float, what is left unfilled by each irrigation
    holds : what each member holds; None where the store is not the soil's
    most_mm : float, net, all that may still be given before the crop is over
    """

    season: CropSeason
    depletion_mm: Floats
    use_mm: Floats
    water_mm: Floats
    raw_mm: Floats
    taw_mm: Floats
    book_day: float
    et0_mm_day: float
    leaching_share: float
    wetting_mm: float
    finished: bool = False
    room_mm: float = 0.0
    holds: MembersHold | None = None
    most_mm: float = np.inf


def needs_ahead(blocks: Sequence[BlockInputs], days: int) -> tuple[NeedsAhead | None, ...]:
    """Needs of blocks of one farm at one instant, computed together.

    Parameters
    ----------
    blocks : sequence of BlockInputs
        All with the same ``now`` and forecast.
    days : int

    Returns
    -------
    tuple of NeedsAhead or None
        None where nothing may be said of a block: no crop, no ET, or no state to go by.
    """
    seasons = [season_or_why(b) for b in blocks]
    grown = [(b, s) for b, s in zip(blocks, seasons, strict=True) if isinstance(s, CropSeason)]
    if not grown:
        return (None,) * len(blocks)
    decisions = decide([b for b, _ in grown], [s for _, s in grown])
    found = iter(needs_of(decisions, days))
    return tuple(next(found) if isinstance(s, CropSeason) else None for s in seasons)


def needs_of(d: Decisions, days: int) -> list[NeedsAhead | None]:
    """Needs of the blocks of decisions; None where nothing may be said of one."""
    g, now = d.gathered, d.gathered.past_days
    ahead = slice(now, now + days)
    use, water = members_need(g, d.track, days)
    shares = np.array([b.assumed.wetted_share for b in g.blocks])
    known = Judgement(d).known
    wetting = wetting_mm(g.kc[:, now], shares)
    return [
        NeedsAhead(
            season=g.seasons[i],
            depletion_mm=np.clip(d.member_depletion_mm[i], 0.0, g.zones.taw_mm[i, now]),
            use_mm=use[i],
            water_mm=water[i],
            raw_mm=g.zones.raw_mm[i, ahead],
            taw_mm=g.zones.taw_mm[i, ahead],
            book_day=float(g.limits.crop.book_day[i, now]),
            et0_mm_day=block.assumed.stated_et.expected,
            leaching_share=float(d.leaching.share[i]),
            wetting_mm=float(wetting[i]),
            finished=bool(d.finished[i]),
            holds=d.members_hold.of(i),
            most_mm=float(d.end.lacking_mm[i]),
        )
        if known[i]
        else None
        for i, block in enumerate(g.blocks)
    ]
