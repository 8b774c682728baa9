"""Today's advice as a table for other programs and as a page to print."""

import csv
import io
import json
from collections.abc import Sequence

from django.template.loader import render_to_string
from django.utils.translation import get_language, gettext, ngettext

from core.advice.vocabulary import State
from server.accounts.models import User
from server.advice.board_schemas import BoardRow
from server.base.figures import Figures
from server.farms.models import Farm
from server.files.confined import read_confined
from server.today.rows import TodayRow, board_rows, due, today_rows
from server.today.summary import summary_of
from server.today.written import day_and_time, foot_of_page, written

COLUMNS = (
    "block",
    "crop",
    "state",
    "latest_start",
    "run_hours",
    "gross_mm",
    "volume_m3",
    "usable_mm",
    "refill_at",
    "confidence",
    "decision",
    "planned_start",
    "supply",
    "irrigator",
)


def plain(value: float | None, digits: int) -> str:
    """A number for other programs; unknown is empty."""
    return "" if value is None else f"{value:.{digits}f}"


def safe(text: str) -> str:
    """A cell that no spreadsheet takes for a formula."""
    return f"'{text}" if text[:1] in ("=", "+", "-", "@", "\t", "\r") else text


def as_csv(farm: Farm) -> str:
    """One row a block, SI units, times with the farm's own offset; unknown is empty."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    for r in today_rows(farm, board_rows(farm)):
        moments = [
            m.astimezone(farm.now().tzinfo).isoformat(timespec="minutes") if m else ""
            for m in (r.start_at, r.refill_at, r.planned_at)
        ]
        writer.writerow(
            [
                safe(r.block),
                safe(r.crop),
                str(r.state),
                moments[0],
                plain(r.hours, 2),
                plain(r.gross_mm, 1),
                plain(r.volume_m3, 0),
                plain(r.left_mm, 1),
                moments[1],
                str(r.confidence),
                safe(r.decision),
                moments[2],
                safe(r.supply),
                safe(r.irrigator),
            ]
        )
    return out.getvalue()


def _cells(r: TodayRow, shown: Figures, zone: str) -> dict[str, object]:
    return {
        "block": r.block,
        "crop": r.crop,
        "supply": r.supply,
        "irrigator": r.irrigator,
        "words": r.words,
        "late": "late" if r.state is State.BELOW_REFILL else "",
        "start_at": r.start_at,
        "start": shown.moment(r.start_at, zone),
        "run": shown.running_time(r.hours),
        "gross": shown.water(r.gross_mm),
        "volume": shown.volume(r.volume_m3),
        "left": shown.water(r.left_mm),
        "refill": shown.moment(r.refill_at, zone),
        "decision": r.decision,
        "planned": shown.moment(r.planned_at, zone) if r.planned_at else "",
    }


def field_sheet(farm: Farm, reader: User, lines: Sequence[BoardRow]) -> str:
    """The table to take to the field, as HTML."""
    shown, rows, now = Figures(reader.units), today_rows(farm, lines), farm.now()
    wanted = due(rows, now)
    due_soon = ngettext(
        "%(count)d block needs irrigation within three days.",
        "%(count)d blocks need irrigation within three days.",
        len(wanted),
    )
    nothing = gettext("No block needs irrigation within three days.")
    return render_to_string(
        "today/sheet.html",
        {
            "farm": farm,
            "day": day_and_time(now),
            "headline": due_soon % {"count": len(wanted)} if wanted else nothing,
            "code": get_language() or "en",
            "foot": foot_of_page(),
            "rows": [_cells(r, shown, farm.time_zone) for r in rows],
        },
    )


def as_pdf(farm: Farm, reader: User) -> bytes:
    """The summary and the field sheet to print, laid out in a process of its own: the engine that
    does it takes 100 MB, and what it has taken it keeps."""
    rows = board_rows(farm)
    pages = [written(summary_of(farm, rows), reader.units).page, field_sheet(farm, reader, rows)]
    return read_confined(printed_pages, json.dumps(pages).encode())


def printed_pages(pages: bytes) -> bytes:
    """HTML documents, as JSON, as one PDF; in a process of its own."""
    from server.today.printed import printed  # noqa: PLC0415 - with the engine

    return printed(json.loads(pages))
