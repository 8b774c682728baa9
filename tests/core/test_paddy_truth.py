"""Simulated paddies watered as the advice says, see `bench/bench_paddies.py` for all forty."""

import numpy as np
import pytest

from core.ponded.phases import PHASES, Phase
from core.regime.ponded_season import ponded_season
from core.world.paddy_trial import PaddySeason, run_seasons

SEASONS = 9


@pytest.fixture(scope="module")
def seasons() -> tuple[PaddySeason, ...]:
    return run_seasons(range(SEASONS))


def of_phase(season: PaddySeason, phase: Phase) -> np.ndarray:
    day = np.arange(season.level_mm.size) // 24
    return season.phases.index[day] == PHASES.index(phase)


def test_flowering_stands_at_5_cm(seasons: tuple[PaddySeason, ...]) -> None:
    assert min(s.level_mm[of_phase(s, Phase.FLOWERING)].min() for s in seasons) >= 50


def test_no_threshold_is_passed_by_2_cm(seasons: tuple[PaddySeason, ...]) -> None:
    dried = [s.tube_mm[of_phase(s, Phase.WETTING_AND_DRYING)].min() for s in seasons]
    assert min(dried) >= -170
    # And it is dried indeed.
    assert max(dried) <= -130


def test_what_is_said_to_be_saved_is(seasons: tuple[PaddySeason, ...]) -> None:
    errors = []
    for s in seasons:
        told = ponded_season(s.record)
        assert told is not None
        errors.append(100 * (told.water.saved[1] - (1 - s.given_mm / s.continuous_mm)))
    assert abs(np.mean(errors)) <= 3
    assert np.abs(errors).mean() <= 5
