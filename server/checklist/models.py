"""Steps of setting up that a farm does without."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models

from server.farms.models import Farm
from server.farms.scope import FarmOwned


class SetupStep(models.TextChoices):
    """What a farm needs before it gets advice, in the order in which it is set up."""

    POSITION = "position"
    SOIL = "soil"
    BLOCKS = "blocks"
    EQUIPMENT = "equipment"
    CROP = "crop"
    WEATHER = "weather"
    INSTRUMENTS = "instruments"
    READINGS = "readings"
    PEOPLE = "people"


class SkippedStep(FarmOwned):
    """A step that somebody said is not needed."""

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="+")
    step = models.CharField(max_length=12, choices=SetupStep)
    at = models.DateTimeField()
    by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["farm", "step"], name="a_step_is_skipped_once")
        ]

    def __str__(self) -> str:
        return f"{self.step} of {self.farm}"
