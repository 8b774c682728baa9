import numpy as np
import pytest

from core.siting.exclusions import NOT_EXCLUDED
from core.siting.spots import CABLE_M, Reach, ScoreTerm, ranked, scored
from core.siting.zones import Feature
from tests.core.siting.ground import square

RASTER = square(40)
X, Y = RASTER.middles()
ALL = np.ones(1600, bool)
FREE = np.full(1600, NOT_EXCLUDED)
# From 0 in the west to 1 in the east: the median lies in the middle.
SLOPE = Feature("slope", X / 400, 0.01)


def scores(features=(SLOPE,), target=ALL, stands_for=ALL, excluded=FREE, reach=None):
    return scored(list(features), RASTER, target, stands_for, excluded, reach)


def test_the_best_spot_is_at_the_median():
    best = ranked(scores(), RASTER)[0]
    assert X[best] == pytest.approx(200, abs=20)


def test_terms_by_hand():
    """One spread of the target off the median: exp(-1) of nearness."""
    found = scores()
    spread = SLOPE.value.std()
    cell = int(np.abs(SLOPE.value - 0.5 - spread).argmin())
    assert found.terms[ScoreTerm.NEAR][cell] == pytest.approx(np.exp(-1), abs=0.05)
    assert found.off_median[0, cell] == pytest.approx(1.0, abs=0.05)
    # Cells within one spread of the median: 2 x 0.289 of a slope from 0 to 1.
    middle = int(np.abs(SLOPE.value - 0.5).argmin())
    assert found.terms[ScoreTerm.SHARE][middle] == pytest.approx(0.577, abs=0.03)


