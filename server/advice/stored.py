"""The board's lines kept ready: made anew where what they rest on has changed, or with time."""

from collections.abc import Collection, Mapping
from datetime import datetime, timedelta

from django.db import connection, transaction

from core.advice.answer import Assessment
from core.advice.version import RULES_VERSION
from core.advice.vocabulary import State
from server.advice.answers import Loaded, answers, keep_checkpoints, load
from server.advice.apart import together_or_apart
from server.advice.board_schemas import BoardRow
from server.advice.models import Decision, StoredAnswer
from server.advice.mornings import lock_farm, take_touched
from server.advice.present import board_row
from server.blocks.loading import blocks_of
from server.blocks.models import Block
from server.farms.models import Farm

# A line tells of days: one this old is still true, if nothing new was heard.
OLDEST = timedelta(minutes=30)
# Workers look every few seconds; what they have not taken in after so long, nobody will.
WORKER_TAKES_S = 60.0
# A note that who looks does not leave to a worker: of a person, or of long ago.
NOT_LEFT = "(NOT by_logger OR noted_at < statement_timestamp() - make_interval(secs => %(takes)s))"
_UPSERT = """
INSERT INTO advice_storedanswer AS kept (block_id, made_at, version, late, row, edition, deeds)
SELECT %(block)s, %(now)s, %(version)s, %(late)s, %(row)s, edition, edition
FROM nextval('advice_edition') AS edition
ON CONFLICT (block_id) DO UPDATE SET made_at = EXCLUDED.made_at, version = EXCLUDED.version,
    late = EXCLUDED.late, row = EXCLUDED.row, edition = EXCLUDED.edition,
    deeds = CASE WHEN %(by_logger)s THEN kept.deeds ELSE EXCLUDED.deeds END
"""
# Sort keys: blocks below refill come first, those that need nothing in sight and those without a
# word last.
PAST_REFILL_FIRST, NOTHING_IN_SIGHT, NO_WORD_LAST = -1e6, 1e12, 1e13


def lateness(row: BoardRow) -> float:
    """Sort key: below refill first, the driest on top, then by latest start."""
    answer = row.answer
    if answer.usable_mm is None:
        return NO_WORD_LAST
    if answer.state is State.FINISHED:
        return NOTHING_IN_SIGHT
    if answer.usable_mm < 0:
        return PAST_REFILL_FIRST + answer.usable_mm
    return answer.start_at.timestamp() if answer.start_at else NOTHING_IN_SIGHT


def todays_decisions(farm: Farm, now: datetime, block_ids: Collection[int]) -> dict[int, Decision]:
    """The decision in force on today's advice, by block."""
    rows = (
        Decision.objects.for_farm(farm)
        .filter(advice__day=now.date(), advice__block__in=block_ids, undone_at__isnull=True)
        .select_related("made_by", "advice")
    )
    return {d.advice.block_id: d for d in rows}


def _due(farm: Farm, now: datetime, touched: Mapping[int | None, bool]) -> dict[int, bool]:
    """Blocks whose line is missing, touched, old, or made by other rules; and whether loggers
    alone are the reason."""
    made = {
        row["block_id"]: row
        for row in StoredAnswer.objects.for_farm(farm).values("block_id", "made_at", "version")
    }
    out = {}
    for pk in Block.objects.for_farm(farm).values_list("pk", flat=True):
        row = made.get(pk)
        fresh = (
            row is not None
            and row["version"] == RULES_VERSION
            and abs(now - row["made_at"]) <= OLDEST
        )
        notes = [touched[of] for of in (None, pk) if of in touched]
        if notes or not fresh:
            out[pk] = fresh and all(notes)
    return out


def _row(block: Block, loaded: Loaded, answer: Assessment, decision: Decision | None) -> BoardRow:
    sets = loaded.sets.get(block.pk, [])
    return board_row(block, loaded.inputs[block.pk], answer, sets, decision)


@transaction.atomic
def refresh(farm: Farm) -> list[int]:
    """Make the lines anew that are no longer true; the blocks whose lines were made."""
    now = farm.now()
    lock_farm(farm)
    due = _due(farm, now, take_touched(farm))
    if not due:
        return []
    blocks = list(blocks_of(farm).filter(pk__in=due).select_related("irrigator"))
    decided = todays_decisions(farm, now, due)
    rows = []
    for some, loaded in together_or_apart(blocks, lambda some: load(farm, some, now)):
        found = answers(loaded)
        keep_checkpoints(loaded, found)
        rows += [_row(b, loaded, found[b.pk], decided.get(b.pk)) for b in some]
    with connection.cursor() as cursor:
        cursor.executemany(
            _UPSERT,
            [
                {
                    "block": r.id,
                    "now": now,
                    "version": RULES_VERSION,
                    "late": lateness(r),
                    "row": r.model_dump_json(),
                    "by_logger": due[r.id],
                }
                for r in rows
            ],
        )
    return list(due)


def lines(farm: Farm) -> list[str]:
    """The board's lines as JSON, most urgent first."""
    return list(
        StoredAnswer.objects.for_farm(farm)
        .order_by("late", "block__name")
        .values_list("row", flat=True)
    )


def needs_refresh(farm: Farm, *, also_loggers: bool = True) -> bool:
    """Whether anything was noted since, or a line has grown old.

    Without ``also_loggers`` readings that a logger sent a moment ago are no reason: a worker
    takes them in within seconds, and a hundred people should not wait for it. Whatever a person
    did is one, and so is what no worker took in for `WORKER_TAKES_S`.
    """
    oldest = farm.now() - OLDEST
    with connection.cursor() as cursor:
        cursor.execute(
            f"""
            SELECT EXISTS (
                    SELECT 1 FROM advice_touched
                    WHERE farm_id = %(farm)s AND (%(every)s OR {NOT_LEFT})
                )
                OR EXISTS (
                    SELECT 1 FROM blocks_block b
                    LEFT JOIN advice_storedanswer s ON s.block_id = b.id
                    WHERE b.farm_id = %(farm)s AND (s.block_id IS NULL
                        OR s.made_at < %(oldest)s OR s.made_at > %(newest)s
                        OR s.version <> %(version)s)
                )
            """,  # noqa: S608 - a constant
            {
                "farm": farm.pk,
                "every": also_loggers,
                "takes": WORKER_TAKES_S,
                "oldest": oldest,
                "newest": farm.now() + OLDEST,
                "version": RULES_VERSION,
            },
        )
        return bool(cursor.fetchone()[0])
