"""Today's advice as lines that a person takes to the field: what, when, how long."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from core.advice.vocabulary import Confidence, State
from server.advice.board_schemas import BoardRow
from server.advice.stored import lines, needs_refresh, refresh
from server.base.vocabulary import word
from server.farms.models import Farm
from server.today.decided import decision_words

AHEAD = timedelta(days=3)


@dataclass(frozen=True)
class TodayRow:
    """One block; None where there is nothing to say. Depths as the reader wants them."""

    block: str
    crop: str
    state: State
    words: str
    start_at: datetime | None
    hours: float | None
    gross_mm: float | None
    volume_m3: float | None
    left_mm: float | None
    refill_at: datetime | None
    confidence: Confidence
    decision: str
    planned_at: datetime | None
    supply: str
    irrigator: str


def board_rows(farm: Farm) -> list[BoardRow]:
    """The board's lines, most urgent first, true as of now."""
    if needs_refresh(farm):
        refresh(farm)
    return [BoardRow.model_validate_json(line) for line in lines(farm)]


def today_rows(farm: Farm, rows: Sequence[BoardRow]) -> list[TodayRow]:
    """Every block of the farm, from the board's lines."""
    now = farm.now()
    out = []
    for row in rows:
        a = row.answer
        planned = [s.starts_at for s in row.sets if s.status == "planned" and s.ends_at > now]
        out.append(
            TodayRow(
                block=row.name,
                crop=row.crop or "",
                state=a.state,
                words=word("state", a.state),
                start_at=a.start_at,
                hours=a.run.total_hours if a.run else None,
                gross_mm=a.amount.gross_mm if a.amount else None,
                volume_m3=a.amount.volume_m3 if a.amount else None,
                left_mm=a.usable_mm,
                refill_at=a.refill_at,
                confidence=a.confidence,
                decision=decision_words(row.decision),
                planned_at=min(planned, default=None),
                supply=row.supply,
                irrigator=row.irrigator or "",
            )
        )
    return out


def due(rows: Sequence[TodayRow], now: datetime) -> list[TodayRow]:
    """Blocks to irrigate within three days, or on hold."""
    return [
        r
        for r in rows
        if r.state in (State.BELOW_REFILL, State.IRRIGATE_NOW, State.ON_HOLD)
        or (r.start_at is not None and r.start_at <= now + AHEAD)
    ]
