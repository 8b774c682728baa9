"""Mornings kept of each block's ensemble: true to the whole record, gone where it was changed."""

from datetime import date, datetime, time, timedelta

import pytest

import server.advice.answers
from server.advice.answers import answers, load, load_whole
from server.advice.models import EstimatedMorning, Touched
from server.advice.mornings import DAILY, checkpoints, is_kept
from server.advice.stored import refresh
from server.blocks.loading import blocks_of
from server.blocks.models import Block
from server.blocks.services import BLOCK_PARTS
from server.farms.access import Access
from server.farms.models import Farm, Role
from server.limits.models import RefillRule
from server.readings.models import Review
from server.readings.reviews import review_readings, undo_review
from server.water.models import Irrigation
from server.weather.models import WeatherDay

TODAY = date(2026, 7, 14)
YESTERDAY = TODAY - timedelta(days=1)


@pytest.fixture
def kept(farm: Farm) -> Farm:
    refresh(farm)
    return farm


def mornings(block: Block) -> dict[date, EstimatedMorning]:
    return {m.on: m for m in EstimatedMorning.objects.for_farm(block.farm).filter(block=block)}


def newest_true(block: Block) -> date | None:
    at = checkpoints(block.farm, [block.pk], TODAY).get(block.pk)
    return at.on if at else None


def deficit(farm: Farm, block: Block, whole: bool) -> float:
    """What the block is short of, from its whole record or from the mornings kept."""
    rows = list(blocks_of(farm, BLOCK_PARTS).filter(pk=block.pk))
    loaded = (load_whole if whole else load)(farm, rows, farm.now())
    found = answers(loaded)[block.pk]
    assert found.deficit_mm is not None
    return found.deficit_mm


def test_the_whole_season_is_kept_by_morning(kept: Farm, block: Block) -> None:
    found = mornings(block)
    days = sorted(found)
    assert days[-1] == YESTERDAY
    assert (days[-1] - days[0]).days == len(days) - 1 > 60
    with_members = {d for d, m in found.items() if m.members is not None}
    assert with_members == {d for d in days if is_kept(d, TODAY)}
    assert len(with_members) < len(days) / 2
    assert TODAY - timedelta(days=DAILY) in with_members


def test_from_mornings_the_answer_is_that_of_the_whole_record(kept: Farm) -> None:
    for b in blocks_of(kept).exclude(estimate_from="sensors"):
        if newest_true(b) is None or b.name == "Gorse Piece":
            continue
        assert deficit(kept, b, whole=False) == pytest.approx(
            deficit(kept, b, whole=True), abs=0.02
        ), b.name


def test_what_is_told_late_is_replayed_from_the_day_it_touches(kept: Farm, block: Block) -> None:
    """A person doubts a night's readings a week later, and takes it back."""
    before = mornings(block)
    was = deficit(kept, block, whole=False)
    first = TODAY - timedelta(days=7)
    midnight = datetime.combine(first, time(), tzinfo=kept.now().tzinfo)
    access = Access(kept.memberships.get(role=Role.MANAGER).user, kept, Role.MANAGER)
    probe = block.instruments.get()
    said = review_readings(
        access,
        probe,
        [c.pk for c in probe.channels.all()],
        midnight,
        midnight + timedelta(hours=12),
        Review.DOUBTED,
        "cable chewed",
    )
    # Spans are judged by whole days of UTC: the first begins two hours into the local day.
    touched = newest_true(block)
    assert touched is not None
    assert first - timedelta(days=2) <= touched < first
    refresh(kept)
    after = mornings(block)
    assert set(after) == set(before)
    differ = {on for on, row in after.items() if bytes(row.notes) != bytes(before[on].notes)}
    assert min(differ) == first
    assert YESTERDAY in differ
    assert deficit(kept, block, whole=False) == pytest.approx(
        deficit(kept, block, whole=True), abs=0.02
    )
    undo_review(access, said.pk)
    assert newest_true(block) == touched
    refresh(kept)
    assert deficit(kept, block, whole=False) == pytest.approx(was, abs=0.02)
    assert all(bytes(m.notes) == bytes(before[on].notes) for on, m in mornings(block).items())


