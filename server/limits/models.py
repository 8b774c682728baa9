"""What a block's limits are made of, dated and signed: its soil, and the rule for refill."""

from typing import Any, ClassVar

from django.conf import settings
from django.db import models
from simple_history.models import HistoricalRecords

from core.crop.season import Stage
from core.limits.refill_method import RefillMethod
from server.base.moment import bounded
from server.blocks.models import Block
from server.farms.scope import FarmOwned
from server.farms.touches import NO_MORNING, of_block
from server.soils.models import SoilProfile


class DatedChange(FarmOwned):
    """A change in force from a date (null: from the beginning) until undone."""

    farm_path = "block__farm"

    from_on = models.DateField(null=True, blank=True)
    reason = models.CharField(max_length=300, blank=True)
    made_at = models.DateTimeField()
    made_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )
    undone_at = models.DateTimeField(null=True, blank=True)
    undone_by = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.SET_NULL, related_name="+"
    )

    class Meta(FarmOwned.Meta):
        abstract = True


class BlockSoil(DatedChange):
    """The soil a block stands on from a date."""

    touches = of_block()

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="soils")
    soil = models.ForeignKey(SoilProfile, on_delete=models.PROTECT, related_name="block_soils")

    history = HistoricalRecords()

    class Meta(DatedChange.Meta):
        ordering: ClassVar[list[Any]] = [models.F("from_on").asc(nulls_first=True), "pk"]
        indexes: ClassVar[list[Any]] = [models.Index(fields=["block", "from_on"])]
        constraints: ClassVar[list[Any]] = [
            bounded("from_on", "soil_on_record", is_moment=False, may_be_null=True)
        ]

    def __str__(self) -> str:
        return f"{self.block} on {self.soil} from {self.from_on or 'the beginning'}"


class RefillRule(DatedChange):
    """The method that sets the refill point from a date, in one stage or in all.

    ``value``: p or flat share [-] or tension [kPa]; null takes the crop's own.
    """

    touches = of_block(first=NO_MORNING)

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="refill_rules")
    refill_method = models.CharField(
        max_length=12, choices=[(str(s), str(s)) for s in RefillMethod]
    )
    stage = models.CharField(max_length=16, blank=True, choices=[(str(s), str(s)) for s in Stage])
    value = models.FloatField(null=True, blank=True)

    history = HistoricalRecords()

    class Meta(DatedChange.Meta):
        ordering: ClassVar[list[Any]] = [models.F("from_on").asc(nulls_first=True), "pk"]
        indexes: ClassVar[list[Any]] = [models.Index(fields=["block", "from_on"])]
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(value__isnull=True)
                | models.Q(refill_method="tension", value__gte=5, value__lte=500)
                | (~models.Q(refill_method="tension") & models.Q(value__gte=0.1, value__lte=0.8)),
                name="refill_rule_value_in_range",
            ),
            bounded("from_on", "refill_rule_on_record", is_moment=False, may_be_null=True),
        ]

    def __str__(self) -> str:
        return f"{self.refill_method} in {self.block} from {self.from_on or 'the beginning'}"
