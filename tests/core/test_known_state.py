"""Whether a block has a state at all: from sensors, from what is logged, and from neither."""

from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from core.advice.assess import assess
from core.advice.decide import decide
from core.advice.inputs import BlockInputs, PastWeather, Watering
from core.advice.state_now import zones_as_learned
from core.advice.vocabulary import Confidence, Reason, State
from core.crop.catalogue import crop
from core.crop.season import CropSeason
from core.instrument.kinds import InstrumentKind
from core.instrument.site import Site
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from tests.core.blocks import NOW, block, lived

DAYS = 110


def on(texture: TextureClass, **changes: object) -> BlockInputs:
    """Maize of 110 days on one soil, 6 mm/day of ET0 behind it."""
    return block(
        **{
            "profile": Profile.from_horizons([Horizon(0, 1500, texture=texture)]),
            "season": CropSeason(crop("maize-grain"), NOW.date() - timedelta(days=DAYS - 10)),
            "past": PastWeather(NOW.date() - timedelta(days=DAYS), np.full(DAYS, 6.0)),
            "sites": (),
            **changes,
        }
    )


def every_week(net_mm: float = 42.0) -> tuple[Watering, ...]:
    """Sets that bring back what the crop used."""
    return tuple(Watering(-24.0 * 7 * k - 20, net_mm) for k in range(DAYS // 7))


@pytest.mark.parametrize("texture", [TextureClass.SAND, TextureClass.LOAM, TextureClass.CLAY])
def test_what_is_logged_keeps_a_state_all_season(texture: TextureClass) -> None:
    """No instrument, weekly sets that just fill: a state on every morning, and never called
    sure."""
    told = on(texture, waterings=every_week())
    assert told.assumed.season is not None
    d = decide([told], [told.assumed.season])
    assert d.track.known[0].all()
    answer = assess(told)
    assert answer.state is not State.NO_RELIABLE_DATA
    assert Reason.BY_BALANCE_ALONE in answer.reasons
    assert answer.confidence in (Confidence.LOW, Confidence.FAIR)


def test_without_instruments_and_log_nothing_is_said() -> None:
    answer = assess(on(TextureClass.LOAM))
    assert answer.state is State.NO_RELIABLE_DATA
    assert answer.reasons == (Reason.NO_INSTRUMENT,)
    assert answer.deficit_mm is None


def test_a_first_day_without_instruments_or_recorded_weather() -> None:
    """An ET for the days ahead and one logged set are enough for an answer with its range; each day
    since the set takes at most Kc x ET (1.2 x 5.5 = 6.6 mm). Without a set nothing is said."""

    def filled_days_ago(days: float) -> BlockInputs:
        return on(TextureClass.LOAM, past=None, waterings=(Watering(-24.0 * days, 150.0),))

    four, six = assess(filled_days_ago(4)), assess(filled_days_ago(6))
    for answer in (four, six):
        assert answer.state is not State.NO_RELIABLE_DATA
        assert Reason.BY_BALANCE_ALONE in answer.reasons
        assert answer.etc_mm_day == pytest.approx(6.6)
        assert answer.outlook is not None
        assert (
            answer.outlook.days_left_dry < answer.outlook.days_left < answer.outlook.days_left_wet
        )
    assert four.deficit_mm is not None and six.deficit_mm is not None
    assert 0 < four.deficit_mm < six.deficit_mm < 6 * 6.6
    nothing = assess(replace(filled_days_ago(4), waterings=()))
    assert nothing.reasons == (Reason.NO_INSTRUMENT,)
    # A probe that has sent nothing yet takes nothing away.
    profile = filled_days_ago(4).assumed.profile
    none_yet = np.empty((0, 2))
    probe = Site.from_readings(
        "P", InstrumentKind.CAPACITANCE_PROBE, [100.0, 300.0], np.empty(0), none_yet, profile
    )
    with_probe = assess(replace(filled_days_ago(4), sites=(probe,)))
    assert with_probe.state is four.state
    # Drawn with other random numbers.
    assert with_probe.deficit_mm == pytest.approx(four.deficit_mm, abs=0.2 * four.sigma_mm)


def test_four_healthy_sensors_in_a_coarse_soil_have_an_answer() -> None:
    told = on(TextureClass.SAND)
    depth = np.array([100.0, 300.0, 500.0, 800.0])
    hours = np.arange(-24.0 * 20, 0.1, 6.0)
    swing = 0.09 - 0.004 * np.mod(hours / 24, 4)[:, None] * np.array([1.0, 0.8, 0.4, 0.1])
    probe = Site.from_readings(
        "P", InstrumentKind.CAPACITANCE_PROBE, depth, hours, swing, told.assumed.profile
    )
    answer = assess(on(TextureClass.SAND, sites=(probe,)))
    assert answer.state is not State.NO_RELIABLE_DATA
    assert answer.deficit_mm is not None


def test_before_the_season_was_followed_nothing_is_known() -> None:
    told = on(TextureClass.LOAM, waterings=every_week(), since=NOW.date() - timedelta(days=30))
    assert told.assumed.season is not None
    known = decide([told], [told.assumed.season]).track.known[0]
    assert not known[: DAYS - 30].any()
    assert known[DAYS - 29 :].all()


def test_limits_ahead_are_as_far_off_the_books_as_those_learned() -> None:
    """TAW learned 1.5 times the book's stays so as roots grow; RAW twice the book's until it
    would be more than TAW."""
    of = lived()
    assert of.assumed.season is not None
    found = decide([of], [of.assumed.season])
    g, track, now = found.gathered, found.track, found.gathered.past_days
    days = g.zones.taw_mm.shape[1]
    book = replace(
        g.zones,
        taw_mm=np.full((1, days), 100.0) + np.maximum(np.arange(days) - now, 0),
        raw_mm=np.where(np.arange(days) > now + 3, 80.0, 50.0)[None],
    )
    learned = replace(
        track,
        taw_mm=np.full(track.taw_mm.shape, 150.0),
        raw_mm=np.full(track.raw_mm.shape, 100.0),
    )
    zones = zones_as_learned(book, learned, now)
    assert zones.taw_mm[0, now : now + 3] == pytest.approx([150.0, 151.5, 153.0])
    assert zones.raw_mm[0, now : now + 4] == pytest.approx(100.0)
    assert zones.raw_mm[0, now + 4] == pytest.approx(zones.taw_mm[0, now + 4])


@pytest.mark.parametrize("part", [1.0, 0.45], ids=["all of the ground", "a strip"])
def test_the_limits_told_fit_each_other(part: float) -> None:
    """Full less TAW is wilting, full less RAW is refill, and that lies between the two, also
    where the field has shown more water than the book has."""
    limits = assess(lived(60, wetted_share=part)).limits
    assert limits is not None
    assert limits.full_mm - limits.taw_mm == pytest.approx(float(limits.wilt_mm))
    assert limits.full_mm - limits.raw_mm == pytest.approx(float(limits.refill_mm))
    assert limits.wilt_mm < limits.refill_mm < limits.full_mm
