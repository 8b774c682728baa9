"""Readings by their natural key: idempotent, all or nothing, no earlier word lost."""

from datetime import UTC, datetime, timedelta

import numpy as np
import pytest
from django.db import IntegrityError, connection, transaction

from core.quality.flags import Flag, rule_book
from server.blocks.models import Block
from server.farms.models import Farm
from server.instruments.models import Channel
from server.readings.models import Reading, ReadingBatch, ReadingRevision, ReadingSpan, Review
from server.readings.recent import thinned_readings
from server.readings.store import ROW, UpsertCount, rejudge, row_of, store_readings
from server.water.models import Irrigation

START = datetime(2026, 1, 1, tzinfo=UTC)
PERCENT = 2


@pytest.fixture
def channel(block: Block) -> Channel:
    return Channel.objects.for_farm(block.farm).filter(instrument__block=block).earliest("depth_mm")


def batch(farm: Farm) -> ReadingBatch:
    made = ReadingBatch(farm=farm, origin=ReadingBatch.Origin.FILE)
    made.save()
    return made


def rows(channel: Channel, values: list[float], unit: int = PERCENT) -> np.ndarray:
    return np.array(
        [
            row_of(channel.pk, START + timedelta(minutes=15 * i), v, unit)
            for i, v in enumerate(values)
        ],
        ROW,
    )


def stored(channel: Channel) -> list[float]:
    found = Reading.unscoped.filter(channel=channel, time__lt=START + timedelta(days=30))
    return [r.value for r in found.order_by("time")]


def test_three_times_the_same_is_once(farm: Farm, channel: Channel) -> None:
    counts = [store_readings(batch(farm), rows(channel, [1.0, 2.0, 3.0])) for _ in range(3)]
    assert counts == [UpsertCount(3, 0, 0), UpsertCount(0, 0, 3), UpsertCount(0, 0, 3)]
    assert stored(channel) == [1.0, 2.0, 3.0]


def test_interleaved_batches(farm: Farm, channel: Channel) -> None:
    all_rows = rows(channel, [float(i) for i in range(20)])
    store_readings(batch(farm), all_rows[::2])
    second = store_readings(batch(farm), all_rows[5:15])
    assert second == UpsertCount(new=5, changed=0, unchanged=5)
    store_readings(batch(farm), all_rows)
    assert stored(channel) == [float(i) for i in range(20)]


def test_changes_keep_every_earlier_word(farm: Farm, channel: Channel) -> None:
    first, second, third = batch(farm), batch(farm), batch(farm)
    store_readings(first, rows(channel, [20.0]))
    assert store_readings(second, rows(channel, [21.0])) == UpsertCount(0, 1, 0)
    store_readings(third, rows(channel, [0.21], unit=1))
    history = ReadingRevision.unscoped.filter(channel=channel).order_by("pk")
    assert [(r.value, r.unit, r.batch_id, r.replaced_by_id) for r in history] == [
        (20.0, 2, first.pk, second.pk),
        (21.0, 2, second.pk, third.pk),
    ]
    assert Reading.unscoped.get(channel=channel, time=START).batch_id == third.pk
    assert (second.new, second.changed) == (0, 1)


def test_one_bad_row_leaves_nothing(farm: Farm, channel: Channel) -> None:
    bad = rows(channel, [1.0, 2.0, 3.0])
    bad["unit"][1] = 17
    bad["unit"][2] = 99
    made = batch(farm)
    with pytest.raises((IntegrityError, IndexError)), transaction.atomic():
        store_readings(made, bad)
    assert stored(channel) == []


def test_a_channel_that_is_not_there_leaves_nothing(farm: Farm, channel: Channel) -> None:
    mixed = np.concatenate([rows(channel, [1.0]), rows(channel, [1.0])])
    mixed["channel_id"][1] = 10**9
    with pytest.raises(LookupError), transaction.atomic():
        store_readings(batch(farm), mixed)
    assert stored(channel) == []


def test_the_database_itself_knows_the_units(channel: Channel, farm: Farm) -> None:
    with pytest.raises(IntegrityError), transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(
            'INSERT INTO readings_reading (channel_id, "time", value, unit, batch_id) '
            "VALUES (%s, %s, 1, 77, %s)",
            [channel.pk, START, batch(farm).pk],
        )


def test_thinning_takes_the_last_of_each_bucket_and_never_misses_the_newest(
    farm: Farm, channel: Channel
) -> None:
    values = [float(i) for i in range(33)]  # eight hours in quarters, both ends in
    store_readings(batch(farm), rows(channel, values))
    now = START + timedelta(hours=8)
    hours, value, _ = thinned_readings([channel.pk], now, 1, bucket_hours=2).table([channel.pk])
    assert hours[-1] == 0
    assert value[-1, 0] == pytest.approx(0.32)
    # Two hours before now, and each two hours before that.
    assert list(hours) == pytest.approx([-8, -6, -4, -2, 0])
    assert list(value[:, 0]) == pytest.approx([0.0, 0.08, 0.16, 0.24, 0.32])


