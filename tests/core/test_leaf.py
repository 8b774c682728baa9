"""Leaf readings: rounds, bands, leaf and soil, which plants to read."""

from datetime import date, datetime

import numpy as np
import pandas as pd
import pytest
from pvlib.solarposition import sun_rise_set_transit_spa
from shapely.geometry import Point, Polygon

from core.crop.catalogue import crop
from core.leaf.bands import (
    BandProblem,
    LeafPhase,
    Product,
    band_index,
    baseline_mpa,
    products,
    with_own,
)
from core.leaf.relation import Setting, fresh_mm, learn_relation
from core.leaf.round import (
    Leaf,
    LeafRound,
    RoundDoubt,
    Sky,
    impossible,
    round_says,
    vapour_pressure_deficit_kpa,
)
from core.leaf.sampling import (
    leaves_by_zone,
    leaves_wanted,
    round_times,
    spots_of,
    spread_over,
    walking_order,
)
from core.leaf.solar_noon import solar_noon
from core.leaf.steering import LeafSteering, Side, Sides, SteeringProblem, Strategy

VINE = products()[Product.RED_WINE].prior


def round_of(*mpa: float, zone: str = "", **more: object) -> LeafRound:
    return LeafRound(-1.0, tuple(Leaf(zone, m) for m in mpa), **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("day", "longitude"),
    [
        (date(2026, 2, 11), 3.05),
        (date(2026, 6, 21), -119.8),
        (date(2026, 11, 3), 138.6),
        (date(2027, 7, 26), 0.0),
    ],
)
def test_solar_noon_is_that_of_pvlib(day: date, longitude: float) -> None:
    # pvlib, NREL's solar position algorithm; a minute is nothing beside three hours of reading.
    times = pd.DatetimeIndex([pd.Timestamp(day)]).tz_localize("UTC")
    theirs = sun_rise_set_transit_spa(times, 40.0, longitude)["transit"].iloc[0]
    ours = pd.Timestamp(solar_noon(day, longitude))
    apart = abs((ours - theirs).total_seconds()) % 86400
    assert min(apart, 86400 - apart) < 60


def test_a_mean_is_by_the_zones_ground() -> None:
    leaves = [Leaf("a", m) for m in (-0.8, -1.0, -0.9)] + [Leaf("b", m) for m in (-1.3, -1.3, -1.3)]
    says = round_says(LeafRound(-1.0, tuple(leaves)), {"a": 0.75, "b": 0.25})
    assert says is not None
    # 0.75 x -0.9 + 0.25 x -1.3
    assert says.mpa == pytest.approx(-1.0)
    # Within the zones: squares 0.01 + 0.01 over 4 free; sd 0.0707; by 3 leaves each.
    assert says.se_mpa == pytest.approx(0.0707 * np.sqrt((0.75**2 + 0.25**2) / 3), rel=0.01)
    assert [(z.zone, z.leaves) for z in says.zones] == [("a", 3), ("b", 3)]


def test_zones_that_nobody_described_count_alike() -> None:
    leaves = (*[Leaf("a", -0.8)] * 6, *[Leaf("b", -1.2)] * 2)
    says = round_says(LeafRound(-1.0, leaves), {})
    assert says is not None
    assert says.mpa == pytest.approx(-1.0)


def test_an_odd_plant_is_shown_and_left_out() -> None:
    says = round_says(round_of(-0.8, -0.85, -0.9, -0.82, -0.88, -1.6), {})
    assert says is not None
    assert says.outliers == (5,)
    assert says.mpa == pytest.approx(-0.85)
    assert says.doubts == (RoundDoubt.TOO_FEW,)
    assert says.believed


def test_plants_that_differ_by_a_chambers_error_are_none_of_them_odd() -> None:
    says = round_says(round_of(-0.8, -0.8, -0.8, -0.8, -0.8, -0.9), {})
    assert says is not None
    assert says.outliers == ()


def test_without_a_leaf_nothing_is_said() -> None:
    assert round_says(LeafRound(-1.0, ()), {}) is None


