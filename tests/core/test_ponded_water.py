"""Water in a bunded field, by hand."""

from datetime import date, timedelta

import numpy as np
import pytest

from core.crop.catalogue import crop
from core.crop.season import CropSeason, StageSeen, season_days
from core.ponded.cycles import Drying, NotDeeper, cycles_at, dryings, why_not_deeper
from core.ponded.field import PondedField, PondedProblem, Started
from core.ponded.losses_learned import Fall, ToLearn, falls, losses_learned
from core.ponded.phases import Phase, phase_days
from core.ponded.record import Record, Water
from core.ponded.season_water import continuous_mm, needed_mm
from core.ponded.tube import Tube
from core.ponded.water import Losses, level_of, run_water, store_mm

PLANTED = date(2027, 5, 15)
# FAO-56 table 11: 30 + 30 + 60 + 30 days. Ripening takes the last 30 (common practice, no source).
FLOWERING, HARVEST = PLANTED + timedelta(days=120), PLANTED + timedelta(days=150)


def losses(percolation: float = 4.0, seepage: float = 0.02, porosity: float = 0.1) -> Losses:
    return Losses(np.array([percolation]), np.array([seepage]), np.array([porosity]))


def tube(*readings: tuple[float, float]) -> Tube:
    hours, level = np.array(readings, float).reshape(-1, 2).T
    return Tube("tube", hours, level, np.ones(hours.size, bool))


def dry_days(days: float, use_mm_day: float) -> Record:
    hours = np.arange(-24.0 * days, 0.5)
    return Record.of(hours, (hours - hours[0]) / 24 * use_mm_day, ())


@pytest.mark.parametrize(
    ("level", "water"),
    [
        (50.0, 50.0),
        (0.0, 0.0),
        # 0.1 x 140 x (1 - 140 / 1400) = 12.6 mm are missing.
        (-140.0, -12.6),
        (-350.0, -26.25),
    ],
)
def test_a_level_as_water_and_back(level: float, water: float) -> None:
    assert store_mm(level, 0.1) == pytest.approx(water)
    assert level_of(water, 0.1) == pytest.approx(level)


def test_what_is_lost_at_a_level() -> None:
    # 4 x (1 + 35 / 350) + 0.02 x 35; below the surface nothing seeps out; at the pan nothing goes.
    found = losses()
    assert found.at(35.0) == pytest.approx(4.4 + 0.7)
    assert found.at(-175.0) == pytest.approx(2.0)
    assert found.at(-350.0) == pytest.approx(0.0)


def test_a_day_of_a_ponded_field() -> None:
    ran = run_water(
        np.array([40.0]), losses(), np.ones(1), np.array([[6.0]]), np.array([[2.0]]), 150.0
    )
    # 40 + 2 - 6 - 4 x (1 + 40 / 350) - 0.8
    assert ran.level_mm[0, -1] == pytest.approx(40 + 2 - 6 - 4 * (1 + 40 / 350) - 0.8)
    assert ran.overflow_mm.sum() == 0.0


def test_what_the_bund_does_not_hold_runs_over() -> None:
    ran = run_water(
        np.array([100.0]), losses(), np.ones(1), np.zeros((1, 1)), np.array([[80.0]]), 120.0
    )
    lost = 4 * (1 + 100 / 350) + 2.0
    assert ran.level_mm[0, -1] == 120.0
    assert ran.overflow_mm[0, 0] == pytest.approx(100 + 80 - lost - 120)


def test_water_that_ran_for_hours_is_shared_among_them() -> None:
    record = Record.of(np.arange(-24.0, 0.5), np.zeros(25), (Water(-10.0, -5.0, 50.0),))
    use, water = record.between(np.array([-24.0, -8.0, -5.0, 0.0]))
    assert water.tolist() == pytest.approx([20.0, 30.0, 0.0])
    assert use.sum() == 0.0


def test_a_fall_has_no_irrigation_in_it() -> None:
    record = Record.of(np.arange(-96.0, 0.5), np.zeros(97), (Water(-40.0, -30.0, 50.0),))
    read = tube((-90, 30), (-66, 20), (-42, 10), (-24, 60), (-20, 58), (0, 50))
    assert falls([read], record) == (
        Fall(-90, -66, 30, 20),
        Fall(-66, -42, 20, 10),
        Fall(-24, 0, 60, 50),
    )


