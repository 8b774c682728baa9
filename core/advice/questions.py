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


def questions(track: Track, now: datetime) -> dict[int, Question]:
    """The newest contradiction of each block that has one worth asking about, by row."""
    found: dict[int, tuple[int, Question]] = {}
    for kind, by_day in (
        (QuestionKind.WATER_NOT_LOGGED, track.unlogged_mm),
        (QuestionKind.WATER_DID_NOT_COME, track.missing_mm),
    ):
        lately = np.nan_to_num(by_day[:, -NEWS_DAYS:])
        # Day after day, so that the newest of a row is seen last.
        for row, k in np.argwhere(lately > NEWS_MM).tolist():
            if row in found and found[row][0] >= k:
                continue
            first = now + timedelta(days=k - lately.shape[1])
            asked = Question(kind, first, first + timedelta(days=1), float(lately[row, k]))
            found[row] = (k, asked)
    return {row: asked for row, (_, asked) in found.items()}
