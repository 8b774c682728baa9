"""The demo's hay: cut by a calendar."""

from datetime import date

from server.blocks.models import Block
from server.cuttings.models import CutPlan

HAY = "Sallow Bank"
GROWTH_DAYS, DRY_BEFORE_DAYS = 30, 4
LAST_CUT = date(2026, 9, 25)


def give_cuts(blocks: dict[str, Block]) -> None:
    """The calendar of the hay field; what was cut is among its season's observations."""
    CutPlan(
        block=blocks[HAY],
        every_days=GROWTH_DAYS,
        last_on=LAST_CUT,
        dry_before_days=DRY_BEFORE_DAYS,
    ).save()
