"""The days of which a block's record is followed."""

from collections.abc import Sequence
from datetime import date, timedelta

from server.blocks.crop import season_under_way
from server.blocks.models import Block

# A block is followed from so many days before its season on, but never for longer than a year:
# what the soil held at planting is known by then.
LEAD_DAYS, LONGEST_DAYS = 30, 366


def first_day(block: Block, today: date) -> date:
    """The day from which a block's record is followed: its season's, with what led up to it."""
    season = season_under_way(block, today)
    begin = min(season.planted_on, today) if season else today
    return max(begin - timedelta(days=LEAD_DAYS), today - timedelta(days=LONGEST_DAYS))


def days_back(blocks: Sequence[Block], today: date) -> int:
    """Days from the first of all of the blocks' first days to today."""
    return max(((today - first_day(b, today)).days for b in blocks), default=LEAD_DAYS)
