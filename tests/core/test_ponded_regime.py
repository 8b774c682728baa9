"""The advice for a ponded field."""

from dataclasses import replace
from datetime import date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from core.advice.answer import Assessment
from core.advice.assumptions import Assumptions
from core.advice.holds import Hold, HoldKind
from core.advice.inputs import BlockInputs, PlannedSet, Watering
from core.advice.stated_et import StatedEt
from core.advice.vocabulary import Confidence, Reason, Regime, State
from core.advice.working import Unit
from core.crop.catalogue import crop
from core.crop.season import CropSeason
from core.irrigation.system import IrrigationSystem, SystemKind
from core.outlook.forecast import MEMBERS, Forecast
from core.ponded.cycles import NotDeeper
from core.ponded.field import PondedField
from core.ponded.phases import Phase
from core.ponded.tube import Tube
from core.regime.assess import assess, assess_blocks, needs_ahead
from tests.core.blocks import PROFILE, block

NOW = datetime(2027, 7, 10, 6, 0, tzinfo=ZoneInfo("UTC"))
PLANTED = date(2027, 5, 20)
# 50 m3/h on a hectare are 5 mm/h.
SYSTEM = IrrigationSystem(SystemKind.PADDY, 10_000.0, 1.0, flow_m3_h=50.0)
# Losses that are as good as known, so that figures can be redone by hand.
FIELD = PondedField(bund_mm=150.0, percolation_mm_day=3.5, porosity=0.1)


def tube(*readings: tuple[float, float], name: str = "T1") -> Tube:
    hours, level = np.array(readings, float).reshape(-1, 2).T
    return Tube(name, hours, level, np.ones(hours.size, bool))


def paddy(
    *tubes: Tube, field: PondedField = FIELD, day: int | None = None, **given: Any
) -> BlockInputs:
    """A field; ``day`` since planting is today's."""
    planted = PLANTED if day is None else NOW.date() - timedelta(days=day)
    return BlockInputs(
        now=NOW,
        assumed=Assumptions(
            profile=PROFILE,
            season=CropSeason(crop("rice"), planted),
            et=StatedEt(4.0, 5.0, 6.0, "stated in the test"),
            system=SYSTEM,
            ponded=field,
        ),
        sites=(),
        waterings=given.pop("waterings", ()),
        tubes=tubes,
        **given,
    )


def level(answer: Assessment) -> float:
    assert answer.ponded is not None
    assert answer.ponded.level is not None
    return answer.ponded.level.middle


def test_what_stands_in_the_tube_is_the_state() -> None:
    answer = assess(paddy(tube((0, -50))))
    assert level(answer) == pytest.approx(-50, abs=1)
    assert answer.outlook is not None
    # 0.1 x 50 x (1 - 50 / 1400) = 4.8 of 0.1 x 150 x (1 - 150 / 1400) = 13.4 mm are gone.
    assert answer.outlook.usable_mm[0] == pytest.approx(13.39 - 4.82, abs=0.15)
    assert answer.outlook.raw_mm[0] == pytest.approx(50 + 13.39, abs=0.05)
    assert answer.state is State.IRRIGATE_NOW


def test_the_working_is_redone_by_hand() -> None:
    answer = assess(paddy(tube((0, 20))))
    by_key = {s.key.value: s for s in answer.steps}
    for step in answer.steps:
        known = {t.symbol: t.value for t in step.terms}
        found = eval(step.formula, {"max": max, "min": min, **known})  # noqa: S307
        # A depth [mm] over an area [m2] is in litres.
        found = found / 1000 if step.unit is Unit.VOLUME_M3 else found
        assert found == pytest.approx(step.value), step.key
    # Kc 1.05 x 5 and 3.5 x (1 + 20 / 350) with a little that seeps through the bund.
    assert by_key["ponded_loss"].value == pytest.approx(1.155 * 5 + 3.7 + 0.2, abs=0.6)
    assert answer.amount is not None
    assert by_key["fill_hours"].value == pytest.approx(answer.amount.hours)
    assert by_key["volume"].value == pytest.approx(answer.amount.volume_m3)


def test_flooding_brings_what_is_missing_and_what_is_lost_meanwhile() -> None:
    answer = assess(paddy(tube((0, -160))))
    assert answer.state is State.BELOW_REFILL
    assert answer.amount is not None
    # 50 + 0.1 x 160 x (1 - 160 / 1400) = 64.2 mm at 5 mm/h less some 0.4 that is lost.
    assert answer.amount.hours == pytest.approx(64.2 / 4.6, rel=0.03)
    assert answer.amount.volume_m3 == pytest.approx(answer.amount.hours * 50)


