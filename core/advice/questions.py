"""What only a person can tell, where sensors and the log contradict each other."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from enum import StrEnum

import numpy as np

from core.state.track import Track

# When a correction is news [mm in a day], and for how long it is asked about [days]; working
# assumptions, no source.
NEWS_MM, NEWS_DAYS = 8.0, 7


class QuestionKind(StrEnum):
    WATER_NOT_LOGGED = "water_not_logged"
    WATER_DID_NOT_COME = "water_did_not_come"


@dataclass(frozen=True)
class Question:
    """Whether water came in a day [mm net over the block], as the sensors or the log have it.

    first_at, last_at : the day of 24 h in which it showed, or should have
    """

    kind: QuestionKind
    first_at: datetime
    last_at: datetime
    net_mm: float


def question(track: Track, row: int, now: datetime) -> Question | None:
    """The newest contradiction of a block, None where there is none worth asking about."""
    found: list[tuple[int, float, QuestionKind]] = []
    for kind, by_day in (
        (QuestionKind.WATER_NOT_LOGGED, track.unlogged_mm),
        (QuestionKind.WATER_DID_NOT_COME, track.missing_mm),
    ):
        lately = np.nan_to_num(by_day[row, -NEWS_DAYS:])
        days = np.flatnonzero(lately > NEWS_MM)
        if days.size:
            k = int(days[-1])
            found.append((k - lately.size, float(lately[k]), kind))
    if not found:
        return None
    day, net, kind = max(found, key=lambda f: f[0])
    first = now + timedelta(days=day)
    return Question(kind, first, first + timedelta(days=1), net)
