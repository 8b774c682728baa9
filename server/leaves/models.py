"""Blocks that are steered by their leaves, and the rounds on which leaves were read."""

from typing import Any, ClassVar

from django.db import models
from simple_history.models import HistoricalRecords

from core.leaf.bands import LeafPhase, Product
from core.leaf.round import DRIEST_MPA, WETTEST_MPA, Sky
from core.leaf.steering import LeafSteering, Side, Sides, Strategy
from server.accounts.models import User
from server.base.moment import bounded
from server.blocks.models import Block
from server.farms.scope import FarmOwned
from server.farms.touches import NO_MORNING, of_block

LONGEST_NAME = 40


class Steering(FarmOwned):
    """How a block is steered by its leaves.

    ``own`` holds a person's upper and lower edge by phase [MPa], ``zones`` the share of the block's
    ground by the zone's name [-].
    """

    farm_path = "block__farm"
    touches = of_block(first=NO_MORNING)

    block = models.OneToOneField(Block, on_delete=models.CASCADE, related_name="steering")
    product = models.CharField(max_length=16, choices=[(str(p), str(p)) for p in Product])
    strategy = models.CharField(
        max_length=8, choices=[(str(s), str(s)) for s in Strategy], default=Strategy.BAND
    )
    own = models.JSONField(default=dict, blank=True)
    zones = models.JSONField(default=dict, blank=True)
    use_share = models.FloatField(null=True, blank=True)
    since = models.DateField(null=True, blank=True)
    application_mm = models.FloatField(null=True, blank=True)
    side = models.CharField(max_length=1, blank=True, choices=[(str(s), str(s)) for s in Side])
    side_since = models.DateField(null=True, blank=True)
    side_days = models.PositiveSmallIntegerField(null=True, blank=True)

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        constraints: ClassVar[list[Any]] = [
            models.CheckConstraint(
                condition=models.Q(use_share__isnull=True) | models.Q(use_share__range=(0, 1)),
                name="steering_share_is_a_share",
            ),
            models.CheckConstraint(
                condition=models.Q(side="", side_since__isnull=True, side_days__isnull=True)
                | models.Q(
                    side__in=[str(s) for s in Side],
                    side_since__isnull=False,
                    side_days__isnull=False,
                ),
                name="steering_sides_complete",
            ),
            *(
                bounded(name, f"steering_{name}", is_moment=False, may_be_null=True)
                for name in ("since", "side_since")
            ),
        ]

    def __str__(self) -> str:
        return f"{self.block} steered by its leaves for {self.product}"

    @property
    def settled(self) -> LeafSteering:
        """What was settled, as the core takes it.

        Raises
        ------
        BandProblem, SteeringProblem
        """
        sides = None
        if self.side and self.side_since and self.side_days:
            sides = Sides(Side(self.side), self.side_since, self.side_days)
        return LeafSteering(
            product=Product(self.product),
            strategy=Strategy(self.strategy),
            own={LeafPhase(k): (v[0], v[1]) for k, v in self.own.items()},
            zones=self.zones,
            use_share=self.use_share,
            since=self.since,
            application_mm=self.application_mm,
            sides=sides,
        )


def steering_of(block: Block) -> Steering | None:
    """How a block is steered by its leaves; None where it is not."""
    found: Steering | None = getattr(block, "steering", None)
    return found


class StemRound(FarmOwned):
    """A round of leaf readings in a block. ``key`` is made on the phone: sent again, it is known.

    ``kept`` : a person takes it for good whatever speaks against it; ``air_c`` and ``humidity``
    [percent] are of its air.
    """

    farm_path = "block__farm"
    touches = of_block(first=NO_MORNING)

    block = models.ForeignKey(Block, on_delete=models.CASCADE, related_name="stem_rounds")
    key = models.UUIDField()
    started_at = models.DateTimeField()
    ended_at = models.DateTimeField()
    sky = models.CharField(max_length=8, choices=[(str(s), str(s)) for s in Sky], default=Sky.CLEAR)
    bagged_min = models.FloatField(null=True, blank=True)
    air_c = models.FloatField(null=True, blank=True)
    humidity = models.FloatField(null=True, blank=True)
    kept = models.BooleanField(default=False)
    note = models.CharField(max_length=300, blank=True)
    made_by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")

    history = HistoricalRecords()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["-started_at", "-pk"]
        indexes: ClassVar[list[Any]] = [
            models.Index(fields=["block", "started_at"], name="stem_round_of_block")
        ]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["block", "key"], name="stem_round_once"),
            models.CheckConstraint(
                condition=models.Q(ended_at__gte=models.F("started_at")),
                name="stem_round_ends_after_it_starts",
            ),
            bounded("started_at", "stem_round_started_at"),
            bounded("ended_at", "stem_round_ended_at"),
        ]

    def __str__(self) -> str:
        return f"leaves of {self.block} at {self.started_at:%Y-%m-%d %H:%M}"


class StemLeaf(FarmOwned):
    """One bagged leaf of a round, as the chamber read it [MPa, below zero]."""

    farm_path = "round__block__farm"
    touches = of_block(
        "(SELECT block_id FROM leaves_stemround WHERE id = {row}.round_id)", NO_MORNING
    )

    round = models.ForeignKey(StemRound, on_delete=models.CASCADE, related_name="leaves")
    place = models.PositiveSmallIntegerField()
    zone = models.CharField(max_length=LONGEST_NAME, blank=True)
    plant = models.CharField(max_length=LONGEST_NAME, blank=True)
    mpa = models.FloatField()

    class Meta(FarmOwned.Meta):
        ordering: ClassVar[list[str]] = ["place"]
        constraints: ClassVar[list[Any]] = [
            models.UniqueConstraint(fields=["round", "place"], name="stem_leaf_place_once"),
            models.CheckConstraint(
                condition=models.Q(mpa__range=(DRIEST_MPA, WETTEST_MPA)), name="stem_leaf_possible"
            ),
        ]

    def __str__(self) -> str:
        return f"leaf {self.place}: {self.mpa:g} MPa"
