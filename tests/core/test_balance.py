"""The daily balance: what comes in goes somewhere, and stress, surplus and roots behave."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.arrays import Floats
from core.balance.coefficients import REW_MM, evaporation_coefficient, exposed_wet, kc_max
from core.balance.root_zone import RootZoneDay, balance_day, grow
from core.balance.surface_layer import SurfaceLayer, surface_day
from core.soil.texture import TextureClass

SIZES = st.integers(1, 6)


def zone(
    taw: Floats | float = 100.0,
    raw: Floats | float = 50.0,
    drain: float = 0.7,
    grown: Floats | float = 0.0,
    room: float = 120.0,
) -> RootZoneDay:
    arrays = (np.asarray(x, float) for x in (taw, raw, 50.0, grown, room, drain))
    return RootZoneDay(*arrays)


@given(
    st.lists(
        st.tuples(
            st.floats(-80, 100),  # depletion
            st.floats(0, 60),  # deficit below
            st.floats(0, 250),  # water in
            st.floats(0, 14),  # use
            st.floats(0, 5),  # bare soil
            st.floats(-0.5, 1),  # growth
            st.floats(0, 1),  # draining
        ),
        min_size=1,
        max_size=20,
    )
)
def test_mass_is_conserved_to_rounding(
    rows: list[tuple[float, float, float, float, float, float, float]],
) -> None:
    d, below, water, use, bare, grown, drain = np.array(rows).T
    z = RootZoneDay(
        np.full(d.shape, 100.0),
        np.full(d.shape, 50.0),
        np.full(d.shape, 60.0),
        grown,
        np.full(d.shape, 90.0),
        drain,
    )
    after = balance_day(d, below, z, water, use, bare)
    change = after.depletion_mm + after.below_mm - d - below
    flows = after.et_mm + after.percolated_mm + after.runoff_mm - water
    assert change == pytest.approx(flows, abs=1e-9)
    for flow in (after.et_mm, after.percolated_mm, after.runoff_mm, after.drained_mm):
        assert np.all(flow >= -1e-12)


@given(st.floats(-20, 90), st.floats(0, 40), st.floats(0, 40), st.floats(0, 12))
def test_more_water_never_leaves_less(d: float, water: float, more: float, use: float) -> None:
    some = balance_day(d, 10.0, zone(), water, use).depletion_mm
    lots = balance_day(d, 10.0, zone(), water + more, use).depletion_mm
    assert lots <= some + 1e-9


def test_stress_slows_the_use_and_wilting_ends_it() -> None:
    after = balance_day([0.0, 50.0, 75.0, 100.0], 0.0, zone(), 0.0, 6.0)
    assert after.ks == pytest.approx([1, 1, 0.5, 0])
    assert after.et_mm == pytest.approx([6, 6, 3, 0])
    # Even at full demand no water is used that is not there.
    last = balance_day(98.0, 0.0, zone(raw=99.0), 0.0, 6.0)
    assert last.et_mm == pytest.approx(2)


def test_a_surplus_drains_over_days_and_fills_the_soil_below_first() -> None:
    d: Floats = np.array(-30.0)
    below: Floats = np.array(20.0)
    gone = []
    for _ in range(5):
        day = balance_day(d, below, zone(drain=0.5), 0.0, 0.0)
        d, below = day.depletion_mm, day.below_mm
        gone.append(float(day.percolated_mm))
    assert d == pytest.approx(-30 * 0.5**5)
    assert gone == pytest.approx([0, 2.5, 3.75, 1.875, 0.9375])


def test_what_the_pores_cannot_hold_runs_off() -> None:
    day = balance_day(10.0, 0.0, zone(room=40.0, drain=0.0), 80.0, 0.0)
    assert (day.runoff_mm, day.depletion_mm) == (pytest.approx(30), pytest.approx(-40))


def test_roots_meet_the_water_that_the_new_soil_holds() -> None:
    inside, below = grow(20.0, 30.0, 0.5)
    assert (inside, below) == (pytest.approx(35), pytest.approx(15))
    # Roots that leave soil leave its deficit behind; a surplus stays above.
    assert grow(20.0, 30.0, -0.5) == (pytest.approx(10), pytest.approx(40))
    assert grow(-20.0, 30.0, -0.5) == (pytest.approx(-20), pytest.approx(30))


def test_evaporation_ends_as_the_top_dries() -> None:
    layer = SurfaceLayer(*(np.asarray(x) for x in (18.0, 8.0, 1.0, 0.3, False)))
    depleted: Floats = np.array(18.0)
    ke = []
    for rain in (20.0, *[0.0] * 9):
        day = surface_day(depleted, layer, 0.2, 5.0, rain, 0.0)
        depleted = day.depleted_mm
        ke.append(float(day.ke))
    assert ke[0] == pytest.approx(1.0)
    assert np.all(np.diff(ke) <= 1e-9)
    assert ke[-1] < 0.15
    assert depleted <= 18


def test_drip_wets_and_loses_less() -> None:
    common = (18.0, 8.0)
    drip = SurfaceLayer(*(np.asarray(x) for x in (*common, 0.3, 0.3, True)))
    flood = SurfaceLayer(*(np.asarray(x) for x in (*common, 1.0, 0.3, False)))
    by_drip = surface_day(18.0, drip, 0.4, 5.0, 0.0, 15.0, rained_last=False)
    by_flood = surface_day(18.0, flood, 0.4, 5.0, 0.0, 15.0)
    assert by_drip.ke < by_flood.ke


def test_the_crop_shades_what_drip_wets_below_it() -> None:
    """FAO-56, note to eq. 75, by hand: fc 0.6, fw 0.35: min(0.4, 0.35 (1 - 0.4)) = 0.21. Rain
    wets all of the ground, shaded or not: 0.4."""
    assert exposed_wet(0.6, 0.35, under_canopy=True) == pytest.approx(0.21)
    assert exposed_wet(0.6, 0.35) == pytest.approx(0.35)
    drip = SurfaceLayer(*(np.asarray(x) for x in (18.0, 8.0, 0.35, 0.3, True)))
    given = surface_day(0.0, drip, 0.7, 5.0, 0.0, 10.0, rained_last=False)
    rained = surface_day(0.0, drip, 0.7, 5.0, 10.0, 0.0, rained_last=True)
    cover = float(given.cover)
    assert given.exposed == pytest.approx(0.35 * (1 - 2 / 3 * cover))
    assert rained.exposed == pytest.approx(1 - cover)


def test_evaporation_never_goes_beyond_its_energy() -> None:
    highest = kc_max(0.9, 1.0, 2, 45)
    exposed = exposed_wet(0.8, 1.0)
    ke = evaporation_coefficient(1.0, highest, 0.3, exposed)
    assert ke == pytest.approx(0.2 * highest)
    assert evaporation_coefficient(1.0, highest, 1.3, exposed) == 0


def test_every_class_has_its_readily_evaporable_water() -> None:
    assert set(REW_MM) == set(TextureClass)
