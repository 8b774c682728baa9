"""Answers kept: the newest for the board, one each morning for ever, and what people decided."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from django.db.models.functions import Now
from simple_history.models import HistoricalRecords

from server.blocks.models import Block
from server.farms.scope import FarmOwned
from server.farms.touches import NO_MORNING, of_block
from server.water.models import Irrigation


class Touched(models.Model):
    """Something an answer rests on has changed: of one block, or of all of a farm's.

    Written by the database's own triggers, so that nothing forgets it; taken away by who makes
    the answers anew. No foreign keys: a row may outlive what it speaks of. ``first_on`` is the
    first morning whose `EstimatedMorning` it makes wrong, null for all of them, infinity for
    none; ``by_logger`` when it was a logger's readings, and nobody's deed.
    """

    farm_id = models.BigIntegerField(db_index=True)
    block_id = models.BigIntegerField(null=True)
    first_on = models.DateField(null=True)
    by_logger = models.BooleanField(default=False, db_default=False)
    noted_at = models.DateTimeField(db_default=Now())

    def __str__(self) -> str:
        return f"farm {self.farm_id}, block {self.block_id}"


class StoredAnswer(FarmOwned):
    """A block's line of the board as it was last made; ``row`` is its JSON, ready to be sent.

    ``version`` is that of the rules that made it; ``edition`` is another each time it is made;
    ``deeds`` is the first edition since anything but a logger's readings was the reason.
    """

    farm_path = "block__farm"
    touches = None

    block = models.OneToOneField(
        Block, on_delete=models.CASCADE, related_name="stored_answer", primary_key=True
    )
    made_at = models.DateTimeField()
    version = models.CharField(max_length=20)
    late = models.FloatField()
    row = models.TextField()
    edition = models.BigIntegerField(default=0)
    deeds = models.BigIntegerField(default=0, db_default=0)

    def __str__(self) -> str:
        return f"{self.block} at {self.made_at:%Y-%m-%d %H:%M}"


class StoredPage(FarmOwned):
    """A page of a block as it was answered, JSON, beside an edition of the block's line."""

    farm_path = "block__farm"
    touches = None

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="+")
    kind = models.CharField(max_length=10)
    language = models.CharField(max_length=10, default="en")
    edition = models.BigIntegerField()
    made_at = models.DateTimeField()
    body = models.TextField()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["block", "kind", "language"], name="page_once")
        ]

    def __str__(self) -> str:
        return f"{self.kind} of {self.block_id}, edition {self.edition}"


class EstimatedMorning(FarmOwned):
    """What was noted of a block's ensemble in the day before a morning, and the ensemble itself.

    Arrays as bytes, see `core.estimate.checkpoint.Checkpoint`; without members where only the
    notes are kept. ``version`` is that of the rules that made it: others read it as none.
    """

    farm_path = "block__farm"
    touches = None

    block = models.ForeignKey(
        Block, on_delete=models.CASCADE, related_name="mornings", db_index=False
    )
    on = models.DateField()
    version = models.CharField(max_length=20)
    ground = models.BinaryField()
    notes = models.BinaryField()
    members = models.BinaryField(null=True)
    memory = models.BinaryField(null=True)
    counters = models.BinaryField(null=True)

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["block", "on"], name="one_morning_a_day"),
        ]

    def __str__(self) -> str:
        return f"{self.block} on {self.on}"


class Advice(FarmOwned):
    """What was advised for a block on a day of the farm, never rewritten.

    ``answer`` is what was said; ``working`` the figures it was said from: steps, layers, the
    balance's days, the other methods; ``inputs`` names what was at hand. How they are written is
    told by ``format``, see `server.advice.kept`.
    """

    farm_path = "block__farm"
    touches = None

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="advice")
    day = models.DateField()
    made_at = models.DateTimeField()
    version = models.CharField(max_length=20)
    format = models.SmallIntegerField(default=1)
    state = models.CharField(max_length=16)
    start_at = models.DateTimeField(null=True, blank=True)
    gross_mm = models.FloatField(null=True, blank=True)
    hours = models.FloatField(null=True, blank=True)
    answer = models.JSONField()
    working = models.JSONField()
    inputs = models.JSONField()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["block", "-day"]
        verbose_name_plural = "advice"
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["block", "day"], name="one_advice_a_day"),
        ]

    def __str__(self) -> str:
        return f"{self.block} on {self.day}: {self.state}"


class Decision(FarmOwned):
    """What a person did with an advice: took it, changed it, or declined it with a reason.

    ``shown`` is the answer as it stood before him, which may be newer than the morning's. An
    accepted or changed one has its set. Undone, it stays on record.
    """

    class Kind(models.TextChoices):
        ACCEPTED = "accepted"
        CHANGED = "changed"
        DECLINED = "declined"

    class Why(models.TextChoices):
        RAIN = "rain"
        FIELD_WORK = "field_work"
        SPRAY = "spray"
        WIND = "wind"
        FROST = "frost"
        NO_WATER = "no_water"
        NO_HANDS = "no_hands"
        BREAKDOWN = "breakdown"
        LOOKS_WET = "looks_wet"
        LOOKS_DRY = "looks_dry"
        OTHER = "other"

    farm_path = "advice__block__farm"
    touches = of_block(
        "(SELECT block_id FROM advice_advice WHERE id = {row}.advice_id)", first=NO_MORNING
    )

    advice = models.ForeignKey(Advice, on_delete=models.CASCADE, related_name="decisions")
    kind = models.CharField(max_length=10, choices=Kind)
    why = models.CharField(max_length=12, choices=Why, blank=True)
    reason = models.CharField(max_length=300, blank=True)
    shown = models.JSONField()
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    given = models.ForeignKey(
        Irrigation, on_delete=models.SET_NULL, null=True, blank=True, related_name="decisions"
    )
    undone_at = models.DateTimeField(null=True, blank=True)
    undone_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["-made_at"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(
                fields=["advice"],
                condition=models.Q(undone_at__isnull=True),
                name="one_decision_in_force",
            ),
            models.CheckConstraint(
                condition=models.Q(kind="declined", why__gt="") | ~models.Q(kind="declined"),
                name="declined_with_a_reason",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.advice}: {self.kind}"
