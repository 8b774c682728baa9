"""The demo's hay: cut by a calendar."""

from datetime import date

from server.blocks.models import Block
from server.cuttings.models import CutPlan

HAY = "Sallow Bank"
# The third cut is settled for tomorrow; it is baled on the second day after.
THIRD_CUT = date(2026, 7, 15)
GROWTH_DAYS, DRY_BEFORE_DAYS, BALED_DAYS = 28, 4, 2
LAST_CUT = date(2026, 9, 25)


def give_cuts(blocks: dict[str, Block]) -> None:
    """The calendar of the hay field; what was cut is among its season's observations."""
    CutPlan(
        block=blocks[HAY],
        planned=[THIRD_CUT.isoformat()],
        every_days=GROWTH_DAYS,
        taken_days=BALED_DAYS,
        last_on=LAST_CUT,
        dry_before_days=DRY_BEFORE_DAYS,
    ).save()
