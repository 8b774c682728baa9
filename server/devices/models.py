"""Loggers and gateways that send readings by themselves, each with a token of its own."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from django.db.models.functions import Lower
from simple_history.models import HistoricalRecords

from server.farms.models import Farm
from server.farms.scope import FarmOwned
from server.instruments.models import Instrument


class Device(FarmOwned):
    """A sender of readings. Of its token only the SHA-256 is kept: it is random and long, so
    that no slow hash is needed, and every request can be checked at once.

    ``instruments`` are those it may write for; none means all of the farm.
    ``skew_seconds`` is its clock less ours at its last word.
    """

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="devices")
    name = models.CharField(max_length=80)
    simulated = models.BooleanField(default=False)
    token_sha256 = models.CharField(max_length=64, unique=True)
    token_hint = models.CharField(max_length=8)
    instruments = models.ManyToManyField(Instrument, related_name="devices", blank=True)
    made_at = models.DateTimeField(auto_now_add=True)
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )
    revoked_at = models.DateTimeField(null=True)
    last_seen_at = models.DateTimeField(null=True)
    skew_seconds = models.FloatField(null=True)
    battery_v = models.FloatField(null=True)
    signal_dbm = models.FloatField(null=True)
    last_refused = models.IntegerField(default=0)
    window_start = models.DateTimeField(null=True)
    window_requests = models.IntegerField(default=0)
    window_rows = models.IntegerField(default=0)

    history = HistoricalRecords(
        excluded_fields=[
            "last_seen_at",
            "skew_seconds",
            "battery_v",
            "signal_dbm",
            "last_refused",
            "window_start",
            "window_requests",
            "window_rows",
        ]
    )

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint("farm", Lower("name"), name="device_name_once")
        ]

    def __str__(self) -> str:
        return self.name