def test_a_note_not_yet_taken_keeps_wrong_mornings_from_being_gone_on_from(
    kept: Farm, block: Block
) -> None:
    assert newest_true(block) == YESTERDAY
    Touched(farm_id=kept.pk, block_id=block.pk, first_on=date(2026, 7, 10)).save()
    assert newest_true(block) == date(2026, 7, 9)
    Touched(farm_id=kept.pk, first_on=date(2026, 7, 4)).save()
    assert newest_true(block) == date(2026, 7, 3)
    Touched(farm_id=kept.pk, block_id=block.pk + 1, first_on=None).save()
    assert newest_true(block) == date(2026, 7, 3)
    Touched(farm_id=kept.pk, block_id=block.pk, first_on=None).save()
    assert newest_true(block) is None


def test_a_set_logged_late_goes_back_to_its_day(kept: Farm, block: Block) -> None:
    start = kept.now() - timedelta(days=4)
    Irrigation(
        block=block, started_at=start, ended_at=start + timedelta(hours=6), gross_mm=25
    ).save()
    assert newest_true(block) == start.date() - timedelta(days=1)


def test_a_plan_or_a_rule_makes_no_morning_wrong(kept: Farm, block: Block) -> None:
    start = kept.now() + timedelta(days=1)
    Irrigation(
        block=block,
        started_at=start,
        ended_at=start + timedelta(hours=6),
        gross_mm=25,
        status=Irrigation.Status.PLANNED,
    ).save()
    RefillRule(block=block, refill_method="flat", reason="", made_at=kept.now()).save()
    kept.fixed_now = kept.now() + timedelta(hours=1)
    kept.save()
    assert newest_true(block) == YESTERDAY


def test_weather_of_a_day_is_heard_of_the_next_morning(kept: Farm, block: Block) -> None:
    WeatherDay.objects.for_farm(kept).filter(date="2026-07-10").update(rain_mm=4)
    assert newest_true(block) == date(2026, 7, 10)


@pytest.mark.parametrize("field", ["et0_expected", "time_zone"])
def test_what_every_day_rests_on_makes_all_wrong(kept: Farm, block: Block, field: str) -> None:
    setattr(kept, field, {"et0_expected": 5.0, "time_zone": "EET"}[field])
    kept.et0_low, kept.et0_high = 4.0, 6.0
    kept.save()
    assert newest_true(block) is None


def test_mornings_by_other_rules_are_none(kept: Farm, block: Block) -> None:
    EstimatedMorning.objects.for_farm(kept).update(version="older")
    assert newest_true(block) is None
    refresh(kept)
    assert deficit(kept, block, whole=False) == pytest.approx(
        deficit(kept, block, whole=True), abs=0.02
    )
    assert newest_true(block) == YESTERDAY


def test_days_without_a_look_are_followed_in_one_go(kept: Farm, block: Block) -> None:
    EstimatedMorning.objects.for_farm(kept).filter(on__gt=YESTERDAY - timedelta(days=4)).delete()
    Touched(farm_id=kept.pk, block_id=block.pk, first_on=YESTERDAY).save()
    refresh(kept)
    days = sorted(mornings(block))
    assert days[-1] == YESTERDAY
    assert (days[-1] - days[0]).days == len(days) - 1


def test_a_block_with_nothing_to_follow_is_tried_once_a_day_or_when_something_changes(
    kept: Farm, block: Block, monkeypatch: pytest.MonkeyPatch
) -> None:
    WeatherDay.objects.for_farm(kept).delete()
    refresh(kept)
    tries = []
    real = server.advice.answers.replay
    monkeypatch.setattr(
        server.advice.answers, "replay", lambda *a: tries.append(len(a[0])) or real(*a)
    )
    load(kept, [block], kept.now())
    assert tries == [], "it was tried when the board was made"
    WeatherDay(farm=kept, date=TODAY - timedelta(days=2), et0_mm=5, source="x").save()
    load(kept, [block], kept.now())
    assert tries == [1]
    assert newest_true(block) is None or tries == [1]