def test_the_level_is_carried_on_by_use_rain_and_water() -> None:
    dry = assess(paddy(tube((-24, 40))))
    # Kc 1.15 x 5, 3.5 x 1.1 and a half are lost in the day.
    assert level(dry) == pytest.approx(40 - 5.75 - 3.85 - 0.4, abs=0.8)
    rain = assess(paddy(tube((-24, 40)), waterings=(Watering(-12, 20.0, is_rain=True),)))
    assert level(rain) - level(dry) == pytest.approx(20, abs=1.0)
    let_in = Watering(-2, 30.0, begun_hours=-8.0)
    assert level(assess(paddy(tube((-24, 40)), waterings=(let_in,)))) > level(dry) + 28
    # Read in the middle of it: half came after.
    half = assess(paddy(tube((-5, 40)), waterings=(let_in,)))
    assert level(half) == pytest.approx(level(assess(paddy(tube((-5, 40))))) + 15, abs=1.0)


def test_without_a_reading_nothing_is_said() -> None:
    assert assess(paddy()).reasons == (Reason.NO_INSTRUMENT,)
    old = assess(paddy(tube((-24 * 11, 30))))
    assert (old.state, old.reasons) == (State.NO_RELIABLE_DATA, (Reason.NO_RELIABLE_READING,))
    doubted = replace(tube((0, 30)), believed=np.zeros(1, bool))
    assert assess(paddy(doubted)).state is State.NO_RELIABLE_DATA


def test_tubes_are_averaged_and_told_of_where_they_disagree() -> None:
    answer = assess(paddy(tube((0, 40)), tube((0, -30), name="T2")))
    assert level(answer) == pytest.approx(5, abs=3)
    assert Reason.SITES_DISAGREE in answer.reasons
    agreeing = assess(paddy(tube((0, 40)), tube((0, 30), name="T2")))
    assert Reason.SITES_DISAGREE not in agreeing.reasons


def test_water_is_there_before_flowering_begins() -> None:
    # 111 days after planting: 42 hours before it is to be kept at 5 cm; filling takes 13 and more.
    answer = assess(paddy(tube((0, 20)), day=111))
    assert answer.start_at is not None
    assert answer.start_at < NOW + timedelta(hours=42 - 13)
    assert Reason.FLOWERING_PONDED in answer.reasons
    assert answer.ponded is not None
    assert answer.ponded.phase is Phase.WETTING_AND_DRYING


@pytest.mark.parametrize("day", [113, 120, 127])
def test_flowering_is_never_dried(day: int) -> None:
    answer = assess(paddy(tube((0, 55)), day=day, field=replace(FIELD, threshold_mm=-250.0)))
    assert answer.ponded is not None
    assert answer.ponded.phase is Phase.FLOWERING
    assert answer.ponded.lower_mm is not None
    assert answer.ponded.lower_mm >= 50
    assert answer.state in (State.IRRIGATE_NOW, State.BELOW_REFILL)
    assert answer.ponded.not_deeper is NotDeeper.NOT_DRYING


def test_a_field_drained_for_harvest_needs_no_more() -> None:
    answer = assess(paddy(tube((0, 30)), day=140))
    assert answer.state is State.FINISHED
    assert Reason.DRAIN_FOR_HARVEST in answer.reasons
    assert answer.start_at is None
    soon = assess(paddy(tube((0, 50)), day=136))
    assert soon.state is State.FINISHED
    assert Reason.ENOUGH_TO_FINISH in soon.reasons


def test_rain_ahead_puts_it_off() -> None:
    rain = np.zeros((MEMBERS, 10))
    rain[:, 1] = 60.0
    wet = paddy(tube((0, 10)))
    wet = wet.assuming(forecast=Forecast.of(np.full((MEMBERS, 10), 5.0), rain, 10))
    dry = wet.assuming(forecast=Forecast.of(np.full((MEMBERS, 10), 5.0), 0 * rain, 10))
    with_rain, without = assess_blocks([wet, dry])
    assert with_rain.start_at is not None
    assert without.start_at is not None
    assert with_rain.start_at > without.start_at + timedelta(days=3)


