"""What went wrong with the water, by mail to those who decide: each once."""

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import timedelta

from django.core.mail import EmailMessage
from django.core.mail.backends.base import BaseEmailBackend
from django.utils.formats import date_format
from django.utils.translation import gettext, gettext_noop

from core.valves.flow_check import WHAT_TO_DO, FlowFault
from server.accounts.models import User
from server.base.figures import Figures
from server.farms.models import Farm, Membership
from server.farms.rules import ALLOWED, Action
from server.plan.jobs import AlarmKind, alarms
from server.plan.late_starts import late_starts
from server.plan.schemas import LateStart
from server.today.mailing import Letter, message_id, send_once
from server.today.models import AlarmSent
from server.valves.models import ValveAlarm

# What began longer ago is no news any more.
NEWS = timedelta(days=1)
_VALVE: dict[FlowFault, str] = {
    FlowFault.BURST: gettext_noop("%(valve)s (%(block)s): flow far above what is expected"),
    FlowFault.BLOCKED: gettext_noop("%(valve)s (%(block)s): flow far below what is expected"),
    FlowFault.NOT_OPENED: gettext_noop("%(valve)s (%(block)s): it did not open"),
    FlowFault.LEAK: gettext_noop("%(valve)s (%(block)s): water flows though it is closed"),
}
# What was cut short is planned again by itself, and proposed on the run sheet.
_JOB: dict[AlarmKind, str | None] = {
    AlarmKind.NOT_STARTED: gettext_noop("%(block)s: should have started at %(since)s"),
    AlarmKind.OVERRUN: gettext_noop("%(block)s: should have stopped at %(since)s"),
    AlarmKind.CUT_SHORT: None,
}


@dataclass(frozen=True)
class Told:
    """Something to be told; ``key`` stays the same while it is the same."""

    key: str
    lines: tuple[str, ...]


def send_alarms(farm: Farm) -> int:
    """Mail what is wrong to those who decide and have not had it; how many mails."""
    news = list(_news(farm))
    deciders = Membership.objects.filter(farm=farm, role__in=_deciding()).select_related("user")
    letters = []
    had = set(AlarmSent.objects.filter(farm=farm).values_list("user", "key"))
    for member in deciders:
        own = [told for told in news if (member.user_id, told.key) not in had]
        if own:
            letters.append(_letter(farm, member.user, own))
    return send_once(letters)


def _deciding() -> list[str]:
    return [role for role, actions in ALLOWED.items() if Action.DECIDE in actions]


def _news(farm: Farm) -> Iterator[Told]:
    now = farm.now()
    figures = Figures("metric")
    rows = ValveAlarm.objects.for_farm(farm).filter(
        began_at__gt=now - NEWS, ended_at=None, confirmed_at=None
    )
    for row in rows.select_related("valve__block").order_by("began_at", "pk"):
        fault = FlowFault(row.fault)
        names = {"valve": row.valve.name, "block": row.valve.block.name}
        yield Told(f"valve:{row.pk}", (gettext(_VALVE[fault]) % names, str(WHAT_TO_DO[fault])))
    for alarm in alarms(farm, now):
        words = _JOB[alarm.alarm]
        if words is not None and alarm.since > now - NEWS:
            since = figures.moment(alarm.since, farm.time_zone)
            who = f" ({alarm.irrigator})" if alarm.irrigator else ""
            line = gettext(words) % {"block": alarm.block, "since": since}
            yield Told(f"{alarm.alarm}:{alarm.irrigation_id}", (line + who,))
    for late in late_starts(farm):
        # Once a week while it stays so.
        week = now.date().isocalendar()
        yield Told(f"late start:{late.source}:{week.year}-{week.week}", (_late_words(late),))


def _late_words(late: LateStart) -> str:
    if late.begin_by is None:
        return gettext(
            "%(source)s: it is too late to keep all its blocks above refill in eight of ten years; "
            "begin at once"
        ) % {"source": late.source}
    if late.first_on is None:
        words = gettext("%(source)s: must begin by %(by)s, and nothing is planned from it")
    else:
        words = gettext("%(source)s: must begin by %(by)s, and begins on %(first)s")
    return words % {
        "source": late.source,
        "by": date_format(late.begin_by, "j F"),
        "first": date_format(late.first_on, "j F") if late.first_on else "",
    }


def _letter(farm: Farm, reader: User, news: list[Told]) -> Letter:
    now = farm.now()

    def note() -> bool:
        made = [
            AlarmSent.objects.get_or_create(
                farm=farm, user=reader, key=told.key, defaults={"at": now}
            )[1]
            for told in news
        ]
        return any(made)

    def write(mail_server: BaseEmailBackend) -> EmailMessage:
        title = gettext("%(farm)s: %(what)s") % {
            "farm": farm.name,
            "what": news[0].lines[0],
        }
        lines = [line for told in news for line in (*told.lines, "")]
        return EmailMessage(
            title,
            "\n".join(lines),
            to=[reader.email],
            headers={"Message-ID": message_id(f"alarms.{farm.pk}.{reader.pk}.{now:%Y%m%d%H%M%S}")},
            connection=mail_server,
        )

    return Letter(f"alarms for person {reader.pk}", note, write)
