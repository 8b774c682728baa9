"""The drained level beside an exponential recession that scipy fits to the same readings.

A soil that drains under gravity in proportion to what it holds above its rest falls as
theta = rest + (wet - rest) exp(-t / tau); what passes the bottom of a depth D is D times its slope
(Hillel 1998, Environmental Soil Physics, ch. 16; the exponential form is common practice). It comes
down to 1 mm a day at rest + tau * 1 mm / D.
"""

import numpy as np
import pytest
from scipy.optimize import curve_fit

from core.arrays import Floats
from core.events.drained_level import drained_levels
from core.events.draining import DRAINED_MM_DAY
from core.events.reach import Reach
from core.events.record import SiteRecord
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

DEPTH = np.array([100.0, 200.0, 300.0])
# The deepest sensor is in the middle of its layer, down to the midpoint below: 350 mm above it.
HOURS = np.arange(-24.0 * 14, 1.0)
BEYOND = Reach(350.0, 300.0, float("inf"))
PROFILE = Profile.from_horizons([Horizon(0.0, 1600.0, texture=TextureClass.LOAM)])


def recession(days: Floats, rest: float, fell: float, tau: float) -> Floats:
    out: Floats = rest + fell * np.exp(-days / tau)
    return out


@pytest.mark.parametrize("noise", [0.0, 0.0005])
@pytest.mark.parametrize(("rest", "fell", "tau"), [(0.26, 0.06, 2.0), (0.31, 0.04, 3.0)])
def test_where_an_exponential_recession_comes_down_to_a_millimetre(
    rest: float, fell: float, tau: float, noise: float
) -> None:
    days = (HOURS - HOURS[0]) / 24
    rng = np.random.default_rng(8)
    theta = np.tile(recession(days, rest, fell, tau)[:, None], (1, DEPTH.size))
    theta += noise * rng.standard_normal(theta.shape)
    site = Site.from_readings("p", InstrumentKind.CAPACITANCE_PROBE, DEPTH, HOURS, theta, PROFILE)
    none = np.empty(0)
    record = SiteRecord(site, 0.0, (), none, none, none)
    levels = drained_levels(record, BEYOND, float(HOURS[0]), 0.0)
    for j, above_mm in enumerate(record.above(list(range(DEPTH.size))).sum(axis=0)):
        if np.isnan(levels[j]):
            continue
        fitted, _ = curve_fit(recession, days, theta[:, j], p0=(0.2, 0.1, 1.0))
        by_scipy = fitted[0] + fitted[2] * DRAINED_MM_DAY / above_mm
        # It is read off between two nights; noise may take it for the one before or after.
        night = (by_scipy - fitted[0]) * (np.exp(1 / fitted[2]) - 1)
        assert levels[j] == pytest.approx(by_scipy, abs=night if noise else 0.002)
    assert np.isfinite(levels).any()