def test_a_hold_moves_the_start() -> None:
    free = assess(paddy(tube((0, -100))))
    held = assess(paddy(tube((0, -100)), holds=(Hold(0.0, 60.0, HoldKind.SPRAY),)))
    assert free.start_at is not None
    assert held.start_at == NOW + timedelta(hours=60)
    assert held.state is State.ON_HOLD


def test_planned_water_is_counted_on() -> None:
    planned = assess(paddy(tube((0, -120)), planned=(PlannedSet(2.0, 14.0, 60.0),)))
    assert planned.start_at is None or planned.start_at > NOW + timedelta(days=3)


def test_nitrogen_goes_before_the_next_water() -> None:
    near = replace(FIELD, nitrogen_on=(NOW.date() + timedelta(days=2),))
    answer = assess(paddy(tube((0, -60)), field=near))
    assert Reason.NITROGEN_BEFORE_WATER in answer.reasons
    assert answer.ponded is not None
    assert answer.ponded.nitrogen_on == NOW.date() + timedelta(days=2)
    far = replace(FIELD, nitrogen_on=(NOW.date() + timedelta(days=12),))
    assert Reason.NITROGEN_BEFORE_WATER not in assess(paddy(tube((0, -60)), field=far)).reasons


def test_an_inlet_that_brings_less_than_is_lost_is_told_of() -> None:
    weak = replace(SYSTEM, flow_m3_h=2.0)
    answer = assess(paddy(tube((0, -140))).assuming(system=weak))
    assert Reason.CANT_CATCH_UP in answer.reasons


def test_a_young_crop_is_kept_ponded() -> None:
    answer = assess(paddy(tube((0, 30)), day=5))
    assert Reason.KEPT_PONDED in answer.reasons
    assert Reason.KEPT_PONDED not in assess(paddy(tube((0, 30)), day=30)).reasons


def test_a_low_bund_is_told_of() -> None:
    low = replace(FIELD, bund_mm=100.0)
    assert Reason.BUND_TOO_LOW in assess(paddy(tube((0, 30)), field=low)).reasons
    assert Reason.BUND_TOO_LOW not in assess(paddy(tube((0, 30)))).reasons


def test_two_dryings_allow_a_deeper_one() -> None:
    read = ((-480, 30), (-432, -140), (-408, 30), (-312, -145), (-288, 40), (0, 30))
    assert Reason.MAY_DRY_DEEPER in assess(paddy(tube(*read))).reasons
    since = replace(FIELD, threshold_since=NOW.date() - timedelta(days=15))
    assert Reason.MAY_DRY_DEEPER not in assess(paddy(tube(*read), field=since)).reasons


def test_another_crop_within_bunds_is_kept_above_refill() -> None:
    other = block().assuming(ponded=FIELD)
    assert assess(other).ponded is None
    assert other.assumed.regime is Regime.ABOVE_REFILL


def test_a_plan_of_all_blocks_sees_the_field_as_a_store() -> None:
    needs = needs_ahead([paddy(tube((0, -50)))], 10)[0]
    assert needs is not None
    assert needs.depletion_mm.mean() == pytest.approx(50 + 4.82, abs=1.0)
    assert needs.raw_mm == pytest.approx(np.full(10, 50 + 13.39), abs=0.1)
    assert needs.use_mm[:, 1].mean() == pytest.approx(1.15 * 5 + 3.5, rel=0.15)


def test_regimes_are_answered_in_the_order_of_the_blocks() -> None:
    soil = replace(block(), now=NOW)
    answers = assess_blocks([paddy(tube((0, 20))), soil, paddy(tube((0, 30)))])
    assert [a.ponded is None for a in answers] == [False, True, False]
    assert answers[2] == answers[2]
    assert level(answers[2]) == pytest.approx(30, abs=1)


def test_an_answer_is_the_same_whoever_is_beside() -> None:
    one = paddy(tube((-48, 30), (-24, 10), (0, -30)))
    other = paddy(tube((-48, 90), (-24, 60), (0, 20)))
    alone, beside = assess_blocks([one])[0], assess_blocks([other, one])[1]
    assert alone.start_at == beside.start_at
    assert alone.amount == beside.amount


def test_an_old_reading_is_less_sure() -> None:
    assert assess(paddy(tube((0, 30)))).confidence is Confidence.GOOD
    assert assess(paddy(tube((-24 * 6, 30)))).confidence is Confidence.LOW