def test_an_uneven_neighbourhood_scores_less():
    rough = np.where((X - 200) ** 2 + (Y + 200) ** 2 < 60**2, np.where(X // 10 % 2, 1.0, -1.0), 0.0)
    found = scores([SLOPE, Feature("rough", rough, 0.01)])
    even = found.terms[ScoreTerm.EVEN]
    assert even[np.hypot(X - 200, Y + 200) < 40].max() < even[Y > -40].min()


def test_a_layer_that_tells_little_within_the_zone_counts_little():
    rng = np.random.default_rng(0)
    noise = Feature("noise", rng.normal(0, 1, 1600), 9.0)
    best = ranked(scores([SLOPE, noise]), RASTER)[0]
    assert X[best] == pytest.approx(200, abs=60)


def test_excluded_cells_and_other_zones_have_no_score():
    excluded = FREE.copy()
    excluded[(X > 150) & (X < 250)] = 0
    found = scores(excluded=excluded, target=Y > -200)
    assert np.isnan(found.score[(X > 150) & (X < 250)]).all()
    assert np.isnan(found.score[Y < -200]).all()
    assert ranked(scores(excluded=np.zeros(1600, int)), RASTER) == []


def test_a_cell_that_a_layer_does_not_know_has_no_score():
    value = SLOPE.value.copy()
    value[820] = np.nan
    found = scores([Feature("slope", value, 0.01)])
    assert np.isnan(found.score[820])
    nothing = scores([Feature("none", np.full(1600, np.nan), 0.0)])
    assert np.isnan(nothing.score).all()


def test_spots_lie_apart():
    found = ranked(scores(), RASTER)
    assert len(found) == 5
    for i in found:
        for j in found:
            assert i == j or np.hypot(X[i] - X[j], Y[i] - Y[j]) >= 400 / 6


@pytest.mark.parametrize(
    "walk_m, expected", [(0.0, 1.0), (50.0, 1.0), (425.0, 0.5), (800.0, 0.0), (5000.0, 0.0)]
)
def test_a_walk_costs_by_its_length(walk_m, expected):
    found = scores(reach=Reach(walk_m=np.full(1600, walk_m)))
    assert found.terms[ScoreTerm.WALK][0] == pytest.approx(expected)


def test_cable_and_sight_are_had_or_not():
    cable = np.full(1600, CABLE_M)
    cable[1] = CABLE_M + 1
    over = np.full(1600, 0.5)
    over[[2, 3]] = -0.1, np.nan
    found = scores(reach=Reach(cable_m=cable, clearance_m=over))
    assert found.terms[ScoreTerm.CABLE][:2].tolist() == [1, 0]
    assert found.terms[ScoreTerm.SIGHT][1:3].tolist() == [1, 0]
    assert np.isnan(found.terms[ScoreTerm.SIGHT][3])
    # What is not known is left out of the mean, and not counted as nothing.
    without = scores(reach=Reach(cable_m=cable))
    assert found.score[3] == pytest.approx(without.score[3])
    assert found.score[2] < without.score[2]
    assert ScoreTerm.WALK not in found.terms


def test_the_score_is_the_weighted_mean_of_what_is_known():
    """Nearness, evenness and share of 0.4, 0.2 and 0.2; walk of 0.08."""
    found = scores(reach=Reach(walk_m=np.full(1600, 425.0)))
    near, even, share = (
        found.terms[t][810] for t in (ScoreTerm.NEAR, ScoreTerm.EVEN, ScoreTerm.SHARE)
    )
    expected = (0.4 * near + 0.2 * even + 0.2 * share + 0.08 * 0.5) / 0.88
    assert found.score[810] == pytest.approx(100 * expected)


def test_a_probe_for_the_zone_is_not_judged_by_the_rest():
    zone = X < 120
    of_zone = scores(target=zone, stands_for=zone)
    of_block = scores(target=zone, stands_for=ALL)
    cell = int(np.nanargmax(of_zone.score))
    assert X[cell] == pytest.approx(60, abs=20)
    assert of_zone.terms[ScoreTerm.SHARE][cell] > 1.5 * of_block.terms[ScoreTerm.SHARE][cell]


def test_a_zones_middle_is_told_clear_of_its_border():
    """A zone of ten columns whose last is drawn up by the next zone."""
    zone = X < 100
    value = np.where(X < 90, X / 90, np.where(zone, 10.0, 20.0))
    found = scores([Feature("survey", value, 0.01)], target=zone, stands_for=zone)
    # The last column lies 10 m from the next zone's first, those before 20 m and more.
    clear = np.arange(5, 90, 10) / 90
    at = int(np.abs(X - 85).argmin())
    assert found.off_median[0, at] == pytest.approx((85 / 90 - 0.5) / clear.std())
    assert X[ranked(found, RASTER)[0]] == 45


def test_what_is_not_known_is_no_border():
    zone = X < 100
    value = np.where(zone, X / 100, np.nan)
    found = scores([Feature("survey", value, 0.01)], target=zone, stands_for=zone)
    spread = (np.arange(5, 100, 10) / 100).std()
    at = int(np.abs(X - 95).argmin())
    assert found.off_median[0, at] == pytest.approx(0.45 / spread)


def test_a_zone_that_is_border_all_over_counts_whole():
    narrow = (X > 185) & (X < 205)
    found = scores([SLOPE], target=narrow, stands_for=narrow)
    assert np.isfinite(found.off_median).all()
    assert np.isfinite(found.score[narrow]).all()


def test_the_soils_own_layer_counts_more_than_a_yield():
    """In the west the survey is at its median, and the yield far off its own."""
    survey = Feature("survey", np.abs(X - 100) / 100, 0.01, of_soil=True)
    grown = Feature("yield", np.abs(X - 300) / 100, 0.01)
    near = scores([survey, grown]).terms[ScoreTerm.NEAR]
    plain = scores([Feature("survey", survey.value, 0.01), grown]).terms[ScoreTerm.NEAR]
    cell = int(X.argmin())
    square = np.array(
        [((f.value[cell] - np.median(f.value)) / f.value.std()) ** 2 for f in (survey, grown)]
    )
    assert square[0] < 0.01
    assert square[1] > 4
    assert plain[cell] == pytest.approx(np.exp(-square @ np.array([1 / 2, 1 / 2])), rel=1e-3)
    assert near[cell] == pytest.approx(np.exp(-square @ np.array([6 / 7, 1 / 7])), rel=1e-3)
