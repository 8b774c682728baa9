"""Going on from a morning that was kept is the same as following the record from its first day."""

from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest

from core.advice.decide import Decisions, decide
from core.advice.inputs import BlockInputs, PastWeather, Watering
from core.advice.replay import replay
from core.crop.catalogue import crop
from core.crop.season import CropSeason
from core.estimate.checkpoint import Checkpoint
from core.estimate.ground import block_ground
from core.instrument.site import Site
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from core.state.estimate_from import EstimateFrom
from tests.core.blocks import NOW, PROFILE, lived

TODAY = NOW.date()


def season(of: BlockInputs) -> CropSeason:
    assert of.assumed.season is not None
    return of.assumed.season


def decided(*blocks: BlockInputs) -> Decisions:
    return decide(blocks, [season(b) for b in blocks])


def kept_of(of: BlockInputs, back: int = 1) -> Checkpoint:
    """The checkpoint of so many days ago."""
    on = TODAY - timedelta(days=back)
    found = decide([of], [season(of)], mornings=[on]).checkpoints[0]
    return next(c for c in found if c.on == on)


def lately(of: BlockInputs, days: int) -> BlockInputs:
    """The same block with the newest days of its record only."""
    assert of.past is not None
    past = PastWeather(TODAY - timedelta(days=days), of.past.et0_mm[-days:])
    return replace(
        of,
        past=past,
        sites=tuple(_where(s, s.hours > -24.0 * days) for s in of.sites),
        waterings=tuple(w for w in of.waterings if w.hours > -24.0 * days),
        tended=True,
    )


def _where(site: Site, new: np.ndarray) -> Site:
    return replace(
        site,
        hours=site.hours[new],
        value=site.value[new],
        theta=site.theta[new],
        doubt=site.doubt[new],
    )


@pytest.mark.parametrize("back", [1, 2, 6])
def test_a_morning_from_a_checkpoint_is_the_morning_from_the_first_day(back: int) -> None:
    whole = lived()
    d, e = decided(whole), decided(replace(whole, checkpoint=kept_of(whole, back)))
    for name, value in vars(d.track).items():
        assert getattr(e.track, name) == pytest.approx(value, rel=1e-3, abs=1e-3), name
    assert e.start_hours == pytest.approx(d.start_hours, rel=1e-3)


def test_a_checkpoint_spares_the_record_before_it() -> None:
    whole = lived()
    at = kept_of(whole, 3)
    short = replace(lately(whole, 8), checkpoint=replace(at, notes=at.notes[-10:]))
    d, e = decided(whole), decided(short)
    assert e.track.depletion_mm[0, -8:] == pytest.approx(d.track.depletion_mm[0, -8:], abs=1e-3)
    assert e.track.correction_mm[0, -7:] == pytest.approx(d.track.correction_mm[0, -7:], abs=1e-3)
    assert e.track.known[0, -8:].all()
    assert e.usable_range_mm == pytest.approx(d.usable_range_mm, abs=1e-2)


def test_days_whose_notes_are_not_there_are_unknown() -> None:
    whole = lived()
    at = kept_of(whole)
    d = decided(replace(whole, checkpoint=replace(at, notes=at.notes[-4:])))
    assert np.isnan(d.track.depletion_mm[0, :-4]).all()
    assert not np.isnan(d.track.depletion_mm[0, -3:]).any()


def test_without_its_checkpoint_the_newest_days_say_something_else() -> None:
    d, e = decided(lived()), decided(lately(lived(), 8))
    assert abs(d.track.depletion_mm[0, -1] - e.track.depletion_mm[0, -1]) > 0.05


def test_a_checkpoint_is_small() -> None:
    assert kept_of(lived()).members.nbytes < 15_000


def test_a_checkpoint_is_of_its_ground_alone() -> None:
    at, sites = kept_of(lived()), list(lived().sites)
    potato = crop("potato")
    assert at.fits(block_ground(PROFILE, potato, sites))
    assert not at.fits(block_ground(PROFILE, potato, []))
    assert not at.fits(block_ground(PROFILE, replace(potato, p=0.5), sites))
    gravelly = Profile.from_horizons([Horizon(0, 1200, texture=TextureClass.LOAM, gravel=0.2)])
    assert not at.fits(block_ground(gravelly, potato, sites))
    moved = [replace(s, depth_mm=s.depth_mm + 50) for s in sites]
    assert not at.fits(block_ground(PROFILE, potato, moved))


def test_mornings_asked_for_are_kept_and_yesterdays_last() -> None:
    wanted = [TODAY - timedelta(days=k) for k in (20, 5)]
    found = decide([lived()], [season(lived())], mornings=wanted).checkpoints[0]
    assert [c.on for c in found] == [*wanted, TODAY - timedelta(days=1)]
    # Two steps a day from the record's first morning on.
    assert [c.notes.shape[0] for c in found] == [20, 50, 58]