def test_thinning_looks_no_further_than_asked(farm: Farm, channel: Channel) -> None:
    store_readings(batch(farm), rows(channel, [1.0, 2.0]))
    now = START + timedelta(days=3)
    hours, value, _ = thinned_readings([channel.pk], now, 1, bucket_hours=3).table([channel.pk])
    assert hours.size == 0
    assert value.shape == (0, 1)
    # A reading after now does not exist yet.
    early, _, _ = thinned_readings(
        [channel.pk], START - timedelta(hours=1), days=9, bucket_hours=3
    ).table([channel.pk])
    assert early.size == 0
    assert thinned_readings([], now, 1, 3).table([5])[1].shape == (0, 1)


def quiet(count: int, level: float = 25.0) -> list[float]:
    """Percent, on 15-minute steps, never quite still."""
    return [round(level - i * 0.002 + 0.01 * (i % 3), 3) for i in range(count)]


def flags_at(channel: Channel, *places: int) -> list[int]:
    found = Reading.unscoped.filter(channel=channel, time__lt=START + timedelta(days=30))
    listed = list(found.order_by("time").values_list("flags", flat=True))
    return [listed[p] for p in places]


def test_a_spike_is_flagged_on_the_way_in(farm: Farm, channel: Channel) -> None:
    values = quiet(200)
    values[120] += 8
    store_readings(batch(farm), rows(channel, values))
    assert flags_at(channel, 119, 120, 121) == [0, Flag.SPIKE, 0]
    rules = set(
        Reading.unscoped.filter(channel=channel, time__lt=START + timedelta(days=30)).values_list(
            "rules", flat=True
        )
    )
    assert rules == {rule_book().version}


def test_the_next_batch_may_flag_the_last(farm: Farm, channel: Channel) -> None:
    """What makes a spike a spike comes after it."""
    values = quiet(200)
    values[120] += 8
    all_rows = rows(channel, values)
    whole = batch(farm)
    store_readings(whole, all_rows[:121])
    assert not flags_at(channel, 120)[0] & Flag.SPIKE
    for start in range(121, 200, 20):
        store_readings(batch(farm), all_rows[start : start + 20])
    assert flags_at(channel, 119, 120, 121) == [0, Flag.SPIKE, 0]


def test_spans_are_those_of_all_readings_whatever_their_order(farm: Farm, channel: Channel) -> None:
    values = quiet(300)
    values[150] += 8
    all_rows = rows(channel, values)
    for part in (all_rows[200:], all_rows[:77], all_rows[60:201]):
        store_readings(batch(farm), part)
    spans = ReadingSpan.unscoped.filter(channel=channel, start__lt=START + timedelta(days=30))
    assert [s.count for s in spans.order_by("start")] == [12] * 25
    spiky = spans.get(doubted=1)
    assert spiky.doubt_high == pytest.approx(values[150] / 100)
    assert spiky.high == pytest.approx(max(v for v in values[144:156] if v < 30) / 100)
    assert spiky.flags & Flag.SPIKE
    assert spiky.last_flags == 0


def test_judged_again_after_the_water_is_logged(farm: Farm, channel: Channel) -> None:
    block = channel.instrument.block
    values = quiet(400, 20.0)
    values[200:] = [v + 5 * (1 - 0.8 ** (i + 1)) for i, v in enumerate(values[200:])]
    store_readings(batch(farm), rows(channel, values))
    assert flags_at(channel, 210)[0] & Flag.RISE_WITHOUT_WATER
    at = START + timedelta(hours=49)
    Irrigation(block=block, started_at=at, ended_at=at + timedelta(hours=4), gross_mm=20).save()
    assert rejudge([channel.pk], START, START + timedelta(days=5)) > 0
    assert flags_at(channel, 205, 210, 230) == [0, 0, 0]


def test_a_persons_word_outlives_the_same_value_and_not_another(
    farm: Farm, channel: Channel
) -> None:
    store_readings(batch(farm), rows(channel, [20.0, 21.0]))
    mine = Reading.unscoped.filter(channel=channel, time__lt=START + timedelta(days=30))
    mine.update(review=Review.DOUBTED)
    store_readings(batch(farm), rows(channel, [20.0, 22.0]))
    assert list(mine.order_by("time").values_list("review", flat=True)) == [2, 0]


def test_months_are_made_as_they_come(farm: Farm, channel: Channel) -> None:
    far = np.array(
        [
            row_of(channel.pk, datetime(y, m, 28, tzinfo=UTC), 20.0, PERCENT)
            for y, m in ((2019, 12), (2020, 1), (2024, 2))
        ],
        ROW,
    )
    assert store_readings(batch(farm), far).new == 3
    assert Reading.unscoped.filter(channel=channel, time__year=2020).count() == 1