@pytest.mark.parametrize(
    ("more", "doubt", "believed"),
    [
        ({"after_noon_h": -1.6}, RoundDoubt.TOO_EARLY, False),
        ({"after_noon_h": 1.6}, RoundDoubt.TOO_LATE, False),
        ({"sky": Sky.CLOUDY}, RoundDoubt.CLOUDY, False),
        ({"bagged_min": 10.0}, RoundDoubt.BAGGED_TOO_SHORT, False),
        ({"lasted_min": 80.0}, RoundDoubt.SLOW, True),
        ({"sky": Sky.CLOUDY, "kept": True}, RoundDoubt.CLOUDY, True),
        (
            {"after_noon_h": 1.4, "sky": Sky.HAZY, "bagged_min": 15.0, "lasted_min": 60.0},
            None,
            True,
        ),
    ],
)
def test_what_speaks_against_a_round(
    more: dict[str, object], doubt: RoundDoubt | None, believed: bool
) -> None:
    says = round_says(round_of(*[-0.9] * 8, **more), {})
    assert says is not None
    assert says.doubts == ((doubt,) if doubt else ())
    assert says.believed is believed


def test_slips_of_the_chamber_are_found() -> None:
    # -9 is a reading in bar; +0.9 one without its minus.
    assert impossible([-0.9, -9.0, 0.9, -6.0]) == [1, 2]


def test_vapour_pressure_deficit() -> None:
    # FAO-56, example 3: saturated at 24.5 C is 3.08 kPa.
    assert vapour_pressure_deficit_kpa(24.5, 0) == pytest.approx(3.08, abs=0.01)
    assert vapour_pressure_deficit_kpa(24.5, 100) == 0


def test_a_fully_watered_tree_stands_lower_in_dry_air() -> None:
    # McCutchan & Shackel (1992), from memory: -0.41 - 0.12 x 3 kPa.
    assert baseline_mpa(Product.PRUNE, 3.0) == pytest.approx(-0.77)
    assert baseline_mpa(Product.RED_WINE, 3.0) is None
    assert baseline_mpa(Product.PRUNE, None) is None


@pytest.mark.parametrize("product", Product)
def test_every_product_has_bands_to_the_end_of_the_season(product: Product) -> None:
    found = products()[product]
    assert found.bands[-1].ends == 4.0
    assert all(a.ends < b.ends for a, b in zip(found.bands, found.bands[1:], strict=False))
    assert all(b.lower_mpa <= b.upper_mpa - 0.1 for b in found.bands)
    assert all(crop(key) for key in found.crops)
    # No product is kept beyond severe stress (handbook of the trade: below -1.4 of vines).
    vines = product in (
        Product.RED_WINE,
        Product.WHITE_WINE,
        Product.SPARKLING,
        Product.TABLE_GRAPE,
    )
    assert not vines or all(b.lower_mpa >= -1.4 for b in found.bands)


def test_bands_follow_the_crops_calendar() -> None:
    grape = crop("grape-wine")
    ends = grape.stage_ends
    bands = products()[Product.RED_WINE].bands
    # Fruit set is placed at three quarters of the development stage.
    fruit_set = ends[1] + 0.75 * (ends[2] - ends[1])
    at = band_index(bands, grape, np.array([0.0, fruit_set - 1, fruit_set + 1, ends[4] + 30]))
    assert [bands[k].phase for k in at] == [
        LeafPhase.TO_FRUIT_SET,
        LeafPhase.TO_FRUIT_SET,
        LeafPhase.TO_VERAISON,
        LeafPhase.AFTER_HARVEST,
    ]


def test_own_edges_stand_in_place_of_the_products() -> None:
    own = with_own(products()[Product.RED_WINE].bands, {LeafPhase.TO_VERAISON: (-0.7, -0.95)})
    assert [(b.upper_mpa, b.lower_mpa) for b in own][:2] == [(-0.4, -0.8), (-0.7, -0.95)]