def fallen(found: Losses, start: float, days: int, use_mm_day: float) -> Tube:
    """Readings each morning of a field with these losses."""
    use = np.full((1, days * 24), use_mm_day / 24)
    ran = run_water(np.array([start]), found, np.full(days * 24, 1 / 24), use, 0 * use, 200.0)
    return tube(*((-24.0 * (days - d), ran.level_mm[0, 24 * d]) for d in range(days + 1)))


def test_losses_are_learned_from_falls() -> None:
    true = losses(9.0, 0.01, 0.2)
    record = dry_days(8, 5.0)
    field = PondedField(bund_mm=200.0)
    read = [fallen(true, 60.0, 8, 5.0), fallen(true, 45.0, 8, 5.0), fallen(true, 30.0, 8, 5.0)]
    learned, unread = losses_learned(
        [ToLearn(falls(read, record), record, field), ToLearn((), record, field)]
    )
    assert learned.likely.percolation_mm_day == pytest.approx(9.0, rel=0.15)
    assert learned.likely.porosity == pytest.approx(0.2, rel=0.15)
    assert unread.likely.percolation_mm_day == pytest.approx(4.0)
    # What falls have shown is surer than what was known before.
    assert np.log(learned.courses.porosity).std() < 0.6 * np.log(unread.courses.porosity).std()


def test_a_field_learns_the_same_whoever_is_with_it() -> None:
    record = dry_days(8, 5.0)
    one = ToLearn(
        falls([fallen(losses(), 50.0, 8, 5.0)], record), record, PondedField(bund_mm=200.0)
    )
    other = ToLearn(
        falls([fallen(losses(15.0), 90.0, 8, 5.0)], record), record, PondedField(bund_mm=200.0)
    )
    alone, beside = losses_learned([one])[0], losses_learned([other, one])[1]
    assert np.array_equal(alone.courses.porosity, beside.courses.porosity)


def test_a_measured_figure_takes_the_place_of_what_is_usual() -> None:
    record = dry_days(1, 5.0)
    field = PondedField(bund_mm=200.0, percolation_mm_day=12.0, porosity=0.08)
    learned = losses_learned([ToLearn((), record, field)])[0]
    assert learned.likely.percolation_mm_day == pytest.approx(12.0)
    assert learned.likely.porosity == pytest.approx(0.08)


def phase_on(day: int, **field: object) -> Phase:
    season = CropSeason(crop("rice"), PLANTED)
    book = season_days([season], PLANTED, 150).book_day[0]
    found = phase_days(PondedField(bund_mm=150.0, **field), season, PLANTED, book)  # type: ignore[arg-type]
    return found.phase(day)


@pytest.mark.parametrize(
    ("day", "phase"),
    [
        (0, Phase.ESTABLISHMENT),
        (9, Phase.ESTABLISHMENT),
        (10, Phase.WETTING_AND_DRYING),
        (112, Phase.WETTING_AND_DRYING),
        (113, Phase.FLOWERING),
        (127, Phase.FLOWERING),
        (128, Phase.WETTING_AND_DRYING),
        (137, Phase.WETTING_AND_DRYING),
        (138, Phase.DRAINAGE),
    ],
)
def test_phases_by_the_calendar(day: int, phase: Phase) -> None:
    assert phase_on(day) is phase


def test_a_weedy_start_stays_ponded() -> None:
    until = PLANTED + timedelta(days=21)
    assert phase_on(21, keep_ponded_until=until) is Phase.WEED_CONTROL
    assert phase_on(22, keep_ponded_until=until) is Phase.WETTING_AND_DRYING


def test_direct_seeded_rice_is_dried_once_it_stands_10_cm_high() -> None:
    assert phase_on(20, started=Started.DIRECT_SEEDED) is Phase.ESTABLISHMENT
    assert phase_on(21, started=Started.DIRECT_SEEDED) is Phase.WETTING_AND_DRYING
    seen = PLANTED + timedelta(days=17)
    early = phase_on(17, started=Started.DIRECT_SEEDED, drying_from=seen)
    assert early is Phase.WETTING_AND_DRYING


def test_flowering_and_harvest_follow_a_stage_that_was_seen() -> None:
    late = CropSeason(crop("rice"), PLANTED, seen=(StageSeen(60, 50.0),))
    book = season_days([late], PLANTED, 90).book_day[0]
    found = phase_days(PondedField(bund_mm=150.0), late, PLANTED, book)
    assert found.flowering_on == FLOWERING + timedelta(days=10)
    assert found.harvest_on == HARVEST + timedelta(days=10)


