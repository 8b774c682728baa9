"""The calibration bench: masses, curves, and what speaks against them."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.instrument.calibration import TOPP, CurveKind, topp_theta
from core.instrument.worksheet import (
    Sample,
    SampleProblem,
    coverage,
    fit,
    weigh,
    worksheet_warnings,
)

LADDER = [
    Sample(raw, 20 + 130 + water, 150, 20, 100)
    for raw, water in ((12_000, 4), (17_500, 12), (22_000, 20), (26_500, 28), (31_000, 38))
]


def test_masses_by_hand() -> None:
    """A ring of 100 cm3: 176.4 g wet, 155.0 dry, 25.0 tare (arithmetic by its definitions)."""
    told = weigh([Sample(1, 176.4, 155.0, 25.0, 100)])
    assert told.gravimetric[0] == pytest.approx(21.4 / 130)
    assert told.bulk_density[0] == pytest.approx(1.30)
    assert told.theta[0] == pytest.approx(0.214)


@pytest.mark.parametrize(
    "change, field",
    [
        ({"volume_ml": 0}, "volume_ml"),
        ({"tare_g": -1}, "tare_g"),
        ({"dry_g": 20}, "dry_g"),
        ({"wet_g": 140}, "wet_g"),
        ({"wet_g": 900}, "wet_g"),
    ],
)
def test_masses_that_can_not_be(change: dict[str, float], field: str) -> None:
    good = {"raw": 1.0, "wet_g": 170.0, "dry_g": 150.0, "tare_g": 20.0, "volume_ml": 100.0}
    with pytest.raises(SampleProblem) as told:
        weigh([Sample(**good), Sample(**{**good, **change})])
    assert (told.value.row, told.value.field) == (1, field)


@given(
    st.lists(st.floats(0.02, 0.5), min_size=5, max_size=9, unique_by=lambda v: round(v, 3)),
    st.sampled_from([CurveKind.LINEAR, CurveKind.QUADRATIC, CurveKind.CUBIC]),
)
def test_a_curve_is_found_again(theta: list[float], kind: CurveKind) -> None:
    """Samples that lie on a line are fitted by it, whatever the family above."""
    raw = 8000 + 60_000 * np.array(theta)
    found = fit(kind, raw, theta)
    assert found is not None
    assert found.rmse < 1e-8
    assert found.calibration.theta(raw) == pytest.approx(theta, abs=1e-8)


def test_polynomials_agree_with_numpy() -> None:
    x = np.array([s.raw for s in LADDER])
    y = weigh(LADDER).theta
    for kind, degree in ((CurveKind.LINEAR, 1), (CurveKind.QUADRATIC, 2), (CurveKind.CUBIC, 3)):
        theirs = np.polynomial.Polynomial.fit(x, y, degree)(x)
        ours = fit(kind, x, y)
        assert ours is not None
        assert ours.calibration.theta(x) == pytest.approx(theirs, abs=1e-9)
        assert ours.residual == pytest.approx(y - theirs, abs=1e-9)


@pytest.mark.parametrize("kind", [CurveKind.LINEAR, CurveKind.QUADRATIC])
def test_left_out_is_what_leaving_out_gives(kind: CurveKind) -> None:
    x = np.array([s.raw for s in LADDER])
    y = weigh(LADDER).theta + np.array([0.004, -0.006, 0.001, 0.005, -0.003])
    errors = []
    for k in range(x.size):
        rest = np.arange(x.size) != k
        without = fit(kind, x[rest], y[rest])
        assert without is not None
        errors.append(float(y[k] - without.calibration.theta(x[k])))
    whole = fit(kind, x, y)
    assert whole is not None
    assert whole.left_out == pytest.approx(np.sqrt(np.mean(np.square(errors))), rel=1e-6)


def test_topp_form_and_offset() -> None:
    permittivity = np.array([4.0, 9.0, 16.0, 24.0, 33.0])
    found = fit(CurveKind.TOPP_FORM, permittivity, 1.1 * topp_theta(permittivity) - 0.02)
    assert found is not None
    assert found.calibration.coefficients[1] == pytest.approx(1.1 * TOPP[1])
    assert found.rmse < 1e-12
    moved = fit(CurveKind.OFFSET, [0.2, 0.3, 0.25], [0.22, 0.33, 0.26])
    assert moved is not None
    assert moved.calibration.coefficients == pytest.approx((0.02, 1.0))


def test_what_samples_can_not_fix() -> None:
    assert fit(CurveKind.QUADRATIC, [1, 2], [0.1, 0.2]) is None
    assert fit(CurveKind.LINEAR, [5, 5, 5], [0.1, 0.2, 0.3]) is None
    assert fit(CurveKind.LINEAR, [], []) is None
    assert fit(CurveKind.MAKER, [1, 2], [0.1, 0.2]) is None
    exact = fit(CurveKind.LINEAR, [1, 2], [0.1, 0.2])
    assert exact is not None
    # Two points leave nothing over to judge a line by.
    assert np.isnan(exact.left_out)


def test_the_makers_curve_is_only_judged() -> None:
    found = fit(CurveKind.MAKER, [0.2, 0.3], [0.25, 0.35], maker=(0.0, 1.0))
    assert found is not None
    assert found.rmse == pytest.approx(0.05)


def test_coverage() -> None:
    assert coverage(np.array([0.03, 0.45]), 0.03, 0.45) == 1.0
    assert coverage(np.array([0.2, 0.3]), 0.03, 0.43) == pytest.approx(0.25)
    assert coverage(np.array([]), 0.03, 0.43) == 0.0


def test_a_good_worksheet_has_nothing_against_it() -> None:
    weighed = weigh([*LADDER, Sample(33_500, 193, 150, 20, 100)])
    x = [s.raw for s in LADDER] + [33_500]
    told = worksheet_warnings(
        weighed, fit(CurveKind.LINEAR, x, weighed.theta), 1.32, 0.47, 2.0, 105.0
    )
    assert told.grave == ()
    assert told.others == ()


@pytest.mark.parametrize(
    "count, density, sat, organic, dried, word, grave",
    [
        (3, 1.3, 0.45, 2, 105, "needs 4", True),
        (3, 1.3, 0.47, 2, 105, "span", True),
        (5, 1.6, 0.45, 2, 105, "density", False),
        (5, 1.3, 0.45, 30, 105, "Organic", False),
        (4, 1.3, 0.40, 2, 105, "five or six", False),
    ],
)
def test_what_speaks_against_it(
    count: int, density: float, sat: float, organic: float, dried: float, word: str, grave: bool
) -> None:
    samples = LADDER[:count]
    weighed = weigh(samples)
    found = fit(CurveKind.LINEAR, [s.raw for s in samples], weighed.theta)
    told = worksheet_warnings(weighed, found, density, sat, organic, dried)
    assert any(word in w for w in (told.grave if grave else told.others))


def test_a_curve_that_bends_to_single_points() -> None:
    x = [s.raw for s in LADDER]
    theta = weigh(LADDER).theta + np.array([0.0, 0.02, -0.02, 0.02, 0.0])
    cubic = fit(CurveKind.CUBIC, x, theta)
    told = worksheet_warnings(weigh(LADDER), cubic, None, None, None, None)
    assert any("left out" in w for w in told.others)
