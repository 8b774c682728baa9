"""What the ground of a block holds: layers around its sensors, tensions, and their priors."""

import numpy as np
import pytest

from core.crop.catalogue import crop
from core.estimate.ground import (
    block_ground,
    draw_members,
    layer_edges,
)
from core.estimate.member import above_full
from core.estimate.soils import two_curves
from core.instrument.kinds import InstrumentKind
from core.soil.drainage import drained_tension
from core.soil.horizon import Horizon, LimitMethod
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.soil.water_table import held_above_full
from tests.core.blocks import PROFILE, site


@pytest.mark.parametrize(
    "depths, edges",
    [
        ([200, 400], [0, 100, 300, 525, 1500]),
        ([400, 200, 220], [0, 100, 300, 525, 1500]),
        ([], [0, 75, 225, 400, 650, 925, 1500]),
        ([1450], [0, 725, 1575, 1825]),
    ],
)
def test_layers_lie_around_the_sensors(depths: list[float], edges: list[float]) -> None:
    assert layer_edges(depths).tolist() == edges


def test_no_number_of_sensors_makes_too_many_layers() -> None:
    assert layer_edges(np.arange(100, 2000, 85.0)).size <= 13


@pytest.mark.parametrize("ksat, kpa", [(0.5, 12.0), (2.0, 12.0), (15.0, 8.0), (60.0, 5.0)])
def test_tension_of_a_drained_soil(ksat: float, kpa: float) -> None:
    assert drained_tension(ksat) == pytest.approx(kpa)


def test_gravel_holds_nothing_and_moves_the_prior() -> None:
    stony = Profile.from_horizons([Horizon(0, 1200, texture=TextureClass.LOAM, gravel=40)])
    fine = Profile.from_horizons([Horizon(0, 1200, texture=TextureClass.LOAM)])
    a, b = (block_ground(p, crop("potato"), []).scale for p in (stony, fine))
    assert a == pytest.approx(0.6 * b, rel=0.02)


def test_measured_limits_are_surer_than_a_class() -> None:
    points = ((33.0, 0.28), (1500.0, 0.13))
    measured = Horizon(
        0, 1200, texture=TextureClass.LOAM, method=LimitMethod.MEASURED, points=points
    )
    grounds = [
        block_ground(Profile.from_horizons([h]), crop("potato"), [])
        for h in (measured, Horizon(0, 1200, texture=TextureClass.LOAM))
    ]
    known, told = (g.prior_sd[g.layers] for g in grounds)
    assert known < 0.5 * told
    assert grounds[0].scale[0] == pytest.approx(0.15)


def test_members_stand_where_the_prior_has_them() -> None:
    ground = block_ground(PROFILE, crop("potato"), [])
    x = draw_members(ground, 100, 7)
    assert x.mean(axis=1) == pytest.approx(ground.prior_mean, abs=1e-9)
    assert x.std(axis=1) == pytest.approx(ground.prior_sd, rel=0.25)
    assert np.array_equal(x, draw_members(ground, 100, 7))


@pytest.mark.parametrize(
    ("below", "edge"),
    [(TextureClass.LOAM, 300.0), (TextureClass.CLAY, 270.0)],
    ids=["same", "other"],
)
def test_layers_part_where_another_soil_begins(below: TextureClass, edge: float) -> None:
    """Between sensors at 20 and 40 cm a layer ends half way, or where the soil changes."""
    two = [Horizon(0, 270, texture=TextureClass.LOAM), Horizon(270, 1500, texture=below)]
    probe = site([200.0, 400.0], [], np.empty((0, 2)), InstrumentKind.CAPACITANCE_PROBE)
    found = block_ground(Profile.from_horizons(two), crop("potato"), [probe])
    assert found.edge_mm.tolist()[2] == edge


def test_stones_lose_nothing_as_the_soil_dries() -> None:
    """Three tenths of gravel: seven tenths of the fall from drained to 50 kPa, by both curves."""
    soils = [
        Profile.from_horizons([Horizon(0, 1000, texture=TextureClass.LOAM, gravel=g)]).limits[0]
        for g in (0, 30)
    ]
    clean, stony = (two_curves(s) for s in soils)
    share = stony.fall(50.0) / clean.fall(50.0)
    assert share == pytest.approx((1 - soils[1].gravel) / (1 - soils[0].gravel), rel=0.05)


@pytest.mark.parametrize("above_mm", [2.0, 300.0, 700.0, 3000.0])
def test_a_water_table_holds_up_as_much_as_in_the_balance(above_mm: float) -> None:
    """Where limits are stated both go by the same curve; by texture alone this one asks two."""
    stated = Horizon(
        0,
        1200,
        texture=TextureClass.LOAM,
        method=LimitMethod.MEASURED,
        points=((33.0, 0.28), (1500.0, 0.13)),
    )
    profile = Profile.from_horizons([stated])
    ground = block_ground(profile, crop("potato"), [])
    middle = 0.5 * (ground.edge_mm[1] + ground.edge_mm[2])
    table = middle + above_mm
    want = float(held_above_full(profile.limits[0], middle, table))
    assert above_full(middle, table, ground.hold[1]) == pytest.approx(want, abs=1e-9)
    assert (want > 0) == (above_mm < 3000)
