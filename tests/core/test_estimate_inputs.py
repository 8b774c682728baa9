"""What ensembles are told, by hand: over the watered strip, and with what crop and weather."""

from dataclasses import replace
from datetime import date, timedelta

import numpy as np
import pytest

from core.advice.estimate_inputs import EstimateInputs, WeatherAhead, begin_of, is_tended
from core.advice.inputs import BlockInputs, Watering
from core.crop.basal import basal_crop
from core.crop.catalogue import crop
from core.crop.season import CropSeason
from core.estimate.blocks import Grounds
from core.estimate.forcing import Steps
from core.estimate.ground import block_ground
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from tests.core.blocks import NOW, lived

DAYS = 10
TODAY = NOW.date()


def told(et0: float = 5.0, **changes: object) -> EstimateInputs:
    """Ten days of one block, the last of them not recorded."""
    of = lived(**{"sites": (), **changes})
    assert of.assumed.season is not None
    grounds = Grounds.of([block_ground(of.assumed.profile, of.assumed.season.crop, [])])
    weather = np.full((1, DAYS + 1), et0)
    recorded = np.ones((1, DAYS + 1), bool)
    recorded[0, DAYS - 1] = False
    return EstimateInputs.of(
        [of], [of.assumed.season], grounds, TODAY - timedelta(days=DAYS), weather, recorded
    )


def test_a_strip_takes_all_the_rise_and_all_that_is_planned() -> None:
    """2 mm/day and 12 mm over the block are 4 and 24 over half of it; rain is a depth anywhere."""
    half = told(wetted_share=0.5, capillary_mm_day=2.0)
    assert half.rise_mm[0, -1] == pytest.approx(4.0)
    ahead = half.ahead(
        WeatherAhead(np.full((50, 3), 5.0), np.full((1, 50, 3), 7.0), np.array([[0.0, 12.0, 0.0]]))
    )
    assert ahead.given_mm.tolist() == [[0.0, 24.0, 0.0]]
    assert ahead.rain_mm.max() == 7.0


def test_water_behind_is_over_the_strip_too() -> None:
    waterings = (Watering(-30.0, 10.0), Watering(-40.0, 6.0, is_rain=True))
    steps = Steps.before(6.2, DAYS)
    found = told(wetted_share=0.5, waterings=waterings).water(steps)
    assert found[0, :, 1].sum() == pytest.approx(20.0)
    assert found[0, :, 0].sum() == pytest.approx(12.0)
    at = int(np.flatnonzero(found[0, :, 1])[0])
    assert steps.start[at] < -30.0 <= steps.end[at]


def test_use_is_the_basal_coefficient_times_et_over_the_strip() -> None:
    """Potato's Kcb in mid season is 1.10: half a day has half of 1.10 x 5.0 or all of its light."""
    whole, half = (told(wetted_share=s).force(Steps.before(6.2, DAYS)) for s in (1.0, 0.5))
    day = whole[0, -3:-1, 1].sum()
    assert day == pytest.approx(1.10 * 5.0, rel=0.02)
    assert half[0, :, 1] == pytest.approx(2 * whole[0, :, 1])


def test_a_crop_without_a_basal_coefficient_gets_its_kc_less_what_evaporates() -> None:
    bare = replace(crop("potato"), kcb=None)
    first, mid, end = bare.kc
    assert basal_crop(bare).kc == pytest.approx((first - 0.1, mid - 0.1, end - 0.1))
    assert basal_crop(crop("potato")).kc == crop("potato").kcb
    assert min(basal_crop(replace(bare, kc=(0.15, 1.0, 0.12))).kc) == pytest.approx(0.1)


def test_a_crop_that_is_cut_has_a_basal_coefficient_after_the_cut_too() -> None:
    """Single cutting periods of FAO-56 table 17, or their Kc less what evaporates."""
    lucerne, pasture = basal_crop(crop("lucerne-hay")), crop("pasture-grazed")
    assert lucerne.cutting is not None
    assert lucerne.cutting.kc == (0.30, 1.15, 1.10)
    grazed = basal_crop(pasture).cutting
    assert grazed is not None
    assert pasture.cutting is not None
    assert grazed.kc == pytest.approx([k - 0.1 for k in pasture.cutting.kc])


def test_the_share_borne_follows_the_days_use() -> None:
    """FAO-56: p = 0.35 + 0.04 (5 - ETc): 0.33 at 1.10 x 5, 0.198 at 1.10 x 8."""
    for et0 in (5.0, 8.0):
        force = told(et0).force(Steps.before(6.2, DAYS))
        want = (0.35 + 0.04 * (5 - 1.10 * et0)) / 0.35
        assert force[0, -2, 6] == pytest.approx(want, rel=0.02)
    ahead = told().ahead(
        WeatherAhead(np.full((50, 3), 8.0), np.zeros((1, 50, 3)), np.zeros((1, 3)))
    )
    assert ahead.p_factor[0] == pytest.approx((0.35 + 0.04 * (5 - 8.8)) / 0.35, rel=0.02)


def test_a_day_nobody_recorded_is_less_sure() -> None:
    """The last two half days are yesterday's: its night ends at six this morning."""
    sigma = told().force(Steps.before(6.2, DAYS))[0, :, 7]
    assert sigma[-2:] == pytest.approx([0.3, 0.3])
    assert sigma[:-2] == pytest.approx(0.12)


def test_roots_stop_where_the_soil_does() -> None:
    shallow = Profile.from_horizons([Horizon(0, 250, texture=TextureClass.LOAM)])
    assert told(profile=shallow).root_mm.max() == 250.0


def test_who_logs_is_known_also_where_no_set_lies_in_the_days_loaded() -> None:
    none: BlockInputs = lived(waterings=(Watering(-30.0, 10.0, is_rain=True),))
    assert not is_tended(none)
    assert is_tended(replace(none, tended=True))
    assert is_tended(replace(none, waterings=(Watering(-30.0, 10.0),)))


@pytest.mark.parametrize("since, begins", [(None, 30), (40, 30), (12, 12), (0, 1)], ids=str)
def test_a_block_begins_within_its_record_and_before_today(since: int | None, begins: int) -> None:
    of = lived(since=None if since is None else TODAY - timedelta(days=since))
    found = begin_of(of, TODAY - timedelta(days=30), TODAY)
    assert (TODAY - found).days == begins


def test_a_season_begins_with_its_planting_and_each_bud_break() -> None:
    """Its sums begin with the day: the step from its morning, and no other."""
    planted = told(season=CropSeason(crop("potato"), TODAY - timedelta(days=4)))
    steps = Steps.before(6.2, DAYS)
    at = np.flatnonzero(planted.force(steps)[0, :, 9])
    assert steps.day[at].tolist() == [DAYS - 4]
    assert not steps.morning[at].any()
    again = told(season=CropSeason(crop("apple"), date(TODAY.year - 3, TODAY.month, TODAY.day - 2)))
    assert steps.day[np.flatnonzero(again.force(steps)[0, :, 9])].tolist() == [DAYS - 2]
    assert not told().force(steps)[0, :, 9].any()
