"""Balance and coefficients against FAO-56 (Allen et al. 1998), chapters 6-8, quoted from memory."""

import numpy as np
import pytest

from core.arrays import Floats
from core.balance.coefficients import (
    REW_MM,
    cover_of,
    evaporation_coefficient,
    evaporation_reduction,
    exposed_wet,
    kc_max,
    total_evaporable_mm,
)
from core.balance.root_zone import RootZoneDay, balance_day
from core.crop.climate import climate_term, in_climate
from core.soil.texture import TextureClass


@pytest.mark.parametrize("wind, rh_min, expected", [(1.3, 75, 1.07), (4.6, 44, 1.30)])
def test_maize_in_two_climates_example_28(wind: float, rh_min: float, expected: float) -> None:
    """Kc mid of maize 2 m high: a humid calm place and an arid windy one (eq. 62)."""
    assert in_climate(1.20, climate_term(wind, rh_min, 2.0)) == pytest.approx(expected, abs=0.005)


def test_a_low_kc_stays_as_the_table_has_it() -> None:
    assert in_climate([0.3, 0.44], climate_term(5, 20, 1.0)) == pytest.approx([0.3, 0.44])


def test_the_climates_influence_is_bounded() -> None:
    """Eq. 62 holds for 1-6 m/s, 20-80 percent, 0.1-10 m."""
    assert climate_term(9, 5, 2.0) == climate_term(6, 20, 2.0)
    assert climate_term(3, 30, 14.0) == climate_term(3, 30, 10.0)


def test_evaporable_water_of_table_19() -> None:
    """TEW of the typical soils in table 19, Ze 0.10 m: sand 6-12, loam 16-22, clay 22-29 mm."""
    assert 6 <= total_evaporable_mm(0.12, 0.045) <= 12
    assert 16 <= total_evaporable_mm(0.25, 0.12) <= 22
    assert 22 <= total_evaporable_mm(0.36, 0.22) <= 29
    assert 2 <= REW_MM[TextureClass.SAND] <= 7
    assert 8 <= REW_MM[TextureClass.LOAM] <= 10
    assert 8 <= REW_MM[TextureClass.CLAY] <= 12


def test_drying_soil_by_hand() -> None:
    """Eq. 71-76 redone by hand: Kcb 0.30, h 0.3 m, usual climate, 9 mm gone of TEW 18, REW 8."""
    highest = kc_max(0.30, 0.3, 2, 45)
    assert highest == pytest.approx(1.2)
    cover = cover_of(0.30, highest, 0.3)
    assert cover == pytest.approx((0.15 / 1.05) ** 1.15)
    exposed = exposed_wet(cover, 1.0)
    kr = evaporation_reduction(9.0, 18.0, 8.0)
    assert kr == pytest.approx(0.9)
    assert evaporation_coefficient(kr, highest, 0.30, exposed) == pytest.approx(0.81)


def test_tomatoes_run_dry_as_in_example_36() -> None:
    """The set-up of example 36: TAW 160 mm (0.32 - 0.12 over 0.8 m), p 0.40, RAW 64, Kc 1.2,
    55 mm gone at the start. The daily ET0 is our own; the figures are redone by hand with
    eq. 84 and 85, Ks by the depletion at the start of the day."""
    et0 = [4.8, 4.7, 5.0, 5.0]
    zone = RootZoneDay(
        *(np.asarray(x, float) for x in (160.0, 64.0, 0.0, 0.0, 100.0, 1.0)),
    )
    depletion: Floats = np.array(55.0)
    found = []
    for day in et0:
        after = balance_day(depletion, 0.0, zone, 0.0, 1.2 * day)
        depletion = after.depletion_mm
        found.append((float(after.ks), float(depletion)))
    # 55 + 5.76; + 5.64; Ks = (160 - 66.40)/96 = 0.975, + 5.85; Ks = (160 - 72.25)/96, + 5.484.
    assert np.array(found) == pytest.approx(
        np.array([(1, 60.76), (1, 66.40), (0.975, 72.25), (0.914063, 77.734375)]), abs=1e-6
    )


def test_rain_beyond_the_deficit_is_deep_percolation_eq_88() -> None:
    """With drainage within the day DP = P - ETc - D, the form of eq. 88."""
    zone = RootZoneDay(*(np.asarray(x, float) for x in (160.0, 64.0, 0.0, 0.0, 200.0, 1.0)))
    after = balance_day(20.0, 0.0, zone, 60.0, 6.0)
    assert after.percolated_mm == pytest.approx(60 - 6 - 20)
    assert after.depletion_mm == pytest.approx(0)
