import numpy as np
import pytest

from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.siting.probe_stores import probe_stores
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass

PROFILE = Profile.from_horizons([Horizon(0, 1000, texture=TextureClass.LOAM)])


def site(depth_mm, hours, theta):
    kind = InstrumentKind.CAPACITANCE_PROBE
    return Site.from_readings("P", kind, depth_mm, hours, theta, PROFILE)


def test_stores_over_the_depth_that_all_see():
    """Layers by hand: 0-200 and 200-400 mm of the first, 0-300 and 300-600 of the second, of
    which 100 mm lie above 400."""
    one = site([100, 300], [-30, -2], [[0.2, 0.3], [0.1, 0.3]])
    other = site([150, 450], [-25, -1], [[0.2, 0.4], [0.3, 0.4]])
    found = probe_stores([one, other], days=3)
    assert found.depth_mm == 400
    assert found.store_mm[0] == pytest.approx([np.nan, 100, 80], nan_ok=True)
    assert found.store_mm[1] == pytest.approx([np.nan, 100, 130], nan_ok=True)


def test_a_sensor_below_the_shared_depth_need_not_speak():
    shallow = site([100, 200], [-1], [[0.2, 0.2]])
    deep = site([100, 300, 900], [-1], [[0.2, 0.2, np.nan]])
    found = probe_stores([shallow, deep], days=1)
    assert found.depth_mm == 250
    assert found.store_mm.ravel() == pytest.approx([50, 50])


def test_a_silent_sensor_within_it_leaves_the_day_unknown():
    found = probe_stores([site([100, 300], [-1], [[0.2, np.nan]])], days=2)
    assert np.isnan(found.store_mm).all()


def test_probes_too_shallow_to_compare():
    assert probe_stores([site([80], [-1], [[0.2]])], days=1) is None
    assert probe_stores([], days=1) is None
