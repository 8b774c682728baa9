"""The crop catalogue against rows of the printed FAO-56 tables.

Allen, R. G., Pereira, L. S., Raes, D., Smith, M. (1998), FAO Irrigation and Drainage Paper 56:
table 11 (stage lengths), 12 (Kc), 22 (root depth, p). The rows below were written down from
memory, apart from the catalogue file; a disagreement means one of the two is wrong.
"""

import numpy as np
import pytest

from core.crop.catalogue import crop, crops
from core.crop.depletion import adjusted_p
from core.crop.reference import Surface, SurfacesDiffer
from core.crop.season import Stage, crop_days


@pytest.mark.parametrize(
    "key, kc, root_m, p",
    [
        ("maize-grain", (0.30, 1.20, 0.60), (1.0, 1.7), 0.55),
        ("potato", (0.50, 1.15, 0.75), (0.4, 0.6), 0.35),
        ("onion-dry", (0.70, 1.05, 0.75), (0.3, 0.6), 0.30),
        ("tomato", (0.60, 1.15, 0.80), (0.7, 1.5), 0.40),
        ("lettuce", (0.70, 1.00, 0.95), (0.3, 0.5), 0.30),
        ("soybean", (0.40, 1.15, 0.50), (0.6, 1.3), 0.50),
        ("grape-wine", (0.30, 0.70, 0.45), (1.0, 2.0), 0.45),
        ("walnut", (0.50, 1.10, 0.65), (1.7, 2.4), 0.50),
        ("barley", (0.30, 1.15, 0.25), (1.0, 1.5), 0.55),
        ("sunflower", (0.35, 1.08, 0.35), (0.8, 1.5), 0.45),
    ],
)
def test_tables_12_and_22(
    key: str, kc: tuple[float, ...], root_m: tuple[float, float], p: float
) -> None:
    row = crop(key)
    assert row.kc == kc
    assert (row.root_schedule_mm / 1000, row.root_deep_mm / 1000) == root_m
    assert row.p == p


@pytest.mark.parametrize(
    "key, days",
    [
        ("maize-grain", (30, 40, 50, 30)),
        ("potato", (25, 30, 45, 30)),
        ("onion-dry", (15, 25, 70, 40)),
        ("tomato", (30, 40, 45, 30)),
        ("cotton", (30, 50, 60, 55)),
        ("grape-wine", (30, 60, 40, 80)),
    ],
)
def test_table_11(key: str, days: tuple[int, ...]) -> None:
    assert crop(key).stage_days == days


@pytest.mark.parametrize(
    "p_table, etc, expected",
    [
        (0.55, 5.0, 0.55),  # the table's own condition
        (0.55, 7.5, 0.45),  # FAO-56 below table 22: p = p_tab + 0.04 (5 - ETc)
        (0.55, 2.5, 0.65),
        (0.20, 8.0, 0.10),  # kept at 0.1
        (0.65, 0.5, 0.80),  # kept at 0.8
    ],
)
def test_p_adjusted_for_et(p_table: float, etc: float, expected: float) -> None:
    assert adjusted_p(p_table, etc) == pytest.approx(expected, abs=1e-12)


def test_kc_curve_of_figure_34() -> None:
    """FAO-56 fig. 34: flat, straight rise, flat, straight fall."""
    days = crop_days(crop("maize-grain"), [0, 29, 30, 50, 70, 119, 120, 135, 150])
    expected = [0.3, 0.3, 0.3, 0.75, 1.2, 1.2, 1.2, 0.9, 0.6]
    np.testing.assert_allclose(days.kc, expected, atol=1e-12)
    assert list(days.stage) == [
        Stage.INITIAL,
        Stage.INITIAL,
        Stage.DEVELOPMENT,
        Stage.DEVELOPMENT,
        Stage.MID,
        Stage.MID,
        Stage.LATE,
        Stage.LATE,
        Stage.OVER,
    ]


def test_roots_grow_over_development() -> None:
    days = crop_days(crop("maize-grain"), [-3, 0, 30, 50, 70, 140])
    np.testing.assert_allclose(days.root_mm, [200, 200, 200, 600, 1000, 1000])
    assert days.stage[0] == Stage.BEFORE


