"""Every reason of the vocabulary has a block that earns it, and a near twin that does not."""

from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from core.advice.assess import assess
from core.advice.decide import decide
from core.advice.holds import Hold, HoldKind
from core.advice.inputs import BlockInputs, PastWeather, PlannedSet, Watering
from core.advice.judge import Judgement
from core.advice.vocabulary import Confidence, Reason, State
from core.crop.catalogue import crop
from core.crop.reference import Surface
from core.crop.salinity import SaltStress, leaching
from core.crop.season import CropSeason
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.irrigation.system import IrrigationSystem, SystemKind
from core.outlook.forecast import Forecast
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.soil.water_table import WaterTable
from core.state.estimate_from import EstimateFrom
from tests.core.blocks import ET, NOW, PIVOT, PROFILE, block, probe, tensiometers

DAYS = 40
SHALLOW = Profile.from_horizons([Horizon(0, 350, texture=TextureClass.LOAM)])
DRY = Forecast.of(np.full((50, 10), 5.5), np.zeros((50, 10)), 31)
HOT = Forecast.of(np.full((50, 10), 8.0), np.zeros((50, 10)), 31)
WET = Forecast.of(np.full((50, 10), 5.5), np.full((50, 10), 25.0), 31)


def season(key: str, days: int) -> CropSeason:
    return CropSeason(crop(key), NOW.date() - timedelta(days=days))


def lived(et0_mm: float = 5.5, **changes: object) -> BlockInputs:
    """A block with weather behind it."""
    past = PastWeather(NOW.date() - timedelta(days=DAYS), np.full(DAYS, et0_mm))
    return block(**{"past": past, "forecast": DRY, **changes})


def told_by(shares: np.ndarray, every_hours: float = 24.0) -> Site:
    """A probe whose available share takes given values, the last one now."""
    hours = (np.arange(shares.size) - shares.size + 1) * every_hours - 0.25
    depth = np.array([100.0, 200.0, 400.0, 600.0])
    h = PROFILE.horizon_at(depth)
    wilt, full = PROFILE.theta_wilt[h], PROFILE.theta_full[h]
    restless = 1e-4 * np.sin(np.arange(shares.size))[:, None]
    theta = wilt + shares[:, None] * (full - wilt) + restless
    return Site.from_readings(
        "Probe", InstrumentKind.CAPACITANCE_PROBE, depth, hours, theta, PROFILE
    )


def uses(factor: float) -> BlockInputs:
    """A crop that uses so many times what its book says, filled up every four days."""
    daily, shares, sets, left = 5.5 * 1.15 * factor / 55.0, [], [], 1.0
    for day in range(DAYS):
        if day % 4 == 3:
            sets.append(Watering(-24.0 * (DAYS - day - 1) - 12, (1 - left) * 55.0))
            left = 1.0
        left -= daily
        shares.append(left)
    return lived(sites=(told_by(np.array(shares)),), waterings=tuple(sets))


def doubted() -> Site:
    site = probe(1.0, 0.9)
    theta = site.theta.copy()
    doubt = site.doubt.copy()
    theta[-1, 1], doubt[-1, 1] = np.nan, "range"
    return replace(site, theta=theta, doubt=doubt)


def watered(every_days: int, net_mm: float) -> BlockInputs:
    """A block without sensors, watered every so many days."""
    sets = tuple(Watering(-24.0 * k - 10, net_mm) for k in range(0, DAYS, every_days))
    return lived(estimate_from=EstimateFrom.BALANCE, waterings=sets)


def stands_still(net_mm: float | None) -> BlockInputs:
    """A dry block whose sensors stay where they are, whatever it is given every third day."""
    sets = () if net_mm is None else tuple(Watering(-72.0 * k - 10, net_mm) for k in range(13))
    return lived(sites=(told_by(np.full(DAYS, 0.45)),), waterings=sets)


def table(depth_mm: float) -> WaterTable:
    return WaterTable(NOW.date() - timedelta(days=400), np.array([depth_mm]), "stated")