def test_levels_of_the_phases() -> None:
    season = CropSeason(crop("rice"), PLANTED)
    book = season_days([season], PLANTED, 150).book_day[0]
    field = PondedField(bund_mm=150.0, threshold_mm=-200.0)
    found = phase_days(field, season, PLANTED, book)
    assert (found.lower_mm[50], found.upper_mm[50]) == (-200.0, 50.0)
    # Flooded again at 6.2 cm, never below 5.
    assert found.lower_mm[120] - found.guard_mm[120] == 50.0
    assert found.upper_mm[120] == 92.0
    assert found.lower_mm[140] == -np.inf


@pytest.mark.parametrize(
    ("wrong", "named"),
    [
        ({"bund_mm": 20.0}, "bund_mm"),
        ({"bund_mm": 60.0, "refill_to_mm": 50.0}, "refill_to_mm"),
        ({"bund_mm": 150.0, "threshold_mm": -170.0}, "threshold_mm"),
        ({"bund_mm": 150.0, "percolation_mm_day": -1.0}, "percolation_mm_day"),
        ({"bund_mm": 150.0, "porosity": 0.9}, "porosity"),
    ],
)
def test_a_field_that_cannot_be_is_refused(wrong: dict[str, float], named: str) -> None:
    with pytest.raises(PondedProblem) as error:
        PondedField(**wrong)  # type: ignore[arg-type]
    assert error.value.field == named


TODAY = date(2027, 7, 20)


def test_dryings_by_the_readings() -> None:
    read = tube((-240, 20), (-192, -40), (-168, -135), (-144, 45), (-96, -10), (0, -90))
    assert dryings([read], TODAY, 6.0) == (
        Drying(TODAY - timedelta(days=10), TODAY - timedelta(days=6), -135.0),
        Drying(TODAY - timedelta(days=6), None, -90.0),
    )


def test_only_dryings_that_reached_the_threshold_count() -> None:
    found = [
        Drying(date(2027, 6, 1), date(2027, 6, 8), -131.0),
        Drying(date(2027, 6, 8), date(2027, 6, 14), -129.0),
        Drying(date(2027, 6, 14), date(2027, 6, 20), -160.0),
        Drying(date(2027, 6, 20), None, -150.0),
    ]
    assert cycles_at(found, -150.0, None) == 2
    assert cycles_at(found, -150.0, date(2027, 6, 10)) == 1


def deeper(day: int, cycles: int, threshold: float = -150.0) -> NotDeeper | None:
    season = CropSeason(crop("rice"), PLANTED)
    book = season_days([season], PLANTED, 150).book_day[0]
    field = PondedField(bund_mm=150.0, threshold_mm=threshold)
    phases = phase_days(field, season, PLANTED, book)
    return why_not_deeper(field, cycles, phases, PLANTED + timedelta(days=day))


def test_a_deeper_threshold_is_earned_step_by_step() -> None:
    assert deeper(60, 1) is NotDeeper.FEW_CYCLES
    assert deeper(60, 2) is None
    assert deeper(60, 9, -300.0) is NotDeeper.DEEPEST
    assert deeper(5, 2) is NotDeeper.NOT_DRYING
    assert deeper(120, 2) is NotDeeper.NOT_DRYING
    assert deeper(110, 2) is NotDeeper.FLOWERING_NEAR
    assert deeper(130, 2) is None


def test_a_week_kept_ponded_by_hand() -> None:
    # Down from 60 by 10 mm a day: at 50 it is filled to 100, and 20 mm are lost of that.
    field = PondedField(bund_mm=200.0)
    days, use = np.ones(3), np.full((1, 3), 10.0)
    none = losses(0.0, 0.0)
    assert continuous_mm(field, none, days, use, np.zeros(3), 60.0) == pytest.approx([30.0])


def test_what_levels_have_taken_by_hand() -> None:
    level = np.array([40.0, 20.0, -140.0])
    found = needed_mm(losses(3.5, 0.0), np.ones(2), np.full((1, 2), 5.0), np.array([0, 4.0]), level)
    # Use 10, percolation 3.5 x (1 + 30 / 350) + 3.5 x (1 - 60 / 350) = 6.7, rain 4; from 40 to
    # -12.6.
    assert found == pytest.approx([0.0])
    up = needed_mm(losses(3.5, 0.0), np.ones(2), np.full((1, 2), 5.0), np.zeros(2), level[::-1])
    assert up == pytest.approx([10 + 6.7 + 52.6])