def test_every_value_of_the_catalogue_names_its_source() -> None:
    assert len(crops()) >= 40
    assert {row.group for row in crops().values()} >= {
        "cereal", "vegetable", "forage", "fruit", "vine", "rice",
    }  # fmt: skip
    for row in crops().values():
        optional = {
            "kcb": row.kcb,
            "tension_kpa": row.tension_kpa,
            "ky": row.ky_season,
            "salt": row.salt,
            "degree_days": row.degree_days,
            "canopy": row.canopy,
            "cutting": row.cutting,
        }
        given = {name for name, value in optional.items() if value is not None}
        assert set(row.sources) == {"stage_days", "kc", "height_m", "root_depth", "p"} | given
        assert all(row.sources.values())
        assert 0 < row.p < 1
        assert all(0 < k < 1.4 for k in row.kc)
        assert 0 < row.root_initial_mm <= row.root_schedule_mm <= row.root_deep_mm
        assert all(d > 0 for d in row.stage_days)
        assert all(0 <= w.start < w.end <= 4 and w.ky > 0 for w in row.windows)
        assert row.surface in (Surface.GRASS, Surface.ALFALFA)


@pytest.mark.parametrize(
    "key, kc, root_m, p",
    [
        ("rice", (1.05, 1.20, 0.75), (0.5, 1.0), 0.20),
        ("celery", (0.70, 1.05, 1.00), (0.3, 0.5), 0.20),
        ("pepper", (0.60, 1.05, 0.90), (0.5, 1.0), 0.30),
        ("watermelon", (0.40, 1.00, 0.75), (0.8, 1.5), 0.40),
        ("groundnut", (0.40, 1.15, 0.60), (0.5, 1.0), 0.50),
        ("peach", (0.45, 0.90, 0.65), (1.0, 2.0), 0.50),
        ("hops", (0.30, 1.05, 0.85), (1.0, 1.2), 0.50),
        ("strawberry", (0.40, 0.85, 0.75), (0.2, 0.3), 0.20),
    ],
)
def test_later_rows_of_tables_12_and_22(
    key: str, kc: tuple[float, ...], root_m: tuple[float, float], p: float
) -> None:
    test_tables_12_and_22(key, kc, root_m, p)


@pytest.mark.parametrize(
    "key, season, flowering",
    [
        # FAO-33 (Doorenbos & Kassam 1979) table 24, from memory.
        ("maize-grain", 1.25, 1.5),
        ("bean-dry", 1.15, 1.1),
        ("sunflower", 0.95, 1.0),
        ("potato", 1.1, 0.8),
    ],
)
def test_yield_response(key: str, season: float, flowering: float) -> None:
    row = crop(key)
    assert row.ky_season == season
    assert [w.ky for w in row.windows if w.name == "flowering"] == [flowering]


@pytest.mark.parametrize(
    "key, low, high",
    [("lettuce", 40, 60), ("onion-dry", 45, 65), ("tomato", 60, 150), ("grape-wine", 40, 100)],
)
def test_tension_limits_lie_in_their_printed_ranges(key: str, low: float, high: float) -> None:
    """Ranges of extension tables after Taylor (1965), from memory."""
    assert low <= (crop(key).tension_kpa or 0) <= high


def test_surfaces_are_converted_visibly_or_refused() -> None:
    maize = crop("maize-grain-alfalfa")
    with pytest.raises(SurfacesDiffer, match="enter the farm's ratio"):
        maize.on(Surface.GRASS, None)
    on_grass = maize.on(Surface.GRASS, 1.2)
    assert on_grass.kc[1] == pytest.approx(1.32)
    assert "alfalfa Kc × 1.2 for grass ET" in on_grass.sources["kc"]
    back = on_grass.on(Surface.ALFALFA, 1.2)
    assert back.kc == pytest.approx(maize.kc)
    assert maize.on(Surface.ALFALFA, None) is maize
    with pytest.raises(ValueError, match=r"between 1\.0 and 1\.5"):
        maize.on(Surface.GRASS, 12)


def test_unknown_crop_is_named_with_the_known_ones() -> None:
    with pytest.raises(KeyError, match=r"no crop 'turnip'.*potato"):
        crop("turnip")
