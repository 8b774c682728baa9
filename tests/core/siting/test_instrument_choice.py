from dataclasses import replace

import pytest

from core.instrument.kinds import InstrumentKind
from core.siting.instrument_choice import (
    BlockToMeasure,
    instrument_choice,
    proposed_depths,
)

TENSIOMETER = InstrumentKind.TENSIOMETER
MATRIX = InstrumentKind.GRANULAR_MATRIX
PROBE = InstrumentKind.CAPACITANCE_PROBE
# A loam under a crop that may use half; a person comes twice a week.
LOAM = BlockToMeasure(
    clay=22.0,
    gravel=2.0,
    ece_ds_m=1.0,
    refill_kpa=(55.0, 60.0),
    p=0.5,
    root_mm=900.0,
    tilled=False,
    visits_a_week=2.0,
    logged=False,
)


def of(kind, prices=None, **changed):
    found = instrument_choice(replace(LOAM, **changed), prices)
    return next(c for c in found if c.kind is kind)


def test_every_kind_is_beside_the_block():
    assert {c.kind for c in instrument_choice(LOAM)} == {
        PROBE,
        MATRIX,
        TENSIOMETER,
        InstrumentKind.HEAT_PULSE,
        InstrumentKind.FEEL_CHECK,
    }


@pytest.mark.parametrize(
    "refill, where, said",
    [
        ((40.0, 60.0), "speaks_for", "It sees the refill point, 60 kPa."),
        ((40.0, 90.0), "against", "90 kPa in one horizon"),
        ((90.0, 140.0), "ruled_out", "Refill lies at 90 kPa"),
    ],
)
def test_a_tensiometer_sees_refill_up_to_where_its_column_breaks(refill, where, said):
    assert any(said in s for s in getattr(of(TENSIOMETER, refill_kpa=refill), where))


@pytest.mark.parametrize(
    "refill, where, said",
    [
        ((5.0, 8.0), "ruled_out", "nothing below 10"),
        ((30.0, 150.0), "speaks_for", "150 kPa"),
        ((30.0, 400.0), "against", "near the end of its range"),
    ],
)
def test_a_matrix_sensor_is_blind_where_it_is_wet(refill, where, said):
    assert any(said in s for s in getattr(of(MATRIX, refill_kpa=refill), where))


def test_nothing_is_said_of_a_refill_point_that_is_not_known():
    assert not of(TENSIOMETER, refill_kpa=()).speaks_for
    assert not of(MATRIX, refill_kpa=()).against


@pytest.mark.parametrize(
    "kind, changed, said",
    [
        (PROBE, {"ece_ds_m": 3.0}, "Salt (ECe 3.0"),
        (MATRIX, {"ece_ds_m": 5.5}, "Salt (ECe 5.5"),
        (PROBE, {"clay": 45.0}, "Clay of 45 %"),
        (TENSIOMETER, {"clay": 60.0}, "Clay of 60 %"),
        (PROBE, {"gravel": 30.0}, "Stones (30 %)"),
        (PROBE, {"tilled": True}, "leaves a gap above"),
        (TENSIOMETER, {"tilled": True}, "stands above ground"),
        (TENSIOMETER, {"root_mm": 1500.0}, "deeper than its tubes"),
    ],
)
def test_what_speaks_against_a_kind(kind, changed, said):
    assert any(said in s for s in of(kind, **changed).against)
    assert not any(said in s for s in of(kind).against)


def test_unknown_salt_clay_and_stones_speak_against_nothing():
    assert of(PROBE, ece_ds_m=None, clay=None, gravel=None).against == ()


def test_a_sensitive_crop_speaks_for_a_tensiometer():
    assert any("p 0.35" in s for s in of(TENSIOMETER, p=0.35).speaks_for)
    assert not any("sensitive" in s for s in of(TENSIOMETER, p=0.36).speaks_for)
    assert not any("sensitive" in s for s in of(TENSIOMETER, p=None).speaks_for)


def test_who_does_not_come_each_week_has_no_tensiometer():
    assert of(TENSIOMETER, visits_a_week=0.5).ruled_out
    assert not of(TENSIOMETER, visits_a_week=1.0).ruled_out


def test_readings_that_come_by_themselves_rule_out_what_a_person_reads():
    assert of(TENSIOMETER, logged=True).ruled_out
    assert of(InstrumentKind.FEEL_CHECK, logged=True).ruled_out
    assert any("logger" in s for s in of(PROBE, logged=True).speaks_for)


def test_what_suits_comes_first_and_what_is_ruled_out_last():
    found = instrument_choice(replace(LOAM, logged=True, refill_kpa=(120.0,)))
    assert [c.kind for c in found][-1] in (TENSIOMETER, InstrumentKind.FEEL_CHECK)
    assert not found[0].ruled_out
    dry = instrument_choice(replace(LOAM, refill_kpa=(40.0,), p=0.3))
    assert dry[0].kind is TENSIOMETER


def test_of_equals_the_cheaper_one_comes_first():
    prices = {MATRIX: 300.0, InstrumentKind.HEAT_PULSE: 200.0}
    found = instrument_choice(replace(LOAM, logged=True), prices)
    assert [c.kind for c in found][:2] == [InstrumentKind.HEAT_PULSE, MATRIX]
    assert found[0].cost == 200.0
    assert of(PROBE).cost is None


@pytest.mark.parametrize(
    "kind, root_mm, expected",
    [
        (PROBE, 450.0, (100, 200, 300, 400)),
        (PROBE, 150.0, (100, 200, 300)),
        (PROBE, 2000.0, tuple(range(100, 1300, 100))),
        (TENSIOMETER, 1000.0, (250, 500, 850)),
        (MATRIX, 300.0, (100, 150, 250)),
    ],
)
def test_depths_follow_the_roots(kind, root_mm, expected):
    assert proposed_depths(kind, root_mm) == expected
