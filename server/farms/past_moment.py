"""When a person says that something happened."""

from datetime import datetime, timedelta
from zoneinfo import ZoneInfo

from core.sentence import Sentence, sentence
from server.base.errors import Problem, RequestError
from server.base.moment import to_instant
from server.farms.access import Access

# The clock of a device may be ahead so far.
CLOCK_AHEAD = timedelta(minutes=5)


def past_moment(access: Access, at: datetime | None, field: str, refused: Sentence) -> datetime:
    """An instant that is not to come; without an offset it is farm-local, and None is now.

    Raises
    ------
    RequestError
        As ``refused`` says, when it lies in the future or the clocks skipped it.
    """
    if at is None:
        return access.now()
    moment = to_instant(at, ZoneInfo(access.farm.time_zone))
    if moment is None:
        problem = sentence("That time was skipped when the clocks went forward.")
    elif moment > access.now() + CLOCK_AHEAD:
        problem = sentence("That time is in the future.")
    else:
        return moment
    raise RequestError(refused, (Problem(field=field, message=problem),))
