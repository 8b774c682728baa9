"""Whole seasons in the small, on both truths: following the advice beats every simpler rule.

The large trial is `bench/bench_closed_loop.py`; its table stands in docs/closed-loop.md.
"""

import numpy as np
import pytest

from core.soil.texture import TextureClass
from core.world.climates import Climate
from core.world.farm import make_farm
from core.world.field_readings import Instruments
from core.world.layerings import uniform
from core.world.trial import Rule, run_trial
from core.world.truths import TruthKind

TEXTURES = (TextureClass.SANDY_LOAM, TextureClass.SILT_LOAM, TextureClass.CLAY_LOAM)
CROPS = ("maize-grain", "potato")
DAYS = 80


@pytest.mark.parametrize("kind", TruthKind)
def test_it_is_seldom_late_wastes_little_and_knows_its_range(kind: TruthKind) -> None:
    """Six fields say little of percents; the benchmark's hundreds hold it to those."""
    farm = make_farm(Climate.MIXED, uniform(TEXTURES), CROPS, DAYS, seed=3)
    trials = {rule: run_trial(farm, kind, rule, seed=5) for rule in Rule}
    app, calendar = trials[Rule.APP], trials[Rule.CALENDAR]
    assert app.stressed.mean() < 0.10
    assert app.stressed.mean() < 0.5 * trials[Rule.THRESHOLD].stressed.mean()
    assert app.given_mm.sum() < 0.85 * calendar.given_mm.sum()
    assert app.drained_mm.mean() < 0.7 * calendar.drained_mm.mean()
    assert app.given_mm.sum() > 0.9 * trials[Rule.PERFECT].given_mm.sum()
    assert np.isnan(app.error_mm[:, 0]).all(), "nothing is stated before the first reading"
    assert app.held[:, 1:].mean() > 0.5
    assert np.sqrt(np.nanmean(app.error_mm**2)) < 16


def test_water_that_nobody_logs_is_found() -> None:
    farm = make_farm(Climate.ARID, uniform([TextureClass.LOAM]), ("potato",), 60, seed=8)
    kind = TruthKind.RICHARDS
    logged = run_trial(farm, kind, Rule.APP, 9)
    silent = run_trial(farm, kind, Rule.APP, 9, Instruments.PROBE, unlogged=1.0)
    assert silent.stressed.mean() <= logged.stressed.mean() + 0.05
    assert silent.given_mm.sum() < 1.4 * logged.given_mm.sum()
