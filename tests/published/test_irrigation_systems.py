"""Uniformity and system designs against definitions worked by hand."""

import numpy as np
import pytest

from core.irrigation.catch_can import uniformity
from core.irrigation.design import DESIGNS, design_of
from core.irrigation.intake import check_intake, surface_storage_mm
from core.irrigation.system import SystemKind, SystemProblem
from core.irrigation.usual import usual_performance


def test_uniformity_by_hand() -> None:
    """Merriam & Keller (1978) and Christiansen (1942) by their definitions: eight cans, mean
    17, driest two 11, mean deviation 4."""
    found = uniformity([10, 24, 12, 22, 14, 20, 16, 18])
    assert found.mean == 17
    assert found.du_lq == pytest.approx(11 / 17)
    assert found.cu == pytest.approx(1 - 4 / 17)


def test_a_quarter_that_is_no_whole_number_of_cans() -> None:
    # Ten cans: the driest quarter is two and a half of them.
    found = uniformity(np.arange(1.0, 11))
    assert found.low_quarter == pytest.approx((1 + 2 + 0.5 * 3) / 2.5)


def test_pivot_cans_count_by_their_distance() -> None:
    """Heermann & Hein (1968): each can stands for ground in proportion to its radius."""
    catch = np.array([30, 20, 20, 20, 20, 20, 20, 20.0])
    radius = np.array([1, 50, 100, 150, 200, 250, 300, 350.0])
    weighted = uniformity(catch, radius)
    assert weighted.mean == pytest.approx((30 + 20 * radius[1:].sum()) / radius.sum())
    assert weighted.cu > uniformity(catch).cu


def test_normal_catch_ties_cu_and_du() -> None:
    """A fact of the trade for bell-shaped catches: DUlq is about 1 - 1.59 (1 - CU)."""
    catch = np.random.default_rng(7).normal(20, 3, 4000)
    found = uniformity(catch)
    assert found.du_lq == pytest.approx(1 - 1.59 * (1 - found.cu), abs=0.01)


@pytest.mark.parametrize(
    "catch, weight, says",
    [
        ([5] * 7, None, "at least 8"),
        ([5] * 7 + [-1], None, "negative"),
        ([0] * 8, None, "No can"),
        ([5] * 8, [1] * 7, "its distance"),
        ([5] * 8, [0] + [1] * 7, "above zero"),
    ],
)
def test_bad_tests_are_refused(catch: list[float], weight: list[float] | None, says: str) -> None:
    with pytest.raises(ValueError, match=says):
        uniformity(catch, weight)


def test_pivot_by_hand() -> None:
    """A full circle of 400 m is 50.27 ha; 200 m3/h for 20 h is 4000 m3, so 7.96 mm."""
    pivot = design_of(
        SystemKind.PIVOT,
        {"flow_m3_h": 200, "length_m": 400, "turn_hours": 20, "wetted_width_m": 18},
    ).operation(502_655)
    assert pivot.covered_m2 == pytest.approx(502_655, rel=1e-5)
    assert pivot.pass_mm == pytest.approx(7.958, abs=0.001)
    assert pivot.rate_mm_h * pivot.pass_hours == pytest.approx(pivot.pass_mm, rel=1e-5)
    # Its end runs 2513 m in 20 h and passes a point in 18 m / 125.7 m/h = 0.143 h.
    assert pivot.peak_rate_mm_h == pytest.approx(7.958 / (18 / 125.66), rel=1e-3)


