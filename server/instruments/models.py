"""Instruments in the ground, their channels, and the log of their life."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from django.db.models.functions import Lower
from simple_history.models import HistoricalRecords

from core.instrument.calibration import CurveKind
from core.instrument.kinds import InstrumentKind, Quantity
from core.instrument.life import LogEntry, LogKind
from server.base.moment import bounded
from server.blocks.models import Block
from server.farms.scope import FarmOwned
from server.farms.touches import of_block, of_instrument


class Instrument(FarmOwned):
    """One instrument, or a set of tensiometers at one spot.

    ``constants`` are figures of the maker that a person entered, by name. ``position`` is
    [longitude, latitude] in degrees. ``pass_place`` is where it stands on the way of what waters
    the block part by part, a share of it [-]. ``walk_order`` places it on the scout's way.
    """

    farm_path = "block__farm"
    touches = of_block()

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="instruments")
    label = models.CharField(max_length=80)
    kind = models.CharField(max_length=24, choices=[(str(k), str(k)) for k in InstrumentKind])
    serial = models.CharField(max_length=80, blank=True)
    site = models.CharField(max_length=300, blank=True)
    position = models.JSONField(null=True)
    pass_place = models.FloatField(null=True)
    constants = models.JSONField(default=dict)
    walk_order = models.FloatField(null=True)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint("block", Lower("label"), name="instrument_label_once"),
            models.CheckConstraint(
                condition=models.Q(pass_place__isnull=True) | models.Q(pass_place__range=(0, 1)),
                name="instrument_place_on_the_way",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.label} in {self.block}"


class Channel(FarmOwned):
    """What an instrument reads at one depth [mm]; ``suspect`` once a person doubts it.

    ``quantity`` is what it writes down, before calibration. An instrument above the ground
    has one channel without a depth.
    """

    farm_path = "instrument__block__farm"
    touches = of_instrument()

    instrument = models.ForeignKey(Instrument, on_delete=models.CASCADE, related_name="channels")
    quantity = models.CharField(max_length=16, choices=[(str(q), str(q)) for q in Quantity])
    depth_mm = models.FloatField(null=True)
    suspect = models.BooleanField(default=False)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["instrument", "depth_mm"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(
                fields=["instrument", "quantity", "depth_mm"],
                name="channel_depth_once",
                nulls_distinct=False,
            ),
            models.CheckConstraint(
                condition=models.Q(depth_mm__isnull=True)
                | models.Q(depth_mm__gt=0, depth_mm__lte=5000),
                name="channel_depth_range",
            ),
            models.CheckConstraint(
                condition=models.Q(quantity__in=[str(q) for q in Quantity]),
                name="channel_quantity_known",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.instrument} at {self.depth_mm or 0:g} mm"


DEEPEST_NOTE_MM = 5000.0  # deeper than any probe


class InstrumentEvent(FarmOwned):
    """One entry in the log of an instrument's life. Readings belong to the period they fall in.

    ``done`` are the steps of the checklist, or the keys of tasks, that were ticked; ``proof``
    the proof reading in the kind's own unit and ``passed`` whether it lies where it should;
    ``depth_mm`` where in the soil a note is about.
    """

    farm_path = "instrument__block__farm"
    touches = of_instrument()

    instrument = models.ForeignKey(Instrument, on_delete=models.CASCADE, related_name="events")
    kind = models.CharField(max_length=12, choices=[(str(k), str(k)) for k in LogKind])
    at = models.DateTimeField()
    note = models.CharField(max_length=500, blank=True)
    done = models.JSONField(default=list)
    proof = models.FloatField(null=True)
    depth_mm = models.FloatField(null=True)
    passed = models.BooleanField(null=True)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["at", "id"]
        indexes: ClassVar[list[Any]] = [models.Index(fields=["instrument", "at"])]
        constraints: ClassVar[list[Any]] = [
            bounded("at", "entry_on_record"),
            models.CheckConstraint(
                condition=models.Q(depth_mm__isnull=True)
                | models.Q(depth_mm__gt=0, depth_mm__lte=DEEPEST_NOTE_MM),
                name="note_in_the_soil",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.instrument} {self.kind} on {self.at:%Y-%m-%d}"

    @property
    def entry(self) -> LogEntry:
        """The entry as the core takes it."""
        return LogEntry(LogKind(self.kind), self.at, tuple(self.done), self.passed)


class InstrumentPhoto(FarmOwned):
    """A picture of an instrument or its site, kept small. ``key`` is made on the phone: sent
    again, it is known."""

    farm_path = "instrument__block__farm"
    touches = None

    instrument = models.ForeignKey(Instrument, on_delete=models.CASCADE, related_name="photos")
    taken_at = models.DateTimeField()
    key = models.UUIDField(null=True, unique=True)
    image = models.BinaryField()
    note = models.CharField(max_length=200, blank=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        pass

    def __str__(self) -> str:
        return f"photo of {self.instrument}"


class ChannelCalibration(FarmOwned):
    """The curve of a channel from an instant on, the newest in force; undone, it stays on record.

    theta = c0 + c1 x + c2 x^2 + c3 x^3 of the raw reading in its core unit. ``samples`` are the
    rows of the worksheet it came from: raw, wet_g, dry_g, tare_g, volume_ml.
    """

    farm_path = "channel__instrument__block__farm"
    touches = of_instrument(
        "(SELECT instrument_id FROM instruments_channel WHERE id = {row}.channel_id)"
    )

    channel = models.ForeignKey(Channel, on_delete=models.CASCADE, related_name="calibrations")
    kind = models.CharField(max_length=16, choices=[(str(k), str(k)) for k in CurveKind])
    coefficients = models.JSONField()
    raw_low = models.FloatField(null=True)
    raw_high = models.FloatField(null=True)
    from_at = models.DateTimeField(null=True)
    rmse = models.FloatField(null=True)
    samples = models.JSONField(default=list)
    reason = models.CharField(max_length=300)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    undone_at = models.DateTimeField(null=True)
    undone_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["channel", "made_at", "id"]
        constraints: ClassVar[list[Any]] = [bounded("from_at", "curve_on_record", may_be_null=True)]

    def __str__(self) -> str:
        return f"{self.kind} of {self.channel}"
