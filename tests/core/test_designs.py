"""Every figure of every system: refused by name when it can't be, and what follows otherwise."""

import math
from dataclasses import MISSING, fields
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from core.irrigation.catch_can import uniformity
from core.irrigation.design import DESIGNS, design_of
from core.irrigation.intake import BASIC_INTAKE_MM_H, check_intake, surface_storage_mm
from core.irrigation.system import MOVING, SystemKind, SystemProblem
from core.soil.texture import TextureClass

# A likely system of each kind.
LIKELY: dict[SystemKind, dict[str, float]] = {
    SystemKind.PIVOT: {"flow_m3_h": 200, "length_m": 400, "turn_hours": 20, "wetted_width_m": 18},
    SystemKind.LINEAR: {
        "flow_m3_h": 240, "width_m": 400, "travel_m": 800, "speed_m_h": 60, "wetted_width_m": 15,
    },
    SystemKind.TRAVELLER: {
        "flow_m3_h": 50, "lane_spacing_m": 60, "lane_length_m": 300, "speed_m_h": 30,
        "wetted_radius_m": 35,
    },
    SystemKind.SOLID_SET: {"nozzle_m3_h": 1.4, "spacing_m": 18, "row_spacing_m": 18},
    SystemKind.DRIP: {
        "emitter_l_h": 2, "emitter_spacing_m": 0.4, "line_spacing_m": 1.5, "wetted_fraction": 0.4,
    },
    SystemKind.MICRO: {
        "emitter_l_h": 40, "emitter_spacing_m": 4, "line_spacing_m": 5, "wetted_fraction": 0.6,
    },
    SystemKind.FURROW: {
        "inflow_l_s": 1, "spacing_m": 0.75, "length_m": 200, "per_set": 50, "set_hours": 6,
        "advance_hours": 3,
    },
    SystemKind.BORDER: {
        "inflow_l_s": 40, "spacing_m": 10, "length_m": 250, "per_set": 2, "set_hours": 3,
        "advance_hours": 2,
    },
    SystemKind.BASIN: {"flow_m3_h": 150},
    SystemKind.PADDY: {"flow_m3_h": 100, "flood_mm": 60},
}  # fmt: skip
AREA = 120_000.0


def needed(kind: SystemKind) -> list[str]:
    return [f.name for f in fields(DESIGNS[kind]) if f.default is MISSING]


@pytest.mark.parametrize("kind", list(SystemKind))
def test_a_likely_system_makes_sense(kind: SystemKind) -> None:
    found = design_of(kind, LIKELY[kind]).operation(AREA)
    assert 0 < found.rate_mm_h <= found.peak_rate_mm_h * (1 + 1e-9)
    assert found.pass_mm > 0
    assert found.pass_hours > 0
    if found.smallest_mm is not None:
        assert 0 < found.smallest_mm <= found.pass_mm * 1.3
    if kind in MOVING:
        # What a moving system gives where it stands is far more than over the whole block.
        assert found.peak_rate_mm_h > 2 * found.rate_mm_h


@pytest.mark.parametrize(
    "kind, name", [(kind, name) for kind in SystemKind for name in needed(kind)]
)
def test_each_figure_is_needed_and_bounded(kind: SystemKind, name: str) -> None:
    for figures in (
        {**LIKELY[kind], name: None},
        {**LIKELY[kind], name: -1.0},
        {**LIKELY[kind], name: 1e9},
        {**LIKELY[kind], name: math.nan},
    ):
        with pytest.raises(SystemProblem) as refused:
            design_of(kind, figures)
        assert refused.value.field == name
        assert refused.value.message


@pytest.mark.parametrize("kind", [SystemKind.PIVOT, SystemKind.LINEAR, SystemKind.SOLID_SET])
@given(share=st.floats(0.2, 5))
def test_twice_the_flow_is_twice_the_water(kind: SystemKind, share: float) -> None:
    flow = "nozzle_m3_h" if kind is SystemKind.SOLID_SET else "flow_m3_h"
    one = design_of(kind, LIKELY[kind]).operation(AREA)
    more = design_of(kind, {**LIKELY[kind], flow: LIKELY[kind][flow] * share}).operation(AREA)
    for name in ("rate_mm_h", "peak_rate_mm_h", "pass_mm"):
        assert getattr(more, name) == pytest.approx(getattr(one, name) * share)
    assert more.pass_hours == one.pass_hours


@given(
    rate=st.floats(0.5, 120),
    gross=st.floats(1, 150),
    intake=st.sampled_from(sorted(BASIC_INTAKE_MM_H.values())),
    slope=st.floats(0, 12),
)
def test_no_pulse_runs_off(rate: float, gross: float, intake: float, slope: float) -> None:
    found = check_intake(rate, gross, intake, slope)
    if found.on_hours is None or found.pause_hours is None:
        assert not found.runs_off or found.storage_mm == 0 or found.safe_mm == 0
        return
    excess = (rate - intake) * found.on_hours
    assert excess <= surface_storage_mm(slope) * (1 + 1e-9)
    assert found.pulses * found.on_hours * rate == pytest.approx(gross)
    # The pause is long enough for the hollows to empty.
    assert intake * found.pause_hours >= excess * (1 - 1e-9)


def test_finer_soils_take_water_in_more_slowly() -> None:
    """FAO training manual 5, table 7: sand above sandy loam, loam, clay loam, clay."""
    order = [
        TextureClass.SAND,
        TextureClass.SANDY_LOAM,
        TextureClass.LOAM,
        TextureClass.CLAY_LOAM,
        TextureClass.CLAY,
    ]
    rates = [BASIC_INTAKE_MM_H[t] for t in order]
    assert rates == sorted(rates, reverse=True)
    assert set(BASIC_INTAKE_MM_H) == set(TextureClass)


@given(catch=st.lists(st.floats(0.1, 60), min_size=8, max_size=60), scale=st.floats(0.1, 20))
def test_uniformity_has_no_unit(catch: list[float], scale: float) -> None:
    one, scaled = uniformity(catch), uniformity([c * scale for c in catch])
    assert scaled.du_lq == pytest.approx(one.du_lq)
    assert scaled.cu == pytest.approx(one.cu)
    assert 0 < one.du_lq <= 1 + 1e-12
    assert one.low_quarter <= one.mean * (1 + 1e-12)


def test_even_cans_are_perfect() -> None:
    found: Any = uniformity([12.0] * 10)
    assert (found.du_lq, found.cu) == (1.0, 1.0)
