"""The run sheet as a table for other programs and as a page to print."""

import csv
import io
import json
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import timedelta
from itertools import groupby
from zoneinfo import ZoneInfo

from django.template.loader import render_to_string
from django.utils.formats import date_format
from django.utils.translation import get_language, gettext, gettext_noop

from core.sentence import sentence
from server.base.errors import NotFound
from server.base.figures import Figures
from server.farms.access import Access
from server.files.confined import read_confined
from server.plan.in_use import sheet_in_use
from server.plan.present import sheet_out
from server.plan.schemas import SetStatus, SheetBlock, SheetOut, SheetSetOut, StandingOut
from server.today.sheets import plain, printed_pages, safe
from server.today.written import day_and_time, foot_of_page

COLUMNS = (
    *("source", "block", "start", "end", "run_hours", "gross_mm", "volume_m3", "flow_m3_h"),
    *("status", "pinned", "machine", "irrigator"),
)
STATUS_WORDS: dict[SetStatus, str] = {
    SetStatus.DRAFT: gettext_noop("Not announced"),
    SetStatus.ANNOUNCED: gettext_noop("Announced"),
    SetStatus.RUNNING: gettext_noop("Running"),
    SetStatus.DONE: gettext_noop("Done"),
    SetStatus.CANCELLED: gettext_noop("Cancelled"),
}


SCHEDULED_BY_HAND = gettext_noop("Scheduled by hand")


@dataclass(frozen=True)
class _Line:
    """An irrigation of the plan, or one that stands beside it, with its block and what it uses."""

    one: SheetSetOut | StandingOut
    block: SheetBlock
    source: str
    machine: str

    @property
    def hours(self) -> float:
        """From its first water to its last."""
        return (self.one.ends_at - self.one.starts_at) / timedelta(hours=1)

    @property
    def status(self) -> str:
        """For other programs; an irrigation that a person scheduled stands like one announced."""
        if isinstance(self.one, SheetSetOut):
            return str(self.one.status)
        return str(SetStatus.RUNNING) if self.one.running else "scheduled"

    @property
    def status_words(self) -> str:
        """Likewise, to read."""
        if isinstance(self.one, SheetSetOut):
            return gettext(STATUS_WORDS[self.one.status])
        return gettext(STATUS_WORDS[SetStatus.RUNNING] if self.one.running else SCHEDULED_BY_HAND)


def _sheet(access: Access) -> SheetOut:
    used = sheet_in_use(access.farm)
    if used is None:
        raise NotFound(sentence("There is no run sheet yet; plan one first."))
    return sheet_out(access, used)


def _lines(sheet: SheetOut) -> Iterator[_Line]:
    """Irrigations in the order in which they begin."""
    blocks = {b.id: b for b in sheet.blocks}
    every: list[SheetSetOut | StandingOut] = [*sheet.sets, *sheet.standing]
    for one in sorted(every, key=lambda s: (s.starts_at, s.block_id)):
        block = blocks[one.block_id]
        machine = sheet.machines[block.machine] if block.machine is not None else ""
        yield _Line(one, block, sheet.sources[block.source].name, machine)


def run_sheet_csv(access: Access) -> str:
    """One row an irrigation, SI units, times with the farm's own offset.

    Raises
    ------
    NotFound
    """
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(COLUMNS)
    zone = access.now().tzinfo
    for line in _lines(_sheet(access)):
        one = line.one
        moments = (m.astimezone(zone) for m in (one.starts_at, one.ends_at))
        writer.writerow(
            [
                safe(line.source),
                safe(line.block.name),
                *(m.isoformat(timespec="minutes") for m in moments),
                plain(line.hours, 2),
                plain(one.gross_mm, 1),
                plain(one.volume_m3, 0),
                plain(line.block.flow_m3_h, 1),
                line.status,
                "yes" if isinstance(one, StandingOut) or one.pinned else "no",
                safe(line.machine),
                safe(line.block.irrigator or ""),
            ]
        )
    return out.getvalue()


def run_sheet_pdf(access: Access) -> bytes:
    """The sheet to print, a table for each day, with room to note what was run.

    Raises
    ------
    NotFound
    """
    sheet, farm = _sheet(access), access.farm
    shown, zone = Figures(access.user.units), access.now().tzinfo
    days = groupby(_lines(sheet), key=lambda x: x.one.starts_at.astimezone(zone).date())
    page = render_to_string(
        "today/run_sheet.html",
        {
            "farm": farm,
            "code": get_language() or "en",
            "foot": foot_of_page(),
            "made": day_and_time(sheet.made_at.astimezone(zone)),
            "days": [
                {
                    "day": date_format(day, "l j F"),
                    "lines": [_cells(x, shown, farm.time_zone) for x in lines],
                }
                for day, lines in days
            ],
        },
    )
    return read_confined(printed_pages, json.dumps([page]).encode())


def _cells(line: _Line, shown: Figures, zone: str) -> dict[str, str]:
    one = line.one
    return {
        # Its day stands above.
        "start": date_format(one.starts_at.astimezone(ZoneInfo(zone)), "H:i"),
        "end": shown.moment(one.ends_at, zone),
        "block": line.block.name,
        "source": line.source,
        "run": shown.running_time(line.hours),
        "gross": shown.water(one.gross_mm),
        "volume": shown.volume(one.volume_m3),
        "with": ", ".join(x for x in (line.block.irrigator, line.machine) if x),
        "status": line.status_words,
    }
