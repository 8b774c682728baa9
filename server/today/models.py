"""Whom the morning was told to, and who has its planned sets in a calendar."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models

from server.farms.models import Farm
from server.plan.models import Announcement


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


class AnnouncementSent(models.Model):
    """An announcement that went to a person by mail, so that it goes out once."""

    announcement = models.ForeignKey(Announcement, on_delete=models.CASCADE, related_name="+")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    at = models.DateTimeField()

    class Meta:
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["announcement", "user"], name="announcement_told_once"),
        ]

    def __str__(self) -> str:
        return f"{self.announcement} to {self.user}"


class AlarmSent(models.Model):
    """An alarm that went to a person by mail, so that it goes out once; ``key`` says which."""

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="+")
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    key = models.CharField(max_length=140)
    at = models.DateTimeField()

    class Meta:
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["farm", "user", "key"], name="alarm_told_once"),
        ]

    def __str__(self) -> str:
        return f"{self.key} to {self.user}"


class CalendarToken(models.Model):
    """A private address of a farm's planned sets for one person's calendar; only its hash is
    kept."""

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="calendar_tokens")
    user = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="calendar_tokens"
    )
    hashed = models.CharField(max_length=64, unique=True)
    made_at = models.DateTimeField()

    class Meta:
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["farm", "user"], name="one_calendar_each"),
        ]

    def __str__(self) -> str:
        return f"calendar of {self.user} for {self.farm}"