@pytest.mark.parametrize(
    "kind, figures, area, rate, pass_mm, pass_hours",
    [
        # 2 l/h every 0.4 m on rows 1.5 m apart: 2 / 0.6 = 3.33 mm/h.
        (
            SystemKind.DRIP,
            {"emitter_l_h": 2, "emitter_spacing_m": 0.4, "line_spacing_m": 1.5,
             "wetted_fraction": 0.4},
            10_000, 10 / 3, 10 / 3, 1,
        ),
        # 1.4 m3/h on 18 x 18 m: 4.32 mm/h.
        (
            SystemKind.SOLID_SET,
            {"nozzle_m3_h": 1.4, "spacing_m": 18, "row_spacing_m": 18},
            10_000, 1400 / 324, 1400 / 324, 1,
        ),
        # 50 m3/h drawn at 30 m/h over lanes of 60 m: 27.8 mm; four lanes of 300 m take 40 h.
        (
            SystemKind.TRAVELLER,
            {"flow_m3_h": 50, "lane_spacing_m": 60, "lane_length_m": 300, "speed_m_h": 30,
             "wetted_radius_m": 35},
            72_000, 50_000 / 72_000, 50_000 / 1800, 40,
        ),
        # 1 l/s into furrows 0.75 m apart, 200 m long: 24 mm/h, for 6 h 144 mm; 50 at a time on
        # 3 ha are four sets, 24 h.
        (
            SystemKind.FURROW,
            {"inflow_l_s": 1, "spacing_m": 0.75, "length_m": 200, "per_set": 50, "set_hours": 6,
             "advance_hours": 3},
            30_000, 180_000 / 30_000, 144, 24,
        ),
        # 100 m3/h on 2 ha of paddy: 5 mm/h, 50 mm in 10 h.
        (SystemKind.PADDY, {"flow_m3_h": 100}, 20_000, 5, 50, 10),
        (
            SystemKind.LINEAR,
            {"flow_m3_h": 240, "width_m": 400, "travel_m": 800, "speed_m_h": 60,
             "wetted_width_m": 15},
            320_000, 0.75, 10, 800 / 60,
        ),
    ],
)  # fmt: skip
def test_designs_by_hand(
    kind: SystemKind,
    figures: dict[str, float],
    area: float,
    rate: float,
    pass_mm: float,
    pass_hours: float,
) -> None:
    found = design_of(kind, figures).operation(area)
    assert found.rate_mm_h == pytest.approx(rate)
    assert found.pass_mm == pytest.approx(pass_mm)
    assert found.pass_hours == pytest.approx(pass_hours)


def test_a_furrow_set_must_outlast_its_advance() -> None:
    figures = {"inflow_l_s": 1, "spacing_m": 0.75, "length_m": 200, "per_set": 50, "set_hours": 2}
    with pytest.raises(SystemProblem, match="far end stays dry") as refused:
        design_of(SystemKind.FURROW, {**figures, "advance_hours": 3})
    assert refused.value.field == "advance_hours"
    with pytest.raises(SystemProblem, match="needed"):
        design_of(SystemKind.FURROW, figures)
    with pytest.raises(SystemProblem, match="no such figure"):
        design_of(SystemKind.PADDY, {"flow_m3_h": 3, "length_m": 4})
    with pytest.raises(SystemProblem, match="enter"):
        design_of(SystemKind.PADDY, {"flow_m3_h": -3})


def test_run_off_and_its_pulses() -> None:
    # 20 mm/h on a soil that takes 8: (20 - 8) mm/h fills 7.6 mm in 0.633 h, by then 12.7 mm.
    found = check_intake(20, 30, 8, 2)
    assert found.runs_off
    assert found.safe_mm == pytest.approx(7.6 / (1 - 8 / 20))
    assert found.pulses == 3
    assert found.on_hours == pytest.approx(0.5)
    assert found.pause_hours == pytest.approx(7.6 / 8)
    assert not check_intake(20, 12, 8, 2).runs_off
    assert not check_intake(6, 50, 8, 2).runs_off
    steep = check_intake(20, 5, 8, 9)
    assert steep.runs_off
    assert steep.on_hours is None


def test_storage_falls_with_slope() -> None:
    stores = [surface_storage_mm(s) for s in (0, 0.9, 2, 4, 12)]
    assert stores == sorted(stores, reverse=True)
    assert stores[-1] == 0
    with pytest.raises(ValueError, match="negative"):
        surface_storage_mm(-1)
    with pytest.raises(ValueError, match="above zero"):
        check_intake(0, 10, 8, 1)


def test_every_kind_has_its_usual_performance() -> None:
    """Facts of the trade (common practice, no source): drip beats furrow, and none is perfect."""
    table = usual_performance()
    assert set(table) == set(SystemKind) == set(DESIGNS)
    for row in table.values():
        assert 0 < row.efficiency[0] < row.efficiency[1] < 1
        assert 0 < row.du_lq[0] < row.du_lq[1] < 1
    assert table[SystemKind.DRIP].efficiency[0] > table[SystemKind.FURROW].efficiency[1]