@pytest.mark.parametrize(
    ("phase", "edges"),
    [
        (LeafPhase.TO_VERAISON, (-1.2, -0.9)),
        (LeafPhase.TO_VERAISON, (-0.9, -0.95)),
        (LeafPhase.TO_VERAISON, (-0.9, -2.4)),
        (LeafPhase.TO_VERAISON, (0.2, -0.9)),
        (LeafPhase.HULL_SPLIT, (-0.9, -1.2)),
    ],
)
def test_edges_that_are_no_band_are_refused(phase: LeafPhase, edges: tuple[float, float]) -> None:
    with pytest.raises(BandProblem) as refused:
        LeafSteering(Product.RED_WINE, own={phase: edges})
    assert refused.value.field == phase


def test_a_share_is_needed_where_a_share_rules() -> None:
    with pytest.raises(SteeringProblem):
        LeafSteering(Product.RED_WINE, strategy=Strategy.SHARE)


def test_sides_take_turns() -> None:
    sides = Sides(Side.A, date(2027, 7, 1), 14)
    assert sides.on(date(2027, 7, 14)) == (Side.A, date(2027, 7, 15))
    assert sides.on(date(2027, 7, 15)) == (Side.B, date(2027, 7, 29))
    assert sides.on(date(2027, 7, 30)) == (Side.A, date(2027, 8, 12))
    # One that is to begin later waters its side until then.
    assert sides.on(date(2027, 6, 20)) == (Side.A, date(2027, 7, 15))
    with pytest.raises(SteeringProblem):
        Sides(Side.A, date(2027, 7, 1), 2)


def relation_of(*rounds: tuple[float, float]) -> "object":
    share, mpa = zip(*rounds, strict=True) if rounds else ((), ())
    count = len(rounds)
    ages = [7.0 * (count - k) for k in range(count)]
    return learn_relation(VINE, share, mpa, [0.03] * count, ages, [5.0] * count, [0.0] * count)


def test_without_a_round_the_usual_relation_holds() -> None:
    found = learn_relation(VINE, [], [], [], [], [], [])
    # 0.45 + 0.35 x 0.5 + 0.7 x 0.125
    assert float(found.mpa_at(0.5, Setting())) == pytest.approx(-0.7125)
    assert found.rounds == 0
    assert float(found.beyond(9.0)) == 0.0
    spread = found.courses_at(np.full(found.courses.shape[0], 0.5), Setting()).std()
    assert spread > 0.1


def test_rounds_teach_where_the_leaf_stands() -> None:
    seen = [(0.2, -0.75), (0.4, -0.9), (0.6, -1.05), (0.5, -0.98), (0.65, -1.12), (0.7, -1.18)]
    found = relation_of(*seen)
    at = float(found.mpa_at(0.6, Setting()))  # type: ignore[attr-defined]
    assert at == pytest.approx(-1.06, abs=0.06)
    # And the share at which -1.1 is reached is read off the same curve.
    share = found.share_at(-1.1, Setting())  # type: ignore[attr-defined]
    assert float(found.mpa_at(share, Setting())) == pytest.approx(-1.1, abs=0.005)  # type: ignore[attr-defined]


def test_an_edge_that_is_out_of_reach_lies_at_an_end() -> None:
    found = learn_relation(VINE, [], [], [], [], [], [])
    assert found.share_at(-0.2, Setting()) == 0.0
    assert found.share_at(-3.0, Setting()) == 1.0


def test_a_day_that_asks_for_more_is_no_drier_soil() -> None:
    calm = learn_relation(
        VINE, [0.5] * 4, [-0.9] * 4, [0.03] * 4, [28, 21, 14, 7], [4.0] * 4, [0.0] * 4
    )
    assert float(calm.beyond(7.0)) == pytest.approx(3.0)
    usual, hot = (float(calm.mpa_at(0.5, Setting(u))) for u in (0.0, 3.0))
    assert hot == pytest.approx(usual - 3 * 0.08, abs=0.02)


def test_water_on_top_is_worth_more_than_below() -> None:
    found = learn_relation(VINE, [], [], [], [], [], [])
    assert float(found.mpa_at(0.5, Setting(0.0, 0.2))) == pytest.approx(-0.7125 + 0.2)


