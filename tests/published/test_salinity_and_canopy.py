"""Salt tolerance, leaching and ground cover against printed rows and worked examples."""

from dataclasses import replace
from datetime import date

import numpy as np
import pytest

from core.crop.canopy import cover_factor, density_coefficient
from core.crop.catalogue import crop
from core.crop.salinity import leaching, leaching_requirement, relative_yield, salt_stress
from core.crop.season import CropSeason, season_days

# Ayers & Westcot (1985), FAO-29 rev. 1, table 4: ECe at 100, 90, 75, 50 and 0 % of yield.
# Recalled from memory; the table prints two figures, so its rounding is the tolerance.
TABLE_4 = [
    ("maize-grain", (1.7, 2.5, 3.8, 5.9, 10)),
    ("barley", (8.0, 10, 13, 18, 28)),
    ("tomato", (2.5, 3.5, 5.0, 7.6, 13)),
    ("lucerne-hay", (2.0, 3.4, 5.4, 8.8, 16)),
    ("bean-dry", (1.0, 1.5, 2.3, 3.6, 6.3)),
    ("rice", (3.0, 3.8, 5.1, 7.2, 11)),
    ("citrus", (1.7, 2.3, 3.3, 4.8, 8.0)),
]


@pytest.mark.parametrize("key, ece", TABLE_4)
def test_table_4(key: str, ece: tuple[float, ...]) -> None:
    salt = crop(key).salt
    assert salt is not None
    left = relative_yield(ece, salt.threshold_ds_m, salt.slope_percent)
    # What half a unit of the printed figure is worth in yield.
    rounding = np.where(np.array(ece) >= 10, 0.5, 0.05) * salt.slope_percent / 100
    assert np.all(np.abs(left - [1, 0.9, 0.75, 0.5, 0]) <= rounding + 0.005)


def test_yield_is_unknown_where_the_salt_is() -> None:
    assert np.isnan(relative_yield(np.nan, 1.7, 12))


@pytest.mark.parametrize(
    "ecw, ece, expected",
    [
        # FAO-29 ch. 2.4: LR = ECw / (5 ECe - ECw); its maize example, ECw 1.2 with the ECe of
        # 90 % yield, 2.5: 0.11 (from memory).
        (1.2, 2.5, 0.106),
        (1.0, 2.0, 1 / 9),
        (0.0, 2.0, 0.0),
    ],
)
def test_leaching_requirement(ecw: float, ece: float, expected: float) -> None:
    assert float(leaching_requirement(ecw, ece)) == pytest.approx(expected, abs=5e-4)


def test_water_too_salty_is_refused() -> None:
    with pytest.raises(ValueError, match="more than all"):
        leaching_requirement(6.0, 1.7)


def test_leaching_for_nine_tenths_of_the_yield() -> None:
    """FAO-29's maize example (from memory): ECw 1.2 and the ECe of 90 percent, printed as 2.5
    and by its line 1.7 + 10 / 12 = 2.533: LR = 1.2 / (12.667 - 1.2) = 0.105, printed 0.11."""
    salt = crop("maize-grain").salt
    assert salt is not None
    found = leaching(salt.threshold_ds_m, salt.slope_percent, 1.2)
    assert found.share == pytest.approx(0.1047, abs=1e-4)
    assert found.ece_ds_m == pytest.approx(2.5333, abs=1e-3)
    assert found.yield_left == pytest.approx(0.9)
    assert not found.falls_short


def test_leaching_does_not_run_away_near_the_tolerance() -> None:
    """Onion, threshold 1.2 and 16 percent: with three tenths of the water ECw 2.9 keeps ECe at
    2.9 x 1.3 / 1.5 = 2.513, which leaves 1 - 0.16 x 1.313 = 0.79 of the yield; a little more salt
    changes little."""
    found = leaching(1.2, 16, 2.9)
    assert (found.share, found.falls_short) == (0.3, True)
    assert found.ece_ds_m == pytest.approx(2.513, abs=1e-3)
    assert found.yield_left == pytest.approx(0.790, abs=1e-3)
    shares = [leaching(1.2, 16, ecw).share for ecw in np.linspace(0, 12, 121)]
    assert shares[0] == 0
    assert np.all(np.diff(shares) >= 0)
    assert max(np.diff(shares)) < 0.03
    assert max(shares) == 0.3
    assert leaching(1.2, 16, 12.0).yield_left == 0


@pytest.mark.parametrize(
    "cover, height, expected",
    [
        # Allen & Pereira (2009) eq. 10 by hand: min(1, 1.5 fc, fc^(1/(1+h))).
        (0.5, 4.0, 0.75),
        (0.7, 4.0, 0.7 ** (1 / 5)),
        (0.2, 0.2, 0.2 ** (1 / 1.2)),
        (1.0, 3.0, 1.0),
        (0.0, 3.0, 0.0),
    ],
)
def test_density_coefficient(cover: float, height: float, expected: float) -> None:
    assert float(density_coefficient(cover, height)) == pytest.approx(expected)


def test_the_books_own_cover_changes_nothing() -> None:
    assert float(cover_factor(0.7, 4, 0.7, 4)) == 1.0
    assert float(cover_factor(0.3, 3, 0.7, 4)) < 0.6


def test_cover_beyond_the_ground_is_refused() -> None:
    with pytest.raises(ValueError, match="between 0 and 1"):
        density_coefficient(60, 3)


def test_salt_in_the_soil_lowers_use_as_in_fao_56_chapter_8() -> None:
    """The example of beans, from memory: ECe 1.5 where yield falls from 1.0 on by 19 % per dS/m,
    Ky 1.15: Ks = 1 - 19 / (1.15 x 100) x 0.5 = 0.917, so that 8 % less is used. Half of the yield
    is as far as the two go together: 1 - 0.5 / 1.15 = 0.565."""
    beans = crop("bean-dry")
    found = salt_stress(beans, 1.5)
    assert found is not None
    assert found.share == pytest.approx(0.917, abs=5e-4)
    worst = salt_stress(beans, 12.0)
    assert worst is not None
    assert worst.share == pytest.approx(0.565, abs=5e-4)
    assert salt_stress(beans, 1.0) is None
    assert salt_stress(beans, None) is None
    assert salt_stress(crop("lentil"), 8.0) is None, "its tolerance is not known"
    # Without a yield response it is 1: use falls as yield does. Carrot: 14 % per dS/m from 1.0 on.
    carrot = salt_stress(crop("carrot"), 2.0)
    assert carrot is not None
    assert carrot.share == pytest.approx(0.86)


def test_a_salty_seasons_kc_is_lower_in_the_field_and_not_asleep() -> None:
    grown = CropSeason(crop("bean-dry"), date(2026, 5, 1))
    salty = replace(grown, salt=salt_stress(grown.crop, 1.5))
    free, less = season_days([grown, salty], date(2026, 6, 20), 10).kc
    assert less == pytest.approx(free * (1 - 0.19 * 0.5 / 1.15))
