"""What an announcement changed, by mail to who runs it: each irrigator has his own blocks' part."""

from collections import defaultdict
from datetime import timedelta

from django.core.mail import EmailMessage
from django.core.mail.backends.base import BaseEmailBackend
from django.utils.translation import gettext, gettext_noop

from server.accounts.models import User
from server.base.figures import Figures
from server.blocks.models import Block
from server.farms.models import Farm, Membership
from server.plan.models import Announcement
from server.plan.schemas import SetChange, SetChangeOut
from server.today.mailing import Letter, message_id, send_once
from server.today.models import AnnouncementSent

# One that nobody was told of for so long is no news any more.
NEWS = timedelta(days=1)
_WORDS: dict[SetChange, str] = {
    SetChange.NEW: gettext_noop("%(block)s: new, %(to)s, %(hours)s"),
    SetChange.MOVED: gettext_noop("%(block)s: moved from %(from)s to %(to)s, %(hours)s"),
    SetChange.RESIZED: gettext_noop("%(block)s: %(to)s, now %(hours)s"),
    SetChange.REMOVED: gettext_noop("%(block)s: cancelled, was %(from)s"),
}


def send_announcements(farm: Farm) -> int:
    """Mail what the newest announcement changed to those it concerns who have not had it; how
    many."""
    row = (
        Announcement.objects.for_farm(farm)
        .filter(made_at__gt=farm.now() - NEWS)
        .order_by("-number")
        .first()
    )
    if row is None:
        return 0
    had = set(AnnouncementSent.objects.filter(announcement=row).values_list("user", flat=True))
    parts = _by_irrigator(farm, row)
    return send_once([_letter(farm, row, u, c) for u, c in parts.items() if u.pk not in had])


def _letter(farm: Farm, row: Announcement, reader: User, changes: list[SetChangeOut]) -> Letter:
    def note() -> bool:
        return AnnouncementSent.objects.get_or_create(
            announcement=row, user=reader, defaults={"at": farm.now()}
        )[1]

    def write(mail_server: BaseEmailBackend) -> EmailMessage:
        return _mail(farm, row, reader, changes, mail_server)

    return Letter(f"announcement for person {reader.pk}", note, write)


def _by_irrigator(farm: Farm, row: Announcement) -> dict[User, list[SetChangeOut]]:
    """What it changed of each irrigator's blocks, of those who still belong to the farm."""
    changes = [SetChangeOut.model_validate(c) for c in row.changes]
    blocks = Block.objects.for_farm(farm).filter(pk__in=[c.block_id for c in changes])
    of = {b.pk: b.irrigator for b in blocks.select_related("irrigator") if b.irrigator}
    members = set(Membership.objects.filter(farm=farm).values_list("user", flat=True))
    out: dict[User, list[SetChangeOut]] = defaultdict(list)
    for change in changes:
        reader = of.get(change.block_id)
        if reader is not None and reader.pk in members:
            out[reader].append(change)
    return out


def _mail(
    farm: Farm,
    row: Announcement,
    reader: User,
    changes: list[SetChangeOut],
    mail_server: BaseEmailBackend,
) -> EmailMessage:
    figures = Figures(reader.units)
    lines = [_line(farm, change, figures) for change in changes]
    title = gettext("%(farm)s: run sheet %(number)d announced") % {
        "farm": farm.name,
        "number": row.number,
    }
    return EmailMessage(
        title,
        "\n".join([title, "", *lines, ""]),
        to=[reader.email],
        headers={"Message-ID": message_id(f"announced.{row.pk}.{reader.pk}")},
        connection=mail_server,
    )


def _line(farm: Farm, change: SetChangeOut, figures: Figures) -> str:
    return gettext(_WORDS[change.change]) % {
        "block": change.block,
        "from": figures.moment(change.from_at, farm.time_zone),
        "to": figures.moment(change.to_at, farm.time_zone),
        "hours": figures.running_time(change.to_hours or 0.0),
    }
