"""The answer for a block: states, dates, amounts, honesty about what is not known."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from core.advice.assess import assess
from core.advice.inputs import Watering
from core.advice.stated_et import StatedEt
from core.advice.vocabulary import Confidence, Reason, State
from core.crop.catalogue import crop
from core.crop.season import CropSeason, Stage
from core.limits.refill_method import LimitRule, RefillMethod
from core.state.daylight import days_used
from tests.core.blocks import ET, NOW, PIVOT, PROFILE, block, probe, tensiometers


@pytest.mark.parametrize(
    "share, state",
    [
        (1.0, State.IRRIGATE_SOON),
        (0.80, State.IRRIGATE_NOW),
        (0.60, State.BELOW_REFILL),
        (1.15, State.ABOVE_FULL),
    ],
)
def test_states_by_what_is_left(share: float, state: State) -> None:
    # Potato at ETc 6.3: p = 0.35 + 0.04 (5 - 6.3) = 0.30, so refill stands at a share of 0.70.
    assert assess(block(sites=(probe(1.0, share),))).state is state


def test_a_deep_rooted_crop_holds_longer() -> None:
    walnut = CropSeason(crop("walnut"), date(2026, 4, 1))
    answer = assess(block(season=walnut))
    assert answer.state is State.OK
    assert Reason.PROFILE_STOPS_ROOTS in answer.reasons
    assert answer.root_mm == PROFILE.depth_mm


@pytest.mark.parametrize(
    "changes, reason",
    [
        ({"sites": ()}, Reason.NO_INSTRUMENT),
        ({"season": None}, Reason.NO_CROP_IN_SEASON),
        (
            {"season": CropSeason(crop("potato"), date(2026, 8, 1))},
            Reason.NO_CROP_IN_SEASON,
        ),
        (
            {"season": CropSeason(crop("lettuce"), date(2026, 1, 1))},
            Reason.NO_CROP_IN_SEASON,
        ),
        ({"et": None}, Reason.NO_ET),
        ({"sites": (tensiometers(30, hours=-200),)}, Reason.NO_RELIABLE_READING),
    ],
)
def test_no_reliable_data_says_why_and_invents_nothing(changes: dict, reason: Reason) -> None:
    answer = assess(block(**changes))
    assert answer.state is State.NO_RELIABLE_DATA
    assert answer.reasons == (reason,)
    assert answer.confidence is Confidence.NONE
    assert answer.deficit_mm is None
    assert answer.amount is None
    assert answer.outlook is None
    assert answer.start_at is None


def test_date_and_amount_agree_with_the_day_table() -> None:
    answer = assess(block())
    assert answer.outlook is not None
    assert answer.amount is not None
    left = answer.outlook.days_left
    use = 1.15 * ET.expected
    usable = answer.outlook.usable_mm[0]
    assert left == pytest.approx(usable / use)  # roots are full grown, p stands still
    assert answer.refill_at == pytest.approx(NOW + timedelta(days=left), abs=timedelta(seconds=1))
    # The water comes when a fifth of the forecasts are below refill; sprinklers wet all at once.
    by = next(s.value for s in answer.steps if s.key == "needed_by")
    assert answer.outlook.days_left_dry < by < left
    assert answer.deficit_mm is not None
    assert answer.amount.net_mm == pytest.approx(answer.deficit_mm + by * use)
    assert answer.amount.gross_mm == pytest.approx(answer.amount.net_mm / 0.75)
    assert answer.amount.hours == pytest.approx(answer.amount.gross_mm / 4.0)
    assert answer.start_at is not None
    assert timedelta(0) <= NOW + timedelta(days=by) - answer.start_at < timedelta(hours=1)


def test_a_machine_that_crosses_starts_earlier_by_its_pass() -> None:
    still = assess(
        block(sites=(probe(1.0, 1.0),), season=CropSeason(crop("maize-grain"), date(2026, 4, 20)))
    )
    moving = assess(
        block(
            sites=(probe(1.0, 1.0),),
            season=CropSeason(crop("maize-grain"), date(2026, 4, 20)),
            system=PIVOT,
        )
    )
    assert still.refill_at == moving.refill_at
    assert moving.refill_at is not None
    assert moving.start_at is not None
    # 30 mm gross at 200 m3/h over 30 ha (0.667 mm/h) takes 45 h.
    assert still.start_at is not None
    early = still.start_at - moving.start_at
    assert timedelta(hours=44) < early < timedelta(hours=46)
    assert moving.amount is not None
    assert moving.amount.gross_mm == 30
    assert Reason.MAXIMUM_APPLICATION in moving.reasons


def test_range_is_dry_to_wet_and_widens_with_doubt() -> None:
    sure = assess(block()).outlook
    unsure = assess(block(et=StatedEt(2.5, 5.5, 8.5, "wide"))).outlook
    assert sure is not None
    assert unsure is not None
    assert sure.days_left_dry <= sure.days_left <= sure.days_left_wet
    assert unsure.days_left_dry <= sure.days_left_dry
    assert unsure.days_left_wet >= sure.days_left_wet


def test_old_reading_is_carried_forward_by_use_and_by_water() -> None:
    fresh = assess(block(sites=(tensiometers(36, hours=-1),)))
    old = assess(block(sites=(tensiometers(36, hours=-47),)))
    wetted = assess(block(sites=(tensiometers(36, hours=-47),), waterings=(Watering(-20, 8.0),)))
    before = assess(block(sites=(tensiometers(36, hours=-47),), waterings=(Watering(-60, 8.0),)))
    assert Reason.CARRIED_FROM_READING in old.reasons
    assert Reason.CARRIED_FROM_READING not in fresh.reasons
    # Read at 07:10 two days ago, when the day's use had hardly begun.
    use = 1.15 * ET.expected * -days_used(-47, 6 + 10 / 60)
    assert fresh.deficit_mm is not None
    assert old.deficit_mm == pytest.approx(fresh.deficit_mm + use)
    assert wetted.deficit_mm == pytest.approx(old.deficit_mm - 8)
    assert before.deficit_mm == old.deficit_mm
    assert old.sigma_mm > fresh.sigma_mm


def test_more_water_never_brings_the_date_nearer() -> None:
    days = []
    for share in np.linspace(0.5, 1.2, 15):
        outlook = assess(block(sites=(probe(1.0, float(share)),))).outlook
        assert outlook is not None
        days.append(outlook.days_left)
    assert days == sorted(days)


def test_sites_that_disagree_are_reported_and_cost_confidence() -> None:
    calm = assess(block(sites=(probe(1, 0.9), tensiometers(40, hours=-1))))
    torn = assess(block(sites=(probe(1, 1.0), tensiometers(79, hours=-1))))
    assert Reason.SITES_DISAGREE not in calm.reasons
    assert Reason.SITES_DISAGREE in torn.reasons
    assert torn.sigma_mm > calm.sigma_mm


def test_roots_that_outgrow_the_sensors_lower_confidence() -> None:
    answer = assess(block(season=CropSeason(crop("walnut"), date(2026, 4, 1))))
    assert Reason.UNSEEN_BELOW_SENSORS in answer.reasons
    assert answer.confidence is not Confidence.GOOD


def test_hours_below_refill_count_from_when_it_passed() -> None:
    # From full to a share of 0.4 over a week; refill at about 0.70 was passed half-way.
    answer = assess(block(sites=(probe(1.0, 0.4),)))
    assert answer.below_refill_hours == pytest.approx(84, abs=10)
    assert answer.start_at == NOW
    assert assess(block()).below_refill_hours is None


def test_methods_answer_side_by_side() -> None:
    crop_refill_method = assess(block())
    flat = assess(block(rules=(LimitRule(RefillMethod.FLAT),)))
    by_name = {s.refill_method: s for s in crop_refill_method.refill_methods}
    assert by_name[RefillMethod.FLAT].p == 0.5
    assert by_name[RefillMethod.FLAT].days_left > by_name[RefillMethod.CROP_P].days_left
    assert flat.outlook is not None
    assert flat.outlook.days_left == pytest.approx(by_name[RefillMethod.FLAT].days_left)


def test_growing_roots_bring_new_soil_in_with_the_water_it_holds() -> None:
    # In development: roots grow daily. The deeper soil is full, so nothing is added.
    young = CropSeason(crop("potato"), NOW.date() - timedelta(days=35))
    depth_dry = probe(1.0, 0.8)
    answer = assess(block(season=young, sites=(depth_dry,)))
    assert answer.stage is Stage.DEVELOPMENT
    assert all(d.new_soil_mm > 0 for d in answer.days[:3])
    full = assess(block(season=young, sites=(probe(1.0, 1.0),)))
    assert all(d.new_soil_mm == pytest.approx(0, abs=1e-9) for d in full.days[:3])


def test_past_is_broken_where_readings_are_missing() -> None:
    site = probe(1.0, 0.9)
    theta = site.theta.copy()
    doubt = site.doubt.copy()
    gap = (site.hours > -120) & (site.hours < -60)
    theta[gap], doubt[gap] = np.nan, "missing"
    answer = assess(block(sites=(replace(site, theta=theta, doubt=doubt),)))
    assert answer.past is not None
    hours = answer.past.hours
    inside = (hours > -118) & (hours < -62)
    outside = (hours > -165) & ((hours < -126) | (hours > -54))
    assert np.isnan(answer.past.usable_mm[inside]).all()
    assert not np.isnan(answer.past.usable_mm[outside]).any()


def test_amount_leaves_room_for_rain() -> None:
    plain, roomy = assess(block()), assess(block(rain_room_mm=5))
    assert plain.amount is not None
    assert roomy.amount is not None
    assert roomy.amount.net_mm == pytest.approx(plain.amount.net_mm - 5)


def test_clock_change_does_not_shift_the_answer() -> None:
    """Summer time ends in the night to 25 October 2026: the instants stay as they were."""
    autumn = NOW.replace(month=10, day=24)
    season = CropSeason(crop("lettuce"), date(2026, 9, 10))
    answer = assess(block(now=autumn, season=season, et=StatedEt(0.8, 1.0, 1.2, "autumn")))
    assert answer.outlook is not None
    assert answer.refill_at is not None
    elapsed = (answer.refill_at.timestamp() - autumn.timestamp()) / 86400
    assert elapsed == pytest.approx(answer.outlook.days_left)
