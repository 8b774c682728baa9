"""Readings as they were taken: natural key (channel, time), raw value and unit."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models

from core.instrument.reading_units import UNIT_OF_CODE, ReadingUnit
from server.devices.models import Device
from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.farms.touches import Touches
from server.instruments.models import Channel


class ReadingBatch(FarmOwned):
    """One arrival of readings: who brought them, when, from where, and what became of them.

    ``key`` is the sender's own name of the batch: sent again, it is answered from here.
    """

    touches = None

    class Origin(models.TextChoices):
        FILE = "file"
        HAND = "hand"
        ROUND = "round"
        DEVICE = "device"
        SIMULATED = "simulated"

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="reading_batches")
    origin = models.CharField(max_length=12, choices=Origin)
    file_name = models.CharField(max_length=255, blank=True)
    sha256 = models.CharField(max_length=64, blank=True)
    device = models.ForeignKey(Device, on_delete=models.CASCADE, null=True, related_name="batches")
    # Null, not empty: batches without a key must not be taken for one another.
    key = models.CharField(max_length=80, null=True)  # noqa: DJ001
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    made_at = models.DateTimeField(auto_now_add=True)
    first = models.DateTimeField(null=True)
    last = models.DateTimeField(null=True)
    new = models.PositiveIntegerField(default=0)
    changed = models.PositiveIntegerField(default=0)
    unchanged = models.PositiveIntegerField(default=0)
    refused = models.JSONField(default=list)
    refused_count = models.PositiveIntegerField(default=0)
    undone_at = models.DateTimeField(null=True)
    undone_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["device", "key"], name="batch_key_once")
        ]
        indexes: ClassVar[list[Any]] = [models.Index(fields=["farm", "-made_at"])]

    def __str__(self) -> str:
        return f"{self.origin} {self.file_name} {self.made_at:%Y-%m-%d}"


class Review(models.IntegerChoices):
    """What a person said of a reading, over what the rules say."""

    NONE = 0, "none"
    TRUSTED = 1, "trusted"
    DOUBTED = 2, "doubted"


class Reading(FarmOwned):
    """A raw reading in its own unit; derived values are always computed from it.

    ``unit`` is a code of `core.instrument.reading_units`, ``flags`` a sum of
    `core.quality.flags.Flag` found by version ``rules`` of the rules (0: not judged yet). The
    table is partitioned by month.
    """

    farm_path = "channel__instrument__block__farm"
    touches = None

    pk = models.CompositePrimaryKey("channel_id", "time")
    channel = models.ForeignKey(
        Channel, on_delete=models.CASCADE, related_name="readings", db_index=False
    )
    time = models.DateTimeField()
    value = models.FloatField()
    unit = models.SmallIntegerField(choices=[(c, str(u)) for c, u in UNIT_OF_CODE.items()])
    flags = models.SmallIntegerField(default=0)
    review = models.SmallIntegerField(choices=Review, default=Review.NONE)
    rules = models.SmallIntegerField(default=0)
    batch = models.ForeignKey(
        ReadingBatch, on_delete=models.PROTECT, related_name="readings", db_index=False
    )

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(unit__in=list(UNIT_OF_CODE)), name="reading_unit_known"
            ),
            models.CheckConstraint(
                condition=models.Q(review__in=list(Review.values)), name="reading_review_known"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.value:g} {self.in_unit} at {self.time:%Y-%m-%d %H:%M}"

    @property
    def in_unit(self) -> ReadingUnit:
        """The unit it was taken in."""
        return UNIT_OF_CODE[self.unit]


class ReadingRevision(FarmOwned):
    """What a reading said before another arrival changed it."""

    farm_path = "channel__instrument__block__farm"
    touches = None

    channel = models.ForeignKey(Channel, on_delete=models.CASCADE, related_name="+")
    time = models.DateTimeField()
    value = models.FloatField()
    unit = models.SmallIntegerField()
    batch = models.ForeignKey(ReadingBatch, on_delete=models.PROTECT, related_name="+")
    replaced_by = models.ForeignKey(
        ReadingBatch, on_delete=models.PROTECT, related_name="revisions"
    )

    class Meta(FarmOwned.Meta):
        indexes: ClassVar[list[Any]] = [models.Index(fields=["channel", "time"])]

    def __str__(self) -> str:
        return f"was {self.value:g} at {self.time:%Y-%m-%d %H:%M}"


class ReadingSpan(FarmOwned):
    """Three hours of a channel: its extremes, so that no peak is lost when many are drawn.

    Values in the core unit of what the channel writes down, before calibration; null where
    there is none. ``flags`` is the sum of all that were found.
    """

    farm_path = "channel__instrument__block__farm"
    # Every way a reading can change ends in its span: one trigger sees them all.
    touches = Touches(
        "SELECT b.farm_id, b.id, advice_first_morning(min(s.start), b.farm_id) FROM {row} s "
        "JOIN instruments_channel c ON c.id = s.channel_id "
        "JOIN instruments_instrument i ON i.id = c.instrument_id "
        "JOIN blocks_block b ON i.block_id IN (b.id, b.borrows_from_id) "
        "GROUP BY b.farm_id, b.id",
        per_statement=True,
    )

    pk = models.CompositePrimaryKey("channel_id", "start")
    channel = models.ForeignKey(
        Channel, on_delete=models.CASCADE, related_name="spans", db_index=False
    )
    start = models.DateTimeField()
    count = models.IntegerField()
    doubted = models.IntegerField()
    low = models.FloatField(null=True)
    high = models.FloatField(null=True)
    doubt_low = models.FloatField(null=True)
    doubt_high = models.FloatField(null=True)
    last = models.FloatField()
    last_at = models.DateTimeField()
    last_flags = models.SmallIntegerField()
    flags = models.SmallIntegerField()

    class Meta(FarmOwned.Meta):
        pass

    def __str__(self) -> str:
        return f"{self.count} readings from {self.start:%Y-%m-%d %H:%M}"


class ReadingReview(FarmOwned):
    """A person's word on a stretch of readings, with the reason; undone, it stays on record."""

    farm_path = "instrument__block__farm"
    touches = None

    instrument = models.ForeignKey(
        "instruments.Instrument", on_delete=models.CASCADE, related_name="reviews"
    )
    channels = models.JSONField()
    first = models.DateTimeField()
    last = models.DateTimeField()
    review = models.SmallIntegerField(choices=Review)
    reason = models.CharField(max_length=300)
    readings = models.IntegerField()
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    undone_at = models.DateTimeField(null=True)
    undone_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        pass

    def __str__(self) -> str:
        return f"{self.get_review_display()} {self.first:%Y-%m-%d} to {self.last:%Y-%m-%d}"


class FlagRules(models.Model):
    """A version of the rules of quality that this installation has judged its readings by."""

    version = models.SmallIntegerField(primary_key=True)
    change = models.CharField(max_length=300)
    judged_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"version {self.version}: {self.change}"
