"""Forty seasons of simulated paddies, watered as the advice says; tubes read by hand.

Flowering never stands below 5 cm, no tube falls 2 cm below the threshold, and what is said to be
saved is what was. The paddies have a model of their own, see `core.world.paddy`.
"""

import numpy as np

from bench.figures import Figure, run
from core.ponded.phases import PHASES, Phase
from core.regime.ponded_season import ponded_season
from core.world.paddy_trial import PaddySeason, run_seasons

SEASONS = 40


def in_phase(season: PaddySeason, phase: Phase) -> np.ndarray:
    day = np.arange(season.level_mm.size) // 24
    found: np.ndarray = season.phases.index[day] == PHASES.index(phase)
    return found


def saved_wrong(season: PaddySeason) -> float:
    """Points by which the share that is said to be saved misses the truth."""
    told = ponded_season(season.record)
    assert told is not None
    return 100 * (told.water.saved[1] - (1 - season.given_mm / season.continuous_mm))


def measure() -> list[Figure]:
    seasons = run_seasons(range(SEASONS))
    flowering = min(s.level_mm[in_phase(s, Phase.FLOWERING)].min() for s in seasons)
    dried = min(s.tube_mm[in_phase(s, Phase.WETTING_AND_DRYING)].min() for s in seasons)
    wrong = np.array([saved_wrong(s) for s in seasons])
    return [
        Figure("lowest level in flowering", float(flowering), "mm", 50, "at least"),
        Figure("lowest tube in drying, threshold -150", float(dried), "mm", -170, "at least"),
        Figure("savings, mean error", abs(float(wrong.mean())), "points", 1),
        Figure("savings, mean distance from the truth", float(np.abs(wrong).mean()), "points", 5),
        Figure(
            "seasons within five points of it",
            float((np.abs(wrong) <= 5).mean()),
            "",
            0.65,
            "at least",
        ),
    ]


if __name__ == "__main__":
    run(measure)