def test_water_that_came_is_used_up() -> None:
    got = fresh_mm(np.array([20.0, 0.0, 0.0, 0.0, 0.0]), np.array([4.0, 6.0, 6.0, 6.0, 6.0]))
    assert got.tolist() == [0.0, 16.0, 10.0, 4.0, 0.0, 0.0]


def test_a_relation_never_rises_as_the_soil_dries() -> None:
    # Leaves that were read wetter and wetter as the estimate of the soil went dry.
    found = relation_of((0.2, -1.1), (0.4, -0.9), (0.6, -0.7), (0.8, -0.6))
    shares = np.linspace(0, 1, 21)
    assert np.all(np.diff(found.mpa_at(shares, Setting())) <= 0)  # type: ignore[attr-defined]
    each = found.courses_at(np.tile(shares, (found.courses.shape[0], 1)), Setting())  # type: ignore[attr-defined]
    assert np.all(np.diff(each, axis=1) <= 1e-12)


@pytest.mark.parametrize(
    ("sd", "count"), [(None, 15), (0.05, 12), (0.16, 16), (0.18, 21), (0.4, 24)]
)
def test_how_many_leaves(sd: float | None, count: int) -> None:
    # (sd / 0.04)^2, between 12 and 24.
    assert leaves_wanted(sd) == count


def test_each_zone_has_its_leaves() -> None:
    assert leaves_by_zone(16, {"a": 0.75, "b": 0.25}) == {"a": 12, "b": 4}
    assert leaves_by_zone(12, {"a": 0.9, "b": 0.1}) == {"a": 11, "b": 3}
    assert leaves_by_zone(12, {}) == {"": 12}


# About 220 x 220 m.
FIELD = Polygon([(3.05, 56.4), (3.0536, 56.4), (3.0536, 56.402), (3.05, 56.402)])


def test_plants_are_spread_over_the_block_and_off_its_edge() -> None:
    spots = spread_over(FIELD, 16)
    assert spots.shape == (16, 2)
    # The middle half-width is 0.0009 degrees of latitude; a quarter of it is the edge.
    assert all(FIELD.boundary.distance(Point(p)) >= 0.25 * 0.0009 for p in spots)
    quarters = {(x > 3.0518, y > 56.401) for x, y in spots}
    assert len(quarters) == 4


def test_the_walk_goes_from_each_plant_to_a_near_one() -> None:
    line = np.array([[3.0 + 0.001 * k, 56.0] for k in (4, 0, 2, 1, 3)])
    assert walking_order(line) == [1, 3, 2, 4, 0]
    square = np.array([[3.0, 56.0], [3.001, 56.0], [3.001, 56.0006], [3.0, 56.0006]])
    assert walking_order(square) in ([0, 1, 2, 3], [0, 3, 2, 1])


def test_spots_are_numbered_along_the_walk() -> None:
    west, east = Polygon([(3.05, 56.4), (3.0518, 56.4), (3.0518, 56.402), (3.05, 56.402)]), FIELD
    spots = spots_of([("west", west, 4), ("all", east, 3)])
    assert [s.place for s in spots] == list(range(1, 8))
    assert sum(s.zone == "west" for s in spots) == 4
    assert spots_of([]) == ()


def test_a_round_lies_about_solar_noon() -> None:
    times = round_times(date(2026, 7, 15), 3.05, 16)
    # 16 leaves of five minutes: 40 before noon, 40 after; bags go on 24 minutes before.
    assert (times.read_until - times.read_from).total_seconds() == 80 * 60
    assert (times.noon - times.read_from).total_seconds() == 40 * 60
    assert (times.read_from - times.bag_from).total_seconds() == 24 * 60
    assert times.fits
    late = round_times(date(2026, 7, 15), 3.05, 40)
    assert not late.fits
    assert (late.read_until - late.read_from).total_seconds() == 3 * 3600
    assert isinstance(late.noon, datetime)
