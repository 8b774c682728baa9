"""Run sheets, what people changed of them, and what was announced."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models

from server.base.moment import bounded
from server.blocks.models import Block
from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.water.models import Irrigation


class SheetStatus(models.TextChoices):
    """How far a plan that was asked for is."""

    WAITING = "waiting"
    READY = "ready"
    FAILED = "failed"


class EditKind(models.TextChoices):
    """What left a run sheet as it is."""

    PLANNED = "planned"
    CHANGED = "changed"
    ANNOUNCED = "announced"


class RunSheet(FarmOwned):
    """A plan that was asked for, over ten days from ``first_at``, a midnight of the farm.

    ``inputs`` are those that the plan was made from, but for what is kept by block, see
    `server.plan.stored`; ``outcome`` is how it was found and what it could not meet, see
    `server.plan.outcome`, and ``season`` what is left of the season, see `server.plan.season`; null
    where it could not be worked out. It is in use from ``taken_at`` on, until another is.
    """

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="run_sheets")
    status = models.CharField(max_length=8, choices=SheetStatus, default=SheetStatus.WAITING)
    asked_at = models.DateTimeField()
    asked_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    made_at = models.DateTimeField(null=True)
    first_at = models.DateTimeField(null=True)
    taken_at = models.DateTimeField(null=True)
    inputs = models.JSONField(default=dict)
    outcome = models.JSONField(default=dict)
    season = models.JSONField(null=True)

    class Meta(FarmOwned.Meta):
        indexes: ClassVar[list[Any]] = [models.Index(fields=["farm", "-taken_at"])]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(
                fields=["farm"], condition=models.Q(status="waiting"), name="one_plan_waiting"
            ),
            models.CheckConstraint(
                condition=~models.Q(status="ready")
                | models.Q(made_at__isnull=False, first_at__isnull=False),
                name="ready_sheet_was_made",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.farm}, asked for {self.asked_at:%Y-%m-%d %H:%M}, {self.status}"


class BlockAhead(FarmOwned):
    """What one block of a run sheet holds and uses on the days ahead, see `server.plan.stored`."""

    farm_path = "sheet__farm"
    touches = None

    sheet = models.ForeignKey(RunSheet, on_delete=models.CASCADE, related_name="ahead")
    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="+")
    ahead = models.JSONField()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["sheet", "block"], name="ahead_once")
        ]

    def __str__(self) -> str:
        return f"{self.block} on sheet {self.sheet_id}"


class SheetEdit(FarmOwned):
    """A run sheet as one act left it: all of its irrigations, and the money of each block.

    ``number`` counts a sheet's from 1, which is the plan itself.
    """

    farm_path = "sheet__farm"
    touches = None

    sheet = models.ForeignKey(RunSheet, on_delete=models.CASCADE, related_name="edits")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=10, choices=EditKind)
    sets = models.JSONField()
    money = models.JSONField()
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    undone_at = models.DateTimeField(null=True)

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["sheet", "number"], name="edit_number_once")
        ]

    def __str__(self) -> str:
        return f"sheet {self.sheet_id}, {self.kind} {self.number}"


class Announcement(FarmOwned):
    """What people were told would run, frozen; ``number`` counts a farm's from 1.

    ``changes`` are what it changed against the one before, see `server.plan.changes_told`.
    """

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="announcements")
    sheet = models.ForeignKey(RunSheet, on_delete=models.PROTECT, related_name="announcements")
    number = models.PositiveIntegerField()
    sets = models.JSONField()
    changes = models.JSONField()
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["farm", "number"], name="announcement_number_once")
        ]

    def __str__(self) -> str:
        return f"{self.farm}, announcement {self.number}"


class AnnouncedSet(FarmOwned):
    """An irrigation that came of an announcement: the next plan may move it while it has not begun.
    One that a person scheduled by itself has none, and stands."""

    farm_path = "announcement__farm"
    touches = None

    announcement = models.ForeignKey(Announcement, on_delete=models.CASCADE, related_name="made")
    irrigation = models.OneToOneField(
        Irrigation, on_delete=models.CASCADE, related_name="announced", primary_key=True
    )

    def __str__(self) -> str:
        return f"{self.irrigation_id} of announcement {self.announcement_id}"


class ReportKind(models.TextChoices):
    """What was done with an irrigation in the field."""

    START = "start"
    STOP = "stop"


class StopReason(models.TextChoices):
    """Why an irrigation was stopped."""

    FINISHED = "finished"
    RAIN = "rain"
    WIND = "wind"
    BREAKDOWN = "breakdown"
    NO_WATER = "no_water"
    OTHER = "other"


class FieldPhoto(FarmOwned):
    """A picture that came with a report, known by the report's ``key``; JPEG."""

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="+")
    key = models.UUIDField()
    image = models.BinaryField()
    received_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["farm", "key"], name="field_photo_once"),
        ]

    def __str__(self) -> str:
        return f"picture of {self.key}"


class FieldReport(FarmOwned):
    """What somebody in the field did with an irrigation, as his phone sent it; ``key`` was made
    there, and a report that is sent again is taken once. Meter [m3], pressure [kPa]."""

    farm_path = "irrigation__block__farm"
    touches = None

    key = models.UUIDField(unique=True)
    irrigation = models.ForeignKey(Irrigation, on_delete=models.CASCADE, related_name="reports")
    kind = models.CharField(max_length=5, choices=ReportKind)
    at = models.DateTimeField()
    meter_m3 = models.FloatField(null=True)
    pressure_kpa = models.FloatField(null=True)
    why = models.CharField(max_length=10, choices=StopReason, blank=True)
    note = models.CharField(max_length=300, blank=True)
    received_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(kind="start", why="") | models.Q(kind="stop", why__gt=""),
                name="stop_report_says_why",
            ),
            bounded("at", "report_on_record"),
        ]

    def __str__(self) -> str:
        return f"{self.kind} of {self.irrigation_id} at {self.at:%Y-%m-%d %H:%M}"
