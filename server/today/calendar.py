"""Planned sets as an iCalendar feed, behind a private address for each person."""

from datetime import UTC, timedelta

from django.db import transaction
from django.utils.translation import gettext, gettext_noop
from icalendar import Calendar, Event

from core.sentence import sentence
from server.accounts.models import User
from server.base import tokens
from server.base.errors import NotFound
from server.base.figures import Figures
from server.farms.access import Access
from server.farms.models import Farm, Membership
from server.plan.jobs import of_reader
from server.today.models import CalendarToken
from server.water.models import Irrigation

BACK = timedelta(days=14)
STATUS = {
    Irrigation.Status.PLANNED: "TENTATIVE",
    Irrigation.Status.RUNNING: "CONFIRMED",
    Irrigation.Status.DONE: "CONFIRMED",
    Irrigation.Status.CANCELLED: "CANCELLED",
}
# In the words of the log.
STATUS_WORDS = {
    Irrigation.Status.PLANNED: gettext_noop("Scheduled"),
    Irrigation.Status.RUNNING: gettext_noop("Running"),
    Irrigation.Status.DONE: gettext_noop("Done"),
    Irrigation.Status.CANCELLED: gettext_noop("Cancelled"),
}


@transaction.atomic
def new_token(access: Access) -> str:
    """A new private address; the one before it stops working. Told once, kept as a hash."""
    token = tokens.new_token()
    CalendarToken.objects.filter(farm=access.farm, user=access.user).delete()
    CalendarToken(
        farm=access.farm,
        user=access.user,
        hashed=tokens.token_hash(token),
        made_at=access.now(),
    ).save()
    return token


def revoke_token(access: Access) -> None:
    """The address stops working."""
    CalendarToken.objects.filter(farm=access.farm, user=access.user).delete()


def has_token(access: Access) -> bool:
    return CalendarToken.objects.filter(farm=access.farm, user=access.user).exists()


def feed_of(token: str) -> bytes:
    """The calendar behind a token.

    Raises
    ------
    NotFound
        Also when its person left the farm.
    """
    row = (
        CalendarToken.objects.filter(hashed=tokens.token_hash(token))
        .select_related("farm", "user")
        .first()
    )
    member = row and Membership.objects.filter(farm=row.farm, user=row.user).exists()
    if row is None or not member:
        raise NotFound(
            sentence("There is no such calendar. Create a new address in the application.")
        )
    return feed(row.farm, row.user)


def feed(farm: Farm, reader: User) -> bytes:
    """Irrigations planned, running and lately done that concern a person, as events in UTC."""
    shown = Figures(reader.units)
    calendar = Calendar()
    calendar.add("prodid", "-//Even Furrow//sets//EN")
    calendar.add("version", "2.0")
    name = gettext("Irrigation, %(farm)s") % {"farm": farm.name}
    if farm.simulated:
        name += " " + gettext("(simulated)")
    calendar.add("x-wr-calname", name)
    rows = (
        Irrigation.objects.for_farm(farm)
        .filter(ended_at__gt=farm.now() - BACK)
        .select_related("block")
        .defer("block__outline")
        .order_by("started_at", "pk")
    )
    role = Membership.objects.get(farm=farm, user=reader).role
    for row in of_reader(rows, role, reader, "block__"):
        event = Event()
        event.add("uid", f"set-{row.pk}@{farm.slug}.even-furrow")
        event.add("dtstamp", farm.now().astimezone(UTC))
        event.add("dtstart", row.started_at)
        event.add("dtend", row.ended_at)
        event.add("summary", f"{row.block.name}: {shown.water(row.gross_mm)}")
        event.add("status", STATUS[Irrigation.Status(row.status)])
        run = shown.running_time((row.ended_at - row.started_at).total_seconds() / 3600)
        status = gettext(STATUS_WORDS[Irrigation.Status(row.status)])
        event.add("description", f"{status}, {run}. {row.note}".strip())
        calendar.add_component(event)
    made: bytes = calendar.to_ical()
    return made
