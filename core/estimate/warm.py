"""Compiles the ensembles' machine code once, so that no request has to wait for it."""

import numpy as np

from core.crop.catalogue import crop
from core.estimate.ahead import DaysAhead, run_on
from core.estimate.blocks import Ensembles, Grounds
from core.estimate.ensemble import FORCES
from core.estimate.ground import block_ground
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass


def warm() -> None:
    """Carry one block through one step, and on through a day."""
    profile = Profile.from_horizons([Horizon(0, 1000, texture=TextureClass.LOAM)])
    grounds = Grounds.of([block_ground(profile, crop("potato"), [])])
    force = np.full((1, 1, FORCES), 0.5)
    silent = np.full((1, 1, 1), np.nan)
    ensembles = Ensembles.begin(grounds, [0])
    water, evening = np.zeros((1, 1, 2)), np.zeros(1, bool)
    ensembles.carry(grounds, force, water, silent, silent, silent, silent, evening)
    day, one = np.full((1, 1), 0.5), np.full(1, 0.5)
    run_on(
        ensembles, grounds, DaysAhead(day, day, day, day, day, day[None], day, day, day, one, one)
    )


if __name__ == "__main__":
    warm()