def matrix(kpa: float) -> Site:
    return Site.from_readings(
        "Matrix",
        InstrumentKind.GRANULAR_MATRIX,
        [150, 300],
        [-26.0, -2.0],
        np.array([[kpa - 9, 60.0], [kpa, 62.0]]),
        PROFILE,
    )


PAN = Profile.from_horizons(
    [
        Horizon(0, 500, texture=TextureClass.LOAM),
        Horizon(500, 1200, texture=TextureClass.CLAY, bulk_density=1.6),
    ]
)
RAINED = tuple(Watering(-24.0 * k, 60.0, is_rain=True) for k in range(5, 30))
SLOW = IrrigationSystem(SystemKind.SOLID_SET, 50_000, 0.75, rate_mm_h=0.15)
EAGER = IrrigationSystem(SystemKind.SOLID_SET, 50_000, 0.75, rate_mm_h=4.0, smallest_mm=60)

# What earns a reason, and what differs from it just enough not to.
CASES: dict[Reason, tuple[Callable[[], BlockInputs], Callable[[], BlockInputs]]] = {
    Reason.NO_INSTRUMENT: (lambda: block(sites=()), block),
    Reason.NO_RELIABLE_READING: (
        lambda: block(sites=(tensiometers(85),)),
        lambda: block(sites=(tensiometers(60),)),
    ),
    Reason.NO_CROP_IN_SEASON: (lambda: block(season=None), block),
    Reason.NO_ET: (lambda: block(et=None), block),
    Reason.SURFACES_DIFFER: (
        lambda: block(et=replace(ET, surface=Surface.ALFALFA)),
        lambda: block(et=replace(ET, surface=Surface.ALFALFA), alfalfa_ratio=1.2),
    ),
    Reason.SENSOR_EXCLUDED: (lambda: block(sites=(doubted(),)), block),
    Reason.CARRIED_FROM_READING: (
        lambda: block(sites=(tensiometers(40, hours=-20),)),
        lambda: block(sites=(tensiometers(40, hours=-1),)),
    ),
    Reason.UNSEEN_BELOW_SENSORS: (
        lambda: block(season=season("lucerne-hay", 100)),
        block,
    ),
    Reason.SITES_DISAGREE: (
        lambda: block(sites=(probe(1, 0.95), tensiometers(75, hours=-1))),
        lambda: block(sites=(probe(1, 0.9), probe(1, 0.88))),
    ),
    Reason.PROFILE_STOPS_ROOTS: (
        lambda: block(
            profile=SHALLOW, season=season("tomato", 90), sites=(probe(1, 0.9, SHALLOW),)
        ),
        lambda: block(season=season("potato", 75)),
    ),
    Reason.MAXIMUM_APPLICATION: (
        lambda: block(system=PIVOT, sites=(probe(1, 0.3),)),
        lambda: block(sites=(probe(1, 0.3),)),
    ),
    Reason.MINIMUM_APPLICATION: (
        lambda: block(system=EAGER, sites=(probe(1, 0.7),)),
        lambda: block(sites=(probe(1, 0.7),)),
    ),
    Reason.SURPLUS_DRAINING: (
        lambda: block(sites=(probe(1, 1.4),)),
        lambda: block(sites=(probe(1, 0.95),)),
    ),
    Reason.BY_BALANCE_ALONE: (
        lambda: lived(estimate_from=EstimateFrom.BALANCE, waterings=(Watering(-100.0, 90.0),)),
        lived,
    ),
    Reason.ET_NOT_RECORDED: (
        lambda: lived(
            past=PastWeather(
                NOW.date() - timedelta(days=DAYS),
                np.where(np.arange(DAYS) == DAYS - 2, np.nan, 5.5),
            )
        ),
        lived,
    ),
    Reason.CRITICAL_STAGE: (
        lambda: block(season=season("maize-grain", 80)),
        lambda: block(season=season("maize-grain", 20)),
    ),
    Reason.CRITICAL_STAGE_NEXT: (
        lambda: block(season=season("maize-grain", 60)),
        lambda: block(season=season("maize-grain", 20)),
    ),
    Reason.HEAT_AHEAD: (lambda: lived(forecast=HOT), lived),
    Reason.CANT_CATCH_UP: (lambda: block(system=SLOW), block),
    Reason.NOT_WORTH_IRRIGATING_YET: (
        lambda: block(system=EAGER, sites=(probe(1, 0.78),)),
        lambda: block(sites=(probe(1, 0.78),)),
    ),
    Reason.DRAINAGE_AHEAD: (lambda: lived(forecast=WET), lived),
    Reason.ENOUGH_TO_FINISH: (
        lambda: block(season=season("potato", 128), sites=(probe(1, 1.0),)),
        lambda: block(season=season("potato", 128), sites=(probe(1, 0.03),)),
    ),
    Reason.MAY_BE_THE_LAST: (
        lambda: block(season=season("potato", 128), sites=(probe(1, 0.03),)),
        lambda: block(season=season("potato", 80), sites=(probe(1, 0.03),)),
    ),
    Reason.ON_HOLD: (
        lambda: block(sites=(probe(1, 0.72),), holds=(Hold(-2, 30, HoldKind.SPRAY),)),
        lambda: block(sites=(probe(1, 0.72),), holds=(Hold(300, 330, HoldKind.SPRAY),)),
    ),
    Reason.GO_BEFORE_HOLD: (
        lambda: block(sites=(probe(1, 0.85),), holds=(Hold(14, 90, HoldKind.CUTTING),)),
        lambda: block(sites=(probe(1, 0.85),)),
    ),
    Reason.PLANNED_IN_TIME: (
        lambda: block(planned=(PlannedSet(5, 9, 15.0),)),
        block,
    ),
    Reason.PLANNED_TOO_LATE: (
        lambda: block(planned=(PlannedSet(200, 204, 15.0),)),
        lambda: block(planned=(PlannedSet(5, 9, 15.0),)),
    ),
    Reason.LEACHING_ADDED: (lambda: block(leaching=leaching(1.7, 12, 1.0)), block),
    Reason.LEACHING_FALLS_SHORT: (
        lambda: block(leaching=leaching(1.2, 16, 2.9)),
        lambda: block(leaching=leaching(1.2, 16, 1.5)),
    ),
    Reason.DRAINS_ON: (lambda: watered(2, 45.0), lambda: watered(4, 25.0)),
    Reason.MORE_APPLIED_THAN_USED: (lambda: stands_still(20.0), lambda: stands_still(None)),
    Reason.MACHINE_TAKES_LONG: (
        lambda: block(system=PIVOT, sites=(probe(1, 0.3),)),
        lambda: block(sites=(probe(1, 0.3),), system=replace(SLOW, rate_mm_h=1.0)),
    ),
    Reason.SALT_LOWERS_USE: (
        lambda: block(season=replace(season("bean-dry", 60), salt=SaltStress(1.5, 1.0, 19, 1.15))),
        lambda: block(season=season("bean-dry", 60)),
    ),
    Reason.WATER_TABLE_FEEDS: (
        lambda: block(water_table=table(900.0)),
        lambda: block(water_table=table(4000.0)),
    ),
    Reason.WATER_TABLE_IN_ROOTS: (
        lambda: block(water_table=table(350.0)),
        lambda: block(water_table=table(450.0)),
    ),
    Reason.DRAINS_SLOWLY: (
        lambda: block(profile=PAN, sites=(probe(1, 1.5, PAN),)),
        lambda: block(profile=PAN, sites=(probe(1, 1.0, PAN),)),
    ),
    Reason.WOULD_RUN_OFF: (
        lambda: block(sites=(probe(1, 0.6),), intake_mm_h=2.0, slope_percent=4.0),
        lambda: block(sites=(probe(1, 0.6),), intake_mm_h=4.1, slope_percent=4.0),
    ),
    Reason.DRIER_THAN_SENSOR_READS: (
        lambda: block(sites=(matrix(199.0),)),
        lambda: block(sites=(matrix(198.0),)),
    ),
    Reason.SALT_CARRIED_OFF: (
        lambda: lived(leaching=leaching(1.7, 12, 1.0), sites=(), waterings=RAINED, tended=True),
        lambda: lived(leaching=leaching(1.7, 12, 1.0), sites=(), tended=True),
    ),
    Reason.PLACE_NOT_KNOWN: (lambda: lived(crossing=True), lived),
    Reason.REFILL_OUT_OF_REACH: (
        lambda: block(season=season("maize-grain", 80), sites=(tensiometers(40, hours=-1),)),
        lambda: block(season=season("maize-grain", 80)),
    ),
}


