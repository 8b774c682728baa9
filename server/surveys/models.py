"""Soil surveys that were imported."""

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from server.farms.models import Farm
from server.farms.scope import FarmOwned


class SoilSurvey(FarmOwned):
    """A file of surveyed areas; its zones and soils name it."""

    touches = None

    farm = models.ForeignKey(Farm, on_delete=models.CASCADE, related_name="soil_surveys")
    file_name = models.CharField(max_length=255)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, related_name="+"
    )

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        pass

    def __str__(self) -> str:
        return self.file_name
