"""Findings of blocks, what they rest on, and what people decided about them."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models

from core.diagnosis.cause import Cause
from core.diagnosis.finding import EvidenceFigure
from server.blocks.models import Block
from server.farms.scope import FarmOwned
from server.instruments.models import Instrument


class FindingsRead(FarmOwned):
    """What a block's findings were last made from: the rules' ``version``, the day, and how often
    its events had been read."""

    farm_path = "block__farm"
    touches = None

    block = models.OneToOneField(
        Block, on_delete=models.CASCADE, related_name="findings_read", primary_key=True
    )
    version = models.CharField(max_length=20)
    on = models.DateField()
    readings = models.PositiveIntegerField()

    def __str__(self) -> str:
        return f"{self.block_id} on {self.on}"


class FindingStatus(models.TextChoices):
    """Where a finding stands by the newest decision of a person."""

    OPEN = "open"
    CONFIRMED = "confirmed"
    DISMISSED = "dismissed"
    DONE = "done"


class Finding(FarmOwned):
    """A cause at a block, at one of its instruments or one sensor, see `core.diagnosis.finding`.

    Water over the wetted ground. ``first_at`` and ``last_at``, when it was first and last seen;
    ``lapsed_at``, when it was no longer found. ``until``, of a dismissed one, the last day on which
    it is not to be shown; null: for good.
    """

    farm_path = "block__farm"
    touches = None

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="findings")
    instrument = models.ForeignKey(
        Instrument, on_delete=models.CASCADE, null=True, related_name="findings"
    )
    depth_mm = models.FloatField(null=True)
    cause = models.CharField(max_length=24, choices=[(str(c), str(c)) for c in Cause])
    likelihood = models.FloatField()
    cost_mm_week = models.FloatField(null=True)
    stress_days_week = models.FloatField(null=True)
    first_at = models.DateTimeField()
    last_at = models.DateTimeField()
    found_at = models.DateTimeField()
    lapsed_at = models.DateTimeField(null=True)
    status = models.CharField(max_length=12, choices=FindingStatus, default=FindingStatus.OPEN)
    until = models.DateField(null=True)

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["-last_at", "pk"]
        indexes: ClassVar[list[Any]] = [models.Index(fields=["block", "cause"])]

    def __str__(self) -> str:
        return f"{self.cause} at {self.block_id}"


class FindingEvidence(FarmOwned):
    """One thing seen. ``seen`` and ``expected`` in the core's unit of the figure; null where it is
    not known, or nothing was to be expected."""

    farm_path = "finding__block__farm"
    touches = None

    finding = models.ForeignKey(Finding, on_delete=models.CASCADE, related_name="evidence")
    from_at = models.DateTimeField()
    to_at = models.DateTimeField()
    figure = models.CharField(max_length=12, choices=[(str(f), str(f)) for f in EvidenceFigure])
    seen = models.FloatField(null=True)
    expected = models.FloatField(null=True)
    instrument = models.ForeignKey(
        Instrument, on_delete=models.CASCADE, null=True, related_name="+"
    )
    depth_mm = models.FloatField(null=True)
    irrigation_id = models.BigIntegerField(null=True)

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["from_at", "pk"]

    def __str__(self) -> str:
        return f"{self.figure} at {self.from_at:%Y-%m-%d %H:%M}"


class FindingDecision(FarmOwned):
    """What a person found in the field or decided, with a picture where he took one."""

    farm_path = "finding__block__farm"
    touches = None

    finding = models.ForeignKey(Finding, on_delete=models.CASCADE, related_name="decisions")
    status = models.CharField(max_length=12, choices=FindingStatus)
    note = models.CharField(max_length=500, blank=True)
    until = models.DateField(null=True)
    image = models.BinaryField(null=True)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    undone_at = models.DateTimeField(null=True)

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["made_at", "pk"]

    def __str__(self) -> str:
        return f"{self.status} at {self.made_at:%Y-%m-%d %H:%M}"