def doctored(**last: float) -> tuple[Reason, ...]:
    """Reasons where the last morning of the ensemble had been another."""
    d = decide([uses(1.0)], [uses(1.0).assumed.season or season("potato", 60)])
    quiet = {
        "unlogged_mm": np.zeros_like(d.track.unlogged_mm),
        "missing_mm": np.zeros_like(d.track.missing_mm),
        "surprise": np.zeros_like(d.track.surprise),
        "use_factor": np.ones_like(d.track.use_factor),
        "use_sigma": np.full_like(d.track.use_sigma, 0.05),
    }
    for name, value in last.items():
        quiet[name][..., -1] = value
    return Judgement(replace(d, track=replace(d.track, **quiet))).reasons[0]


# What the ensemble must have found for a reason, and what is not enough.
FOUND: dict[Reason, tuple[dict, dict]] = {
    Reason.USE_ABOVE_PUBLISHED: ({"use_factor": 1.2}, {"use_factor": 1.05}),
    Reason.USE_BELOW_PUBLISHED: ({"use_factor": 0.8}, {"use_factor": 0.8, "use_sigma": 0.2}),
    Reason.WATER_NOT_LOGGED: ({"unlogged_mm": 12.0}, {"unlogged_mm": 5.0}),
    Reason.IRRIGATION_FELL_SHORT: ({"missing_mm": 12.0}, {"missing_mm": 5.0}),
    Reason.BALANCE_SET_BACK: ({"surprise": -3.5}, {"surprise": -3.5, "unlogged_mm": 12.0}),
}


