"""What an announcement changed, by mail to who runs it: each irrigator has his own blocks' part."""

from collections import defaultdict
from datetime import timedelta
from email.utils import parseaddr

from django.conf import settings
from django.core.mail import EmailMessage, get_connection
from django.core.mail.backends.base import BaseEmailBackend
from django.db import transaction
from django.utils.translation import gettext, gettext_noop

from server.accounts.models import User
from server.base.figures import Figures
from server.base.incident import isolated
from server.blocks.models import Block
from server.farms.models import Farm, Membership
from server.plan.models import Announcement
from server.plan.schemas import SetChange, SetChangeOut
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
    many. The same mail goes out again only where a worker was killed in between."""
    row = (
        Announcement.objects.for_farm(farm)
        .filter(made_at__gt=farm.now() - NEWS)
        .order_by("-number")
        .first()
    )
    if row is None:
        return 0
    had = set(AnnouncementSent.objects.filter(announcement=row).values_list("user", flat=True))
    waiting = {u: c for u, c in _by_irrigator(farm, row).items() if u.pk not in had}
    if not waiting:
        return 0
    sent = 0
    mail_server = get_connection()
    mail_server.open()
    try:
        for reader, changes in waiting.items():
            with isolated(f"announcement for person {reader.pk}"), transaction.atomic():
                made = AnnouncementSent.objects.get_or_create(
                    announcement=row, user=reader, defaults={"at": farm.now()}
                )[1]
                if made:
                    _mail(farm, row, reader, changes, mail_server).send()
                    sent += 1
    finally:
        mail_server.close()
    return sent


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
    domain = parseaddr(settings.DEFAULT_FROM_EMAIL)[1].rpartition("@")[2]
    title = gettext("%(farm)s: run sheet %(number)d announced") % {
        "farm": farm.name,
        "number": row.number,
    }
    return EmailMessage(
        title,
        "\n".join([title, "", *lines, ""]),
        to=[reader.email],
        headers={"Message-ID": f"<announced.{row.pk}.{reader.pk}@{domain}>"},
        connection=mail_server,
    )


def _line(farm: Farm, change: SetChangeOut, figures: Figures) -> str:
    return gettext(_WORDS[change.change]) % {
        "block": change.block,
        "from": figures.moment(change.from_at, farm.time_zone),
        "to": figures.moment(change.to_at, farm.time_zone),
        "hours": figures.running_time(change.to_hours or 0.0),
    }
