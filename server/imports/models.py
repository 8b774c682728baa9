"""Files on their way in, piece by piece, and the layouts kept for the next file of a logger."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from django.db.models.functions import Lower

from server.devices.models import Device
from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.readings.models import ReadingBatch


class SavedLayout(FarmOwned):
    """How the files of one logger are read; ``heading`` recognises the next one."""

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="layouts")
    name = models.CharField(max_length=80)
    device = models.ForeignKey(Device, on_delete=models.SET_NULL, null=True, related_name="layouts")
    heading = models.JSONField(default=list)
    layout = models.JSONField()
    used_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint("farm", Lower("name"), name="layout_name_once")
        ]

    def __str__(self) -> str:
        return self.name


class ImportState(models.TextChoices):
    READING = "reading"
    READY = "ready"
    CHECKING = "checking"
    CHECKED = "checked"
    STORING = "storing"
    STORED = "stored"
    UNDOING = "undoing"
    UNDONE = "undone"
    FAILED = "failed"


# A worker is at such an import, or will be.
BUSY = (ImportState.READING, ImportState.CHECKING, ImportState.STORING, ImportState.UNDOING)


class FileImport(FarmOwned):
    """One file from its upload to its readings, and perhaps back.

    ``layout`` is empty until the first rows are read. ``done`` of ``total`` is how far the running
    step is: rows while checking, readings while storing; ``attempts`` counts how often it was taken
    up, ``step_by`` is who asked for it. ``parts`` are the instants [ISO] at which the stretches to
    store begin, of which ``stored_parts`` are in.
    """

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="file_imports")
    file_name = models.CharField(max_length=255)
    sha256 = models.CharField(max_length=64)
    size = models.BigIntegerField()
    instrument = models.ForeignKey(
        "instruments.Instrument", on_delete=models.SET_NULL, null=True, related_name="+"
    )
    saved_layout = models.ForeignKey(
        SavedLayout, on_delete=models.SET_NULL, null=True, related_name="imports"
    )
    state = models.CharField(max_length=10, choices=ImportState, default=ImportState.READING)
    layout = models.JSONField(null=True)
    sample = models.JSONField(null=True)
    attempts = models.PositiveSmallIntegerField(default=0)
    step_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    done = models.BigIntegerField(default=0)
    total = models.BigIntegerField(default=0)
    report = models.JSONField(null=True)
    refused = models.JSONField(default=list)
    parts = models.JSONField(default=list)
    stored_parts = models.PositiveIntegerField(default=0)
    problem = models.CharField(max_length=500, blank=True)
    batch = models.OneToOneField(
        ReadingBatch, on_delete=models.SET_NULL, null=True, related_name="file_import"
    )
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        indexes: ClassVar[list[Any]] = [
            models.Index(fields=["farm", "-made_at"]),
            models.Index(
                fields=["state"], condition=models.Q(state__in=list(BUSY)), name="import_at_work"
            ),
        ]
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(state__in=list(ImportState.values)),
                name="file_import_state_known",
            )
        ]

    def __str__(self) -> str:
        return f"{self.file_name} ({self.state})"


class FilePiece(FarmOwned):
    """A piece of an uploaded file, kept with the data so that any worker reaches it."""

    farm_path = "file_import__farm"
    touches = None

    file_import = models.ForeignKey(FileImport, on_delete=models.CASCADE, related_name="pieces")
    number = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["file_import", "number"], name="file_piece_once")
        ]

    def __str__(self) -> str:
        return f"piece {self.number}"
