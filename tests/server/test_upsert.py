"""Readings by their natural key: idempotent, all or nothing, no earlier word lost."""

from collections.abc import Iterator
from datetime import UTC, datetime, timedelta

import pytest
from django.db import IntegrityError, connection, transaction

from server.blocks.models import Block
from server.farms.models import Farm
from server.instruments.models import Channel
from server.readings.models import Reading, ReadingBatch, ReadingRevision
from server.readings.recent import thinned_readings
from server.readings.upsert import ReadingRow, UpsertCount, upsert_readings

START = datetime(2026, 1, 1, tzinfo=UTC)


@pytest.fixture
def channel(block: Block) -> Channel:
    return Channel.objects.for_farm(block.farm).filter(instrument__block=block).earliest("depth_mm")


def batch(farm: Farm) -> ReadingBatch:
    made = ReadingBatch(farm=farm, origin=ReadingBatch.Origin.FILE)
    made.save()
    return made


def rows(channel: Channel, values: list[float], unit: str = "%") -> list[ReadingRow]:
    return [
        ReadingRow(channel.pk, START + timedelta(minutes=15 * i), v, unit)
        for i, v in enumerate(values)
    ]


def stored(channel: Channel) -> list[float]:
    found = Reading.unscoped.filter(channel=channel, time__lt=START + timedelta(days=30))
    return [r.value for r in found.order_by("time")]


def test_three_times_the_same_is_once(farm: Farm, channel: Channel) -> None:
    counts = [upsert_readings(batch(farm), rows(channel, [1.0, 2.0, 3.0])) for _ in range(3)]
    assert counts == [UpsertCount(3, 0, 0), UpsertCount(0, 0, 3), UpsertCount(0, 0, 3)]
    assert stored(channel) == [1.0, 2.0, 3.0]


def test_interleaved_batches(farm: Farm, channel: Channel) -> None:
    all_rows = rows(channel, [float(i) for i in range(20)])
    upsert_readings(batch(farm), all_rows[::2])
    second = upsert_readings(batch(farm), all_rows[5:15])
    assert second == UpsertCount(new=5, changed=0, unchanged=5)
    upsert_readings(batch(farm), all_rows)
    assert stored(channel) == [float(i) for i in range(20)]


def test_changes_keep_every_earlier_word(farm: Farm, channel: Channel) -> None:
    first, second, third = batch(farm), batch(farm), batch(farm)
    upsert_readings(first, rows(channel, [20.0]))
    assert upsert_readings(second, rows(channel, [21.0])) == UpsertCount(0, 1, 0)
    upsert_readings(third, rows(channel, [0.21], unit="m3/m3"))
    history = ReadingRevision.unscoped.filter(channel=channel).order_by("pk")
    assert [(r.value, r.unit, r.batch_id, r.replaced_by_id) for r in history] == [
        (20.0, "%", first.pk, second.pk),
        (21.0, "%", second.pk, third.pk),
    ]
    assert Reading.unscoped.get(channel=channel, time=START).batch_id == third.pk
    assert (second.new, second.changed) == (0, 1)


def test_one_bad_row_leaves_nothing(farm: Farm, channel: Channel) -> None:
    bad = [*rows(channel, [1.0, 2.0]), ReadingRow(channel.pk, START, 5.0, "furlongs")]
    made = batch(farm)
    with pytest.raises(IntegrityError), transaction.atomic():
        upsert_readings(made, bad[1:])
    assert stored(channel) == []


def broken(channel: Channel) -> Iterator[ReadingRow]:
    yield rows(channel, [1.0])[0]
    raise RuntimeError("the line dropped")


def test_a_stream_that_breaks_off_leaves_nothing(farm: Farm, channel: Channel) -> None:
    with pytest.raises(RuntimeError), transaction.atomic():
        upsert_readings(batch(farm), broken(channel))
    assert stored(channel) == []


def test_the_database_itself_knows_the_units(channel: Channel, farm: Farm) -> None:
    with pytest.raises(IntegrityError), transaction.atomic(), connection.cursor() as cursor:
        cursor.execute(
            'INSERT INTO readings_reading (channel_id, "time", value, unit, batch_id) '
            "VALUES (%s, %s, 1, 'cubits', %s)",
            [channel.pk, START, batch(farm).pk],
        )


def test_thinning_takes_the_last_of_each_bucket_and_never_misses_the_newest(
    farm: Farm, channel: Channel
) -> None:
    values = [float(i) for i in range(33)]  # eight hours in quarters, both ends in
    upsert_readings(batch(farm), rows(channel, values))
    now = START + timedelta(hours=8)
    hours, value = thinned_readings([channel.pk], now, days=1, bucket_hours=2).table([channel.pk])
    assert hours[-1] == 0
    assert value[-1, 0] == pytest.approx(0.32)
    # Two hours before now, and each two hours before that.
    assert list(hours) == pytest.approx([-8, -6, -4, -2, 0])
    assert list(value[:, 0]) == pytest.approx([0.0, 0.08, 0.16, 0.24, 0.32])


def test_thinning_looks_no_further_than_asked(farm: Farm, channel: Channel) -> None:
    upsert_readings(batch(farm), rows(channel, [1.0, 2.0]))
    now = START + timedelta(days=3)
    hours, value = thinned_readings([channel.pk], now, days=1, bucket_hours=3).table([channel.pk])
    assert hours.size == 0
    assert value.shape == (0, 1)
    # A reading after now does not exist yet.
    early, _ = thinned_readings(
        [channel.pk], START - timedelta(hours=1), days=9, bucket_hours=3
    ).table([channel.pk])
    assert early.size == 0
    assert thinned_readings([], now, 1, 3).table([5])[1].shape == (0, 1)
