"""The daily summary written out, as text and as a page: for mail and for print."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from zoneinfo import ZoneInfo

from django.template.loader import render_to_string
from django.utils.formats import date_format
from django.utils.translation import get_language, gettext, ngettext

from server.base.figures import Figures
from server.base.vocabulary import word
from server.today.decided import decision_words
from server.today.summary import (
    Change,
    InstrumentConcern,
    SummaryDay,
    SummaryLine,
    SummaryOut,
    SummaryTotal,
)


@dataclass(frozen=True)
class Written:
    """A summary as its reader gets it."""

    title: str
    text: str
    page: str


@dataclass(frozen=True)
class _Writer:
    """Words for one reader: units and the farm's clock."""

    summary: SummaryOut
    figures: Figures

    def _moment(self, at: datetime | None) -> str:
        return self.figures.moment(at, self.summary.time_zone)

    def title(self) -> str:
        now = self.summary.now.astimezone(ZoneInfo(self.summary.time_zone))
        return f"{self.summary.farm}, {day_and_time(now)}"

    def headline(self) -> str:
        s = self.summary
        if not s.today:
            return gettext("No irrigation is due today.")
        count = len(s.today)
        due = ngettext(
            "%(count)d block to irrigate today", "%(count)d blocks to irrigate today", count
        ) % {"count": count}
        if not s.below_refill:
            return f"{due}."
        late = ngettext("%(count)d below refill", "%(count)d below refill", s.below_refill)
        return f"{due}; {late % {'count': s.below_refill}}."

    def line(self, x: SummaryLine) -> dict[str, object]:
        if x.scheduled is not None:
            start = gettext("scheduled %(at)s") % {"at": self._moment(x.scheduled.starts_at)}
        else:
            start = gettext("by %(at)s") % {"at": self._moment(x.start_at)}
        return {
            "block": x.block,
            "crop": x.crop or gettext("no crop"),
            "state": word("state", x.state),
            "late": x.state == "below_refill",
            "start": start,
            "hours": self.figures.running_time(x.hours),
            "gross": self.figures.water(x.gross_mm),
            "volume": self.figures.volume(x.volume_m3),
            "who": " · ".join(part for part in (x.supply, x.irrigator or "") if part),
            "why": [word("reason", r) for r in x.why],
            "decision": decision_words(x.decision),
        }

    def total(self, x: SummaryTotal) -> dict[str, object]:
        return {
            "name": x.name or gettext("not assigned"),
            "blocks": x.blocks,
            "hours": self.figures.running_time(x.hours),
            "volume": self.figures.volume(x.volume_m3),
        }

    def change(self, x: Change) -> str:
        text = word("change", x.kind)
        return f"{x.block} " + text.format(was=self._moment(x.was_at), now=self._moment(x.now_at))

    def changes(self) -> list[str]:
        applied = [
            gettext("%(block)s: irrigated, %(depth)s, until %(at)s")
            % {
                "block": x.block,
                "depth": self.figures.water(x.gross_mm),
                "at": self._moment(x.ended_at),
            }
            for x in self.summary.applied
        ]
        return [*(self.change(c) for c in self.summary.changes), *applied]

    def instrument(self, x: InstrumentConcern) -> str:
        wrong = [
            gettext("no readings lately") if x.silent else "",
            gettext("no calibration curve") if x.needs_calibration else "",
            gettext("%(percent)d %% of the readings are reliable")
            % {"percent": int(x.reliable * 100)}
            if x.reliable is not None and not x.silent and x.reliable < 1
            else "",
        ]
        return f"{x.label} ({x.block}): {', '.join(w for w in wrong if w)}"

    def attention(self) -> list[str]:
        s = self.summary
        lines = [f"{x.block}: {word('question', x.kind)}" for x in s.asked]
        for x in s.no_data:
            why = " ".join(word("reason", r) for r in x.reasons)
            lines.append(f"{x.block}: {word('state', 'no_reliable_data')}. {why}".rstrip())
        for h in s.on_hold:
            until = self._moment(h.until)
            lines.append(
                gettext("%(block)s: on hold until %(until)s (%(why)s)")
                % {"block": h.block, "until": until, "why": word("hold", h.hold)}
            )
        lines += [self.instrument(x) for x in s.instruments]
        if s.overdue_tasks:
            lines.append(
                ngettext(
                    "%(count)d instrument has overdue maintenance",
                    "%(count)d instruments have overdue maintenance",
                    s.overdue_tasks,
                )
                % {"count": s.overdue_tasks}
            )
        return lines

    def day(self, x: SummaryDay) -> dict[str, str]:
        return {
            "day": self._day(x.on),
            "et0": self.figures.with_unit(x.et0_mm, "waterDay"),
            "rain": self.figures.with_unit(x.rain_mm, "water"),
            "chance": "" if x.rain_chance is None else f"{x.rain_chance * 100:.0f} %",
        }

    def _day(self, on: date) -> str:
        return date_format(on, "D j F")

    def parts(self) -> dict[str, object]:
        s = self.summary
        return {
            "title": self.title(),
            "farm": s.farm,
            "simulated": s.simulated,
            "day": self.title().removeprefix(f"{s.farm}, "),
            "headline": self.headline(),
            "today": [self.line(x) for x in s.today],
            "totals": [self.total(x) for x in (*s.by_supply, *s.by_irrigator)],
            "next": [self.line(x) for x in s.next],
            "changes": self.changes(),
            "attention": self.attention(),
            "weather": [self.day(x) for x in s.weather],
            "foot": gettext(
                "This is advice, calculated from what was recorded. It does not replace an "
                "agronomist, a licensed trade or a local code; water rights are for local law."
            ),
            "foot_short": foot_of_page(),
        }


def day_and_time(at: datetime) -> str:
    """A moment of the farm's clock as a page is headed with it."""
    return date_format(at, "l j F Y, H:i")


def foot_of_page() -> str:
    """What stands at the foot of each printed page."""
    return gettext(
        "Advice, calculated from what was recorded; local codes and licensed practice take "
        "precedence."
    )


def written(summary: SummaryOut, units: str) -> Written:
    """The summary in a reader's units and the language in force."""
    parts = _Writer(summary, Figures(units)).parts()
    context = {"s": parts, "code": get_language() or "en"}
    return Written(
        title=str(parts["title"]),
        text=_tidy(render_to_string("today/summary.txt", context).splitlines()),
        page=render_to_string("today/summary.html", context),
    )


def _tidy(lines: Sequence[str]) -> str:
    """Without spaces at the ends of lines, and never two empty ones."""
    out: list[str] = []
    for line in (raw.rstrip() for raw in lines):
        if line or (out and out[-1]):
            out.append(line)
    return "\n".join(out).strip() + "\n"
