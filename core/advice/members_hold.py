"""What the members of blocks hold in their roots, and what they can."""

from dataclasses import dataclass

import numpy as np

from core.advice.gather import Gathered
from core.advice.state_now import State, sensors_lead
from core.arrays import Floats
from core.estimate.ahead import CASES, DEPLETION, TAW
from core.outlook.forecast import scores


@dataclass(frozen=True)
class MembersHold:
    """Water above wilting of members, over the whole ground of their blocks; arrays of the same
    shape, (blocks, CASES) or of one block (CASES,) [mm].

    available_mm : now
    taw_mm : at most
    """

    available_mm: Floats
    taw_mm: Floats

    def of(self, row: int) -> "MembersHold":
        """Of one block."""
        return MembersHold(self.available_mm[row], self.taw_mm[row])


def members_hold(g: Gathered, state: State) -> MembersHold:
    """What each member holds now and at most: a soil may hold less above wilting than it is told
    to, and then what is left of it is less too."""
    track, now = state.track, g.past_days
    taw = g.zones.taw_mm[:, now, None]
    sigma = np.nan_to_num(track.taw_sigma_mm[:, -1:])
    most = np.maximum(taw + sigma * scores(CASES, 3), 0.0)
    held = most - (track.depletion_mm[:, -1:] + track.sigma_mm[:, -1:] * scores(CASES, 1))
    if state.ahead is not None:
        near = ~sensors_lead(g)
        share = np.array([b.assumed.wetted_share for b in g.blocks])[:, None]
        own_taw, own_gone = (state.ahead[:, of, :, 0] * share for of in (TAW, DEPLETION))
        # Those that run on are a part of all: by chance they hold a little more or less.
        own_taw += taw - own_taw.mean(axis=1, keepdims=True)
        own_gone += track.depletion_mm[:, -1:] - own_gone.mean(axis=1, keepdims=True)
        most[near] = np.maximum(own_taw, 0.0)[near]
        held[near] = (own_taw - own_gone)[near]
    # A surplus runs off to below before the crop gets it.
    return MembersHold(np.clip(np.nan_to_num(held), 0.0, most), most)
