import numpy as np
import pytest

from core.siting.layer import Layer, LayerKind, in_spreads, percent_of_mean
from core.siting.purpose import Purpose, zone_for
from core.siting.stability import USUAL_DIFFERENCE, Stability, years_seen
from core.siting.years import YearKind, year_kinds


def harvest(*values, year=2020, error=0.0):
    value = np.array(values, float)
    return Layer(LayerKind.YIELD, str(year), value, np.full(len(value), error), year)


def test_years_are_dry_or_wet_beside_the_mean():
    """The mean is 392: below 333 is dry, above 451 wet."""
    rain = {2019: 300.0, 2020: 400.0, 2021: 350.0, 2022: 500.0, 2023: 410.0}
    assert year_kinds(rain) == {
        2019: YearKind.DRY,
        2020: YearKind.USUAL,
        2021: YearKind.USUAL,
        2022: YearKind.WET,
        2023: YearKind.USUAL,
    }


def test_a_year_without_rain_is_unknown_and_two_years_tell_nothing():
    assert year_kinds({1: 100.0, 2: 200.0, 3: 300.0, 4: None})[4] is YearKind.UNKNOWN
    assert year_kinds({1: 100.0, 2: 900.0}) == {1: YearKind.UNKNOWN, 2: YearKind.UNKNOWN}


def test_a_year_is_standardised_to_its_mean():
    assert percent_of_mean(harvest(4, 8, 12)).tolist() == [50, 100, 150]
    assert percent_of_mean(harvest(4, 8, np.nan))[1] == pytest.approx(133.33, abs=0.01)
    with pytest.raises(ValueError, match="above zero"):
        percent_of_mean(harvest(0, 0, 0))


def test_a_layer_is_standardised_by_its_quartiles():
    """Quartiles of 0..8 are 2, 4 and 6: a spread is 4 x 0.7413."""
    value, error = in_spreads(harvest(*range(9), error=1.0))
    assert value[0] == pytest.approx(-4 / 2.9652)
    assert error[0] == pytest.approx(1 / 2.9652)
    assert in_spreads(harvest(3, 3, 3))[0].tolist() == [0, 0, 0]


def test_what_several_years_tell_of_a_cell():
    """Low, high and as the rest in both years; good and poor by turns; poor in dry years alone."""
    dry = harvest(70, 130, 100, 140, 80, 100, 80, year=2020)
    wet = harvest(72, 128, 100, 60, 118, 100, 122, year=2021)
    again = harvest(70, 130, 100, 138, 82, 98, 82, year=2022)
    seen = years_seen([dry, wet, again], [YearKind.DRY, YearKind.WET, YearKind.DRY])
    assert [Stability(c).name for c in seen.classes] == [
        "LOW",
        "HIGH",
        "AVERAGE",
        "UNSTEADY",
        "FLIP_FLOP",
        "AVERAGE",
        "FLIP_FLOP",
    ]
    assert seen.difference_told
    assert seen.years == 3
    assert seen.mean[0] == pytest.approx(70.67, abs=0.01)
    assert seen.dry[4] == pytest.approx(81, abs=0.1)
    assert seen.usual is None


def test_the_difference_between_like_years_is_told_by_them():
    """Two years that differ by N(0, 6) each: the spread of one is 6."""
    rng = np.random.default_rng(2)
    base = 100 + rng.normal(0, 20, 4000)
    like = [harvest(*(base + rng.normal(0, 6, 4000)), year=2020 + i) for i in range(2)]
    assert years_seen(like, [YearKind.DRY] * 2).difference == pytest.approx(6.0, abs=0.4)
    alone = years_seen(like[:1], [YearKind.DRY])
    assert (alone.difference, alone.difference_told) == (USUAL_DIFFERENCE, False)


def test_one_year_knows_no_spread_and_no_flip():
    seen = years_seen([harvest(70, 100, 130)], [YearKind.DRY])
    assert np.isnan(seen.spread).all()
    assert seen.flip_error is None
    assert [Stability(c).name for c in seen.classes] == ["LOW", "AVERAGE", "HIGH"]


def test_a_small_contrast_between_dry_and_wet_is_no_flip():
    dry, wet = harvest(94, 103, 103, year=1), harvest(103, 98.5, 98.5, year=2)
    seen = years_seen([dry, wet], [YearKind.DRY, YearKind.WET])
    assert Stability.FLIP_FLOP not in seen.classes


def test_poor_in_dry_years_and_never_good_is_no_flip():
    """Dry 70 and wet 95 of the mean, sure by years that are alike: it is low."""
    dry = [harvest(70, 110, 110, 110, year=y) for y in (1, 2)]
    wet = [harvest(95, 101.7, 101.7, 101.6, year=y) for y in (3, 4)]
    seen = years_seen([*dry, *wet], [YearKind.DRY] * 2 + [YearKind.WET] * 2)
    assert seen.wet[0] - seen.dry[0] > 10 * seen.flip_error[0]
    assert Stability(seen.classes[0]) is Stability.LOW


def test_the_zone_that_limits_is_told_by_dry_years():
    """Zone 1 is the poorest in the dry year, zone 2 over both."""
    dry = harvest(*([112] * 6 + [70] * 3 + [80] * 4), year=1)
    wet = harvest(*([100] * 6 + [118] * 3 + [82] * 4), year=2)
    seen = years_seen([dry, wet], [YearKind.DRY, YearKind.WET])
    assert zone_for(Purpose.LIMITING, LABEL, seen) == 1
    assert np.nanmean(seen.mean[LABEL == 2]) < np.nanmean(seen.mean[LABEL == 1])


def test_a_cell_that_no_year_knows_stays_unknown():
    seen = years_seen([harvest(np.nan, 90, 110)], [YearKind.UNKNOWN])
    assert seen.classes[0] == Stability.UNKNOWN
    assert np.isnan(seen.mean[0])


# Zone 0 is the largest and yields most, 1 is poor in dry years alone, 2 is poor always.
LABEL = np.array([0] * 6 + [1] * 3 + [2] * 3 + [-1])


def seen_by_zone():
    dry = harvest(*([110] * 6 + [80] * 3 + [72] * 3 + [np.nan]), year=1)
    wet = harvest(*([101] * 6 + [118] * 3 + [80] * 3 + [np.nan]), year=2)
    return years_seen([dry, wet], [YearKind.DRY, YearKind.WET])


@pytest.mark.parametrize(
    "purpose, zone",
    [(Purpose.BLOCK, 0), (Purpose.PAIR, 0), (Purpose.LIMITING, 2), (Purpose.DECISIONS, 1)],
)
def test_the_zone_of_a_purpose(purpose, zone):
    assert zone_for(purpose, LABEL, seen_by_zone()) == zone


def test_without_yields_any_purpose_takes_the_largest_zone():
    assert zone_for(Purpose.LIMITING, LABEL, None) == 0


def test_decisions_without_a_flip_are_about_the_zone_that_limits():
    years = years_seen([harvest(*([110] * 6 + [95] * 3 + [70] * 4), year=1)], [YearKind.DRY])
    assert zone_for(Purpose.DECISIONS, LABEL, years) == 2


def test_a_merged_zone_leaves_no_gap():
    merged = np.where(LABEL == 1, 0, LABEL)
    assert zone_for(Purpose.LIMITING, merged, seen_by_zone()) == 2
