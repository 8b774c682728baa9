"""Whom the morning was told to."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models

from server.farms.models import Farm


class MorningSent(models.Model):
    """A summary that went out, so that it goes out once."""

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="+")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    day = models.DateField()
    at = models.DateTimeField()

    class Meta:
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["farm", "user", "day"], name="one_morning_each"),
        ]

    def __str__(self) -> str:
        return f"{self.farm} to {self.user} on {self.day}"