@pytest.mark.parametrize("reason", FOUND)
def test_what_the_readings_say_of_the_balance_is_news(reason: Reason) -> None:
    earns, twin = FOUND[reason]
    assert reason in doctored(**earns)
    assert reason not in doctored(**twin)


@pytest.mark.parametrize("crossing", [True, False], ids=["under a machine", "at rest"])
def test_a_machine_that_has_not_reached_the_sensors_contradicts_nothing(crossing: bool) -> None:
    """60 mm logged that no sensor answers to: asked about, unless it passed at a time unknown."""
    of = replace(stands_still(20.0), crossing=crossing)
    answer = assess(of)
    accused = {Reason.IRRIGATION_FELL_SHORT, Reason.WATER_NOT_LOGGED, Reason.BALANCE_SET_BACK}
    assert bool(accused & set(answer.reasons)) is not crossing
    assert (answer.question is None) is crossing


def test_nothing_is_good_where_readings_contradict_the_balance() -> None:
    d = decide([uses(1.0)], [uses(1.0).assumed.season or season("potato", 60)])
    calm = replace(
        d.track,
        unlogged_mm=np.zeros_like(d.track.unlogged_mm),
        missing_mm=np.zeros_like(d.track.missing_mm),
        surprise=np.zeros_like(d.track.surprise),
        usable_sigma_mm=np.full_like(d.track.usable_sigma_mm, 0.5),
    )
    d = replace(d, days_range=np.stack([d.days_left, d.days_left], axis=1))
    news = np.zeros_like(calm.unlogged_mm)
    news[..., -1] = 12.0
    sure = Judgement(replace(d, track=calm))
    assert sure.confidences[0] is Confidence.GOOD
    for told in (replace(calm, unlogged_mm=news), replace(calm, missing_mm=news)):
        assert Judgement(replace(d, track=told)).confidences[0] is not Confidence.GOOD


@pytest.mark.parametrize(("above", "above_full"), [(8.0, True), (3.0, False)])
def test_a_block_above_full_is_not_one_that_lacks_more_below(
    above: float, above_full: bool
) -> None:
    """A wet top over a dry subsoil: 5 mm are missing, and so much stands above full."""
    d = decide([uses(1.0)], [uses(1.0).assumed.season or season("potato", 60)])
    short = np.full_like(d.track.depletion_mm, 5.0)
    told = replace(
        d,
        track=replace(d.track, depletion_mm=short),
        gathered=replace(
            d.gathered,
            observed=replace(
                d.gathered.observed,
                surplus_mm=np.full_like(d.gathered.observed.surplus_mm, above),
            ),
        ),
    )
    assert (Judgement(told).states[0] is State.ABOVE_FULL) is above_full


