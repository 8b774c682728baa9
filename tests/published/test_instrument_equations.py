"""Equations of instruments against their publications.

Topp, Davis, Annan (1980), doi:10.1029/WR016i003p00574; Shock, Barnum, Seddigh (1998), for
1 to 8 kOhm, coefficients from memory; both also in the trade's handbook.
"""

import numpy as np
import pytest

from core.instrument.calibration import Calibration, topp_theta
from core.instrument.granular_matrix import granular_matrix_kpa


@pytest.mark.parametrize(
    "permittivity, theta",
    [
        # theta = -5.3e-2 + 2.92e-2 e - 5.5e-4 e^2 + 4.3e-6 e^3, by hand
        (5.0, 0.0797875),
        (10.0, 0.1883),
        (20.0, 0.3454),
        (30.0, 0.4441),
        (40.0, 0.5102),
    ],
)
def test_topp(permittivity: float, theta: float) -> None:
    assert topp_theta(permittivity) == pytest.approx(theta, abs=1e-9)


def test_topp_at_its_ends() -> None:
    """Dry soil has e of 3 to 4, free water 80; the curve gives next to nothing and about one."""
    assert 0.02 < topp_theta(3.5) < 0.05
    assert topp_theta(80.0) == pytest.approx(0.96, abs=0.02)
    assert np.all(np.diff(topp_theta(np.linspace(3, 80, 200))) > 0)


@pytest.mark.parametrize(
    "kohm, soil_c, kpa",
    [
        # (4.093 + 3.213 R) / (1 - 0.009733 R - 0.01205 T), by hand
        (1.0, 24.0, 7.306 / 0.701067),
        (2.0, 20.0, 10.519 / 0.739534),
        (5.0, 24.0, 20.158 / 0.662135),
        (8.0, 15.0, 29.797 / 0.741386),
    ],
)
def test_granular_matrix(kohm: float, soil_c: float, kpa: float) -> None:
    assert granular_matrix_kpa(kohm, soil_c) == pytest.approx(kpa, rel=1e-9)


def test_granular_matrix_around_its_branches() -> None:
    """Wetter below, drier above; the commonly published branches meet within a few kPa."""
    assert granular_matrix_kpa(0.55) == 0
    assert granular_matrix_kpa(0.9999) == pytest.approx(granular_matrix_kpa(1.0), abs=2.0)
    assert granular_matrix_kpa(8.0) == pytest.approx(granular_matrix_kpa(8.0001), abs=3.0)
    assert np.isnan(granular_matrix_kpa(0.1))
    assert np.isnan(granular_matrix_kpa(60.0))
    # A warm sensor conducts better: the same resistance means a drier soil.
    assert granular_matrix_kpa(4.0, 30.0) > granular_matrix_kpa(4.0, 15.0)
    assert granular_matrix_kpa(4.0, np.nan) == granular_matrix_kpa(4.0, 24.0)


def test_a_curve_that_turns() -> None:
    assert Calibration((0.0, 0.04, -0.001), 0.0, 30.0).turns_within()
    assert not Calibration((0.0, 0.04, -0.001), 0.0, 19.0).turns_within()
    assert not Calibration((0.0, 1.0)).turns_within()