def test_a_morning_outside_of_the_record_is_not_kept() -> None:
    wanted = [TODAY - timedelta(days=40), TODAY, TODAY + timedelta(days=1)]
    found = decide([lived()], [season(lived())], mornings=wanted).checkpoints[0]
    assert [c.on for c in found] == [TODAY - timedelta(days=1)]


def test_a_block_begins_on_its_own_first_day() -> None:
    since = TODAY - timedelta(days=12)
    d = decided(replace(lived(), since=since))
    assert np.isnan(d.track.depletion_mm[0, :18]).all()
    assert not d.track.known[0, :18].any()
    assert not np.isnan(d.track.depletion_mm[0, 19:]).any()
    alone = decided(lately(lived(), 12))
    assert d.track.depletion_mm[0, -12:] == pytest.approx(alone.track.depletion_mm[0, -12:])


def test_blocks_decided_together_are_as_each_alone() -> None:
    young, old = replace(lived(), since=TODAY - timedelta(days=12), seed=3), lived(seed=4)
    kept = replace(lived(seed=5), checkpoint=kept_of(lived(seed=5)))
    together = decided(young, old, kept)
    for row, one in enumerate((young, old, kept)):
        own = decided(one).track
        assert together.track.depletion_mm[row, -5:] == pytest.approx(own.depletion_mm[0, -5:])


def test_replay_gives_the_checkpoints_of_deciding() -> None:
    wanted = [TODAY - timedelta(days=9)]
    (found,) = replay([lived()], [season(lived())], wanted)
    for a, b in zip(
        found, decide([lived()], [season(lived())], wanted).checkpoints[0], strict=True
    ):
        assert a.on == b.on
        assert a.members == pytest.approx(b.members)
    by_sensors = lived().assuming(estimate_from=EstimateFrom.SENSORS)
    assert replay([by_sensors], [season(by_sensors)], wanted) == ((),)


@pytest.mark.parametrize("hour", [3, 6, 12, 18, 19, 23])
def test_at_any_hour_the_checkpoint_is_of_yesterday_at_six(hour: int) -> None:
    """Going on from it passes every half day once."""
    whole = replace(lived(), now=NOW.replace(hour=hour, minute=20))
    d = decided(whole)
    at = d.checkpoints[0][-1]
    assert at.on == TODAY - timedelta(days=1)
    assert at.notes.shape[0] == 58
    e = decided(replace(whole, checkpoint=at))
    assert e.track.depletion_mm == pytest.approx(d.track.depletion_mm, rel=1e-3, abs=1e-3)


def test_a_sensor_heard_before_the_days_loaded_still_counts() -> None:
    """Nobody logs; the probe spoke for weeks and is silent in the newest days."""
    told = lived(waterings=())
    at = kept_of(told, 3)
    silent = tuple(_where(s, s.hours > 1.0) for s in told.sites)
    d = decided(replace(told, sites=silent, checkpoint=replace(at, notes=at.notes[-2:])))
    assert d.track.known[0, -1]


def test_water_that_came_as_the_morning_was_kept_counts_once() -> None:
    """A set that ended at six sharp belongs to the night that ended then."""
    six = -24.0 - (NOW.hour + NOW.minute / 60 - 6)
    of = lived(waterings=(Watering(-80.0, 12.0), Watering(six, 14.0)))
    kept = kept_of(of)
    assert kept.on == TODAY - timedelta(days=1)
    whole, went_on = decided(of), decided(replace(lately(of, 4), checkpoint=kept))
    assert went_on.track.depletion_mm[0, -1] == pytest.approx(whole.track.depletion_mm[0, -1])
    assert went_on.track.water_in_mm[0, -2:].sum() == pytest.approx(
        whole.track.water_in_mm[0, -2:].sum()
    )


def test_a_checkpoint_of_other_sensors_is_not_gone_on_from() -> None:
    """Another sensor was put in since: the block is followed from its first day again."""
    of = lived()
    kept = kept_of(of)
    other = replace(of, sites=of.sites + of.sites[:1])
    alone, with_kept = decided(other), decided(replace(other, checkpoint=kept))
    assert with_kept.track.depletion_mm[0, -1] == pytest.approx(alone.track.depletion_mm[0, -1])
    assert with_kept.track.sigma_mm[0, -1] == pytest.approx(alone.track.sigma_mm[0, -1])


def test_what_was_heard_before_a_checkpoint_still_counts() -> None:
    """The sensors fell silent four days ago and nobody logs water: the state is known as long
    as it is not too unsure, also to who goes on from a morning after that."""
    of = replace(lived(), waterings=(), tended=False)
    silent = replace(of, sites=tuple(_where(s, s.hours < -96.0) for s in of.sites))
    kept = kept_of(silent, back=2)
    kept = replace(kept, notes=kept.notes[-2:])
    whole, on = decided(silent), decided(replace(silent, checkpoint=kept))
    assert whole.track.known[0, -1]
    assert on.track.known[0, -1]