def test_likely_rain_is_told_where_a_set_is_due() -> None:
    due = block(sites=(probe(1, 0.78),), forecast=DRY)
    d = decide([due], [due.assumed.season or season("potato", 60)])

    def told(chance: float, start: float) -> tuple[Reason, ...]:
        with_rain = replace(d, rain_chance=np.array([chance]), start_hours=np.array([start]))
        return Judgement(with_rain).reasons[0]

    assert Reason.RAIN_MAY_COVER in told(0.7, 20.0)
    assert Reason.RAIN_MAY_COVER not in told(0.5, 20.0)
    assert Reason.RAIN_MAY_COVER not in told(0.9, 100.0), "it is not due yet"
    assert Reason.RAIN_MAY_COVER not in told(np.nan, 20.0), "nobody forecast anything"


@pytest.mark.parametrize(("early", "hours"), [(2.01, 12.1), (1.99, 11.9)], ids=["more", "less"])
def test_two_days_early_and_half_a_day_of_crossing_need_a_reason(
    early: float, hours: float
) -> None:
    pivot = block(system=PIVOT, sites=(probe(1, 0.8),))
    d = decide([pivot], [pivot.assumed.season or season("potato", 60)])
    told = replace(
        d,
        days_left=d.chance_days + early,
        amounts=replace(d.amounts, turn_hours=np.array([hours])),
    )
    later = replace(told, start_hours=np.array([73.0]))
    assert Reason.DUE_EARLY not in Judgement(later).reasons[0], "not due for days"
    both = {Reason.DUE_EARLY, Reason.MACHINE_TAKES_LONG}
    assert both & set(Judgement(told).reasons[0]) == (both if early > 2 else set())


def test_every_reason_is_tried() -> None:
    elsewhere = {Reason.RAIN_MAY_COVER, Reason.DUE_EARLY, Reason.NOT_WORKED_OUT}
    # Of ponded fields, see `test_ponded_regime`.
    elsewhere |= {
        Reason.KEPT_PONDED,
        Reason.FLOWERING_PONDED,
        Reason.NITROGEN_BEFORE_WATER,
        Reason.DRAIN_FOR_HARVEST,
        Reason.MAY_DRY_DEEPER,
        Reason.BUND_TOO_LOW,
    }
    # Of leaves and plans, see `test_leaf_regime` and `test_deficit`.
    elsewhere |= {
        Reason.LEAVES_NOT_READ,
        Reason.LEAF_DRIER_THAN_SOIL,
        Reason.LEAF_WETTER_THAN_SOIL,
        Reason.LESS_BY_PLAN,
    }
    assert {*CASES, *FOUND, *elsewhere} == set(Reason)


@pytest.mark.parametrize("reason", CASES)
def test_a_reason_is_given_where_it_holds_and_only_there(reason: Reason) -> None:
    earns, twin = CASES[reason]
    assert reason in assess(earns()).reasons
    assert reason not in assess(twin()).reasons


def test_reasons_without_an_answer_come_alone() -> None:
    for reason in (Reason.NO_INSTRUMENT, Reason.NO_CROP_IN_SEASON, Reason.NO_ET):
        answer = assess(CASES[reason][0]())
        assert answer.reasons == (reason,)
        assert answer.state is State.NO_RELIABLE_DATA
        assert answer.confidence is Confidence.NONE
        assert answer.amount is None
        assert answer.start_at is None


def test_confidence_falls_with_the_spread_and_the_soil_out_of_sight() -> None:
    near = assess(block(season=season("maize-grain", 50)))
    deep = assess(block(season=season("lucerne-hay", 100)))
    order = [Confidence.LOW, Confidence.FAIR, Confidence.GOOD]
    assert order.index(deep.confidence) < order.index(near.confidence)
