"""Today's advice as lines that a person takes to the field: what, when, how long."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from core.advice.vocabulary import Confidence, State
from server.accounts.models import User
from server.advice.schemas import BoardRow
from server.advice.stored import lines, needs_refresh, refresh
from server.base.figures import Figures
from server.farms.models import Farm
from server.today.decided import decision_words

STATE_WORDS: dict[State, str] = {
    State.HOLDING: "Holding",
    State.WATER_SOON: "Water soon",
    State.WATER_NOW: "Water now",
    State.PAST_REFILL: "Past refill",
    State.BRIMMING: "Brimming",
    State.HELD: "Held",
    State.NO_WORD: "No word",
}
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


def today_rows(farm: Farm) -> list[TodayRow]:
    """Every block of the farm."""
    now = farm.now()
    out = []
    for row in board_rows(farm):
        a = row.answer
        planned = [s.starts_at for s in row.sets if s.status == "planned" and s.ends_at > now]
        out.append(
            TodayRow(
                block=row.name,
                crop=row.crop or "",
                state=a.state,
                words=STATE_WORDS[a.state],
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
    """Blocks that want water within three days, or are held back from it."""
    return [
        r
        for r in rows
        if r.state in (State.PAST_REFILL, State.WATER_NOW, State.HELD)
        or (r.start_at is not None and r.start_at <= now + AHEAD)
    ]


def summary(farm: Farm, reader: User) -> str:
    """The morning in words: what wants water, what was decided, what has no word."""
    now, rows, shown = farm.now(), today_rows(farm), Figures(reader.units)
    wanted, silent = due(rows, now), [r.block for r in rows if r.state is State.NO_WORD]
    late = [r for r in rows if r.state is State.PAST_REFILL]
    title = f"{farm.name}, {now:%A %d %B %Y, %H:%M}"
    if farm.simulated:
        title += " (simulated)"
    parts = [title, "=" * len(title), ""]
    if not wanted:
        parts.append("No block wants water within three days.")
    else:
        count = "1 block wants" if len(wanted) == 1 else f"{len(wanted)} blocks want"
        parts.append(f"{count} water within three days; {len(late) or 'none'} past refill.")
    parts.append("")
    for r in wanted:
        parts.append(f"- {r.block} ({r.crop or 'no crop'}): {r.words}")
        if r.start_at is not None and r.hours is not None:
            parts.append(
                f"    start {shown.moment(r.start_at, farm.time_zone)}"
                f", run {shown.running_time(r.hours)}"
                f", {shown.water(r.gross_mm)} gross, {shown.volume(r.volume_m3)}"
            )
        if r.planned_at is not None:
            parts.append(f"    planned for {shown.moment(r.planned_at, farm.time_zone)}")
        if r.decision:
            parts.append(f"    {r.decision}")
    if silent:
        parts += ["", f"No word from: {', '.join(silent)}."]
    parts += [
        "",
        "This is advice, computed from what was recorded. It does not replace an agronomist, a",
        "licensed trade or a local code; water rights are for local law.",
    ]
    return "\n".join(parts) + "\n"
