"""The farm's own crops: a crop of the book with some values of its own."""

from typing import Any, ClassVar

from django.db import models
from django.db.models.functions import Lower
from simple_history.models import HistoricalRecords

from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.farms.touches import of_farm


class FarmCrop(FarmOwned):
    """A copy of a crop of the book; ``values`` holds only what differs, by the value's name."""

    touches = of_farm()

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="crops")
    name = models.CharField(max_length=80)
    book_key = models.CharField(max_length=40)
    values = models.JSONField(default=dict, blank=True)
    reason = models.CharField(max_length=300, blank=True)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint("farm", Lower("name"), name="farm_crop_name_once")
        ]

    def __str__(self) -> str:
        return self.name
