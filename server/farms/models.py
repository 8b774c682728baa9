"""Farms and who belongs to them."""

from datetime import datetime
from typing import Any, ClassVar
from zoneinfo import ZoneInfo

from django.conf import settings
from django.db import models
from django.utils import timezone
from simple_history.models import HistoricalRecords

from server.farms.scope import FarmOwned
from server.farms.touches import EVERY_MORNING, NO_MORNING, Touches

# What every morning of a farm rests on.
_ALL_DAYS = ("time_zone", "et0_low", "et0_expected", "et0_high", "alfalfa_ratio")
_CLOCK = ("fixed_now", "clock_started_at", "clock_rate")


def _columns(row: str) -> str:
    return f"({', '.join(f'{row}.{column}' for column in _ALL_DAYS)})"


class Farm(models.Model):
    """A farm with its own time zone and, for a demo, its own clock.

    The stated ET0 [mm/day, grass surface] is what the outlook runs on; while it is unset the
    recorded weather of the past days stands in. ``alfalfa_ratio`` is alfalfa-reference ET over
    grass-reference ET; while it is unset, a crop with Kc on alfalfa gets no answer. The place of
    its weather station [degrees, m] is what radiation is worked out from.
    """

    name = models.CharField(max_length=120)
    slug = models.SlugField(unique=True)
    time_zone = models.CharField(max_length=64)
    fixed_now = models.DateTimeField(null=True, blank=True)
    # A demo's clock may go on from its fixed instant, faster than the real one.
    clock_started_at = models.DateTimeField(null=True, blank=True)
    clock_rate = models.FloatField(default=1.0)
    simulated = models.BooleanField(default=False)
    et0_low = models.FloatField(null=True, blank=True)
    et0_expected = models.FloatField(null=True, blank=True)
    et0_high = models.FloatField(null=True, blank=True)
    alfalfa_ratio = models.FloatField(null=True, blank=True)
    latitude = models.FloatField(null=True, blank=True)
    longitude = models.FloatField(null=True, blank=True)
    elevation_m = models.FloatField(null=True, blank=True)

    # A clock that is set makes no past day another.
    touches = Touches(
        f"SELECT {{row}}.id, NULL::bigint, CASE WHEN {_columns('{row}')} IS DISTINCT FROM "
        f"{_columns('OLD')} THEN {EVERY_MORNING} ELSE {NO_MORNING} END",
        columns=(*_ALL_DAYS, *_CLOCK),
    )

    history = HistoricalRecords()

    class Meta:
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                name="farm_alfalfa_ratio_in_range",
                condition=models.Q(alfalfa_ratio__isnull=True)
                | models.Q(alfalfa_ratio__gte=1, alfalfa_ratio__lte=1.5),
            ),
            models.CheckConstraint(
                name="farm_et0_in_order",
                condition=models.Q(
                    et0_low__isnull=True, et0_expected__isnull=True, et0_high__isnull=True
                )
                | models.Q(
                    et0_low__gte=0,
                    et0_expected__gte=models.F("et0_low"),
                    et0_high__gte=models.F("et0_expected"),
                    et0_high__lte=20,
                ),
            ),
            models.CheckConstraint(
                name="farm_station_on_earth",
                condition=models.Q(
                    latitude__isnull=True, longitude__isnull=True, elevation_m__isnull=True
                )
                | models.Q(
                    latitude__gte=-90,
                    latitude__lte=90,
                    longitude__gte=-180,
                    longitude__lte=180,
                    elevation_m__gte=-430,
                    elevation_m__lte=6000,
                ),
            ),
        ]

    def __str__(self) -> str:
        return self.name

    def now(self) -> datetime:
        """This instant in the farm's time zone."""
        now = timezone.now()
        if self.fixed_now is not None:
            gone = now - (self.clock_started_at or now)
            now = self.fixed_now + gone * self.clock_rate
        return now.astimezone(ZoneInfo(self.time_zone))


class Role(models.TextChoices):
    MANAGER = "manager"
    IRRIGATOR = "irrigator"
    SCOUT = "scout"
    ADVISER = "adviser"
    VIEWER = "viewer"


class Membership(models.Model):
    """A person's role on a farm, and whether the morning's summary goes to him by mail."""

    user = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="memberships"
    )
    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="memberships")
    role = models.CharField(max_length=12, choices=Role)
    morning_mail = models.BooleanField(default=False)

    history = HistoricalRecords()

    class Meta:
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["user", "farm"], name="one_role_per_farm"),
            models.CheckConstraint(
                condition=models.Q(role__in=list(Role.values)), name="membership_role_known"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.user} is {self.role} on {self.farm}"


class Change(FarmOwned):
    """An entry of the change history: who did what, when, on the farm's clock.

    ``about`` is the name of what was changed as it was then. ``block`` and ``thing`` are numbers
    of rows, not keys: an entry outlives what it is about. ``thing`` is what undoing it takes.
    """

    ABOUT_LENGTH: ClassVar[int] = 200
    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="changes")
    at = models.DateTimeField()
    by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    done = models.CharField(max_length=24)
    about = models.CharField(max_length=ABOUT_LENGTH, blank=True)
    thing = models.BigIntegerField(null=True, blank=True)
    block = models.BigIntegerField(null=True, blank=True)
    undone_at = models.DateTimeField(null=True, blank=True)
    undone_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, blank=True, related_name="+"
    )

    class Meta:
        indexes: ClassVar[list[Any]] = [
            models.Index(fields=["farm", "-id"], name="changes_of_a_farm"),
            models.Index(fields=["farm", "block", "-id"], name="changes_of_a_block"),
            models.Index(
                fields=["farm", "done", "thing"],
                name="changes_to_undo",
                condition=models.Q(undone_at=None, thing__isnull=False),
            ),
        ]

    def __str__(self) -> str:
        return f"{self.at:%Y-%m-%d %H:%M} {self.done} {self.about}"
