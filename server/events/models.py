"""Wetting events as they were last read from a block's instruments."""

from typing import Any, ClassVar

from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models.functions import Now

from server.blocks.models import Block
from server.farms.scope import FarmOwned
from server.instruments.models import Instrument


def _by_sensor(field: "models.Field[Any, Any]") -> "ArrayField[Any, Any]":
    return ArrayField(field, default=list)


class EventsTouched(models.Model):
    """Something that events were read from has changed: of one block, or of all of a farm's.

    Written by the triggers of `server.advice.touching`; ``first_on`` as in the advice's own notes.
    No foreign keys: a row may outlive what it speaks of.
    """

    farm_id = models.BigIntegerField(db_index=True)
    block_id = models.BigIntegerField(null=True)
    first_on = models.DateField(null=True)
    noted_at = models.DateTimeField(db_default=Now())

    class Meta:
        db_table = "events_touched"

    def __str__(self) -> str:
        return f"farm {self.farm_id}, block {self.block_id}"


class EventsRead(FarmOwned):
    """How far a block's events are right.

    ``version`` of the rules that read them; ``whole_at``, when its whole season was read, and the
    ``noise`` of its ``channels`` found then; ``wrong_from``, the first day that changed since;
    ``readings``, how often it was read.
    """

    farm_path = "block__farm"
    touches = None

    block = models.OneToOneField(
        Block, on_delete=models.CASCADE, related_name="events_read", primary_key=True
    )
    version = models.CharField(max_length=20)
    whole_at = models.DateTimeField()
    channels = ArrayField(models.BigIntegerField(), default=list)
    noise = ArrayField(models.FloatField(null=True), default=list)
    wrong_from = models.DateField(null=True)
    readings = models.PositiveIntegerField(default=0)

    def __str__(self) -> str:
        return f"{self.block_id}, wrong from {self.wrong_from}"


class Wetting(FarmOwned):
    """One wetting event of a site, see `core.events.event.WettingEvent`; depths of water are over
    all of the block's ground.

    ``rise`` is of the water content [m3/m3] to each sensor's wettest reading; ``added_mm`` to each
    layer and ``stored_mm`` in all what was added by ``settled_at``, after ``used_mm``. Lists are by
    sensor, shallow to deep, null where a sensor did not answer or is not known. Water arrived after
    ``arrived_after`` and not later than ``arrived_by``. ``reached_high_mm`` is null where it went
    on below the deepest sensor. ``irrigations`` and ``rain_days`` brought it.
    ``drained_theta`` is the content at which no more than 1 mm a day passed a sensor [m3/m3].
    """

    farm_path = "block__farm"
    touches = None

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="wettings")
    instrument = models.ForeignKey(Instrument, on_delete=models.CASCADE, related_name="wettings")
    began_after = models.DateTimeField()
    began_by = models.DateTimeField()
    settled_at = models.DateTimeField()
    is_over = models.BooleanField()

    depth_mm = _by_sensor(models.FloatField())
    arrived_after = _by_sensor(models.DateTimeField(null=True))
    arrived_by = _by_sensor(models.DateTimeField(null=True))
    wettest_at = _by_sensor(models.DateTimeField(null=True))
    rise = _by_sensor(models.FloatField(null=True))
    top_mm = _by_sensor(models.FloatField(null=True))
    bottom_mm = _by_sensor(models.FloatField(null=True))
    added_mm = _by_sensor(models.FloatField(null=True))

    reached_mm = models.FloatField()
    reached_low_mm = models.FloatField()
    reached_high_mm = models.FloatField(null=True)
    front_mm_h = models.FloatField(null=True)
    root_mm = models.FloatField(null=True)
    stored_mm = models.FloatField(null=True)
    stored_sigma_mm = models.FloatField(null=True)

    irrigations = ArrayField(models.BigIntegerField(), default=list)
    rain_days = ArrayField(models.DateField(), default=list)
    given_mm = models.FloatField(null=True)
    given_sigma_mm = models.FloatField(null=True)
    used_mm = models.FloatField(null=True)
    recovery = models.FloatField(null=True)
    recovery_sigma = models.FloatField(null=True)
    passed_mm = models.FloatField(null=True)
    passed_sigma_mm = models.FloatField(null=True)
    drained_at = models.DateTimeField(null=True)
    drained_mm = models.FloatField()
    drained_theta = _by_sensor(models.FloatField(null=True))

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["began_by", "pk"]
        indexes: ClassVar[list[Any]] = [models.Index(fields=["block", "began_by"])]

    def __str__(self) -> str:
        return f"{self.block_id} at {self.began_by:%Y-%m-%d %H:%M}"
