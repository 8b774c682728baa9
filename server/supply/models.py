"""Descriptions of a farm's network, one after the other; the newest is in force."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models

from server.farms.models import Farm
from server.farms.scope import FarmOwned


class NetworkVersion(FarmOwned):
    """A description of sources, mains, machines, people and prices, never rewritten.

    ``number`` counts a farm's from 1. How ``content`` is written is told by its ``format``, see
    `server.supply.document`.
    """

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="networks")
    number = models.PositiveIntegerField()
    content = models.JSONField()
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["farm", "number"], name="network_number_once")
        ]

    def __str__(self) -> str:
        return f"{self.farm}, network {self.number}"
