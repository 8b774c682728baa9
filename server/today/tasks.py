"""The morning: advice put on record, summaries sent; and boards kept fresh in between."""

from datetime import date
from email.utils import parseaddr

from django.conf import settings
from django.core.mail import EmailMultiAlternatives, get_connection
from django.core.mail.backends.base import BaseEmailBackend
from django.db import transaction
from procrastinate.contrib.django import app

from server.accounts.models import User
from server.advice.record import MORNING, record_day
from server.advice.stored import needs_refresh, refresh
from server.base.incident import isolated
from server.farms.models import Farm, Membership
from server.today.models import MorningSent
from server.today.rows import board_rows
from server.today.summary import summary_of
from server.today.told_by_mail import send_announcements
from server.today.written import written


@app.periodic(cron="* * * * *")
@app.task(name="today.morning", queueing_lock="today.morning", lock="today.morning")
def morning(timestamp: int) -> None:
    """Each farm whose morning has come gets its advice on record and its mail sent, once."""
    awake = []
    for farm in Farm.objects.all():
        with isolated(f"morning of {farm.slug}"):
            now = farm.now()
            if now.time() >= MORNING:
                record_day(farm, now)
                awake.append(farm)
    # A mail server that hangs keeps no farm from its advice.
    for farm in awake:
        with isolated(f"mail of {farm.slug}"):
            send_mornings(farm)


@app.periodic(cron="* * * * *")
@app.task(name="today.announced", queueing_lock="today.announced", lock="today.announced")
def announced(timestamp: int) -> None:
    """Whoever runs a block is told by mail what an announcement changed of it, once."""
    for farm in Farm.objects.all():
        with isolated(f"announcement of {farm.slug}"):
            send_announcements(farm)


@app.periodic(cron="* * * * * */5")
@app.task(name="today.freshen", queueing_lock="today.freshen", lock="today.freshen")
def freshen(timestamp: int) -> None:
    """Boards made ready before anyone asks for them."""
    for farm in Farm.objects.all():
        with isolated(f"board of {farm.slug}"):
            if needs_refresh(farm):
                refresh(farm)


def send_mornings(farm: Farm) -> int:
    """Send today's summary to those who asked for it and have not had it; how many.

    Who was told is noted with the mail, in one transaction: killed in between, the mail goes out
    again with the same Message-ID, by which mail programs know it for the one they have.
    """
    day = farm.now().date()
    members = Membership.objects.filter(farm=farm, morning_mail=True).select_related("user")
    had = MorningSent.objects.filter(farm=farm, day=day).values("user")
    waiting = list(members.exclude(user__in=had))
    if not waiting:
        return 0
    sent = 0
    mail_server = get_connection()
    # When it can't be reached there is nothing that the next one could do about it.
    mail_server.open()
    try:
        for member in waiting:
            with isolated(f"summary for person {member.user_id}"), transaction.atomic():
                # Two workers at once: the second finds the row and leaves it.
                made = MorningSent.objects.get_or_create(
                    farm=farm, user=member.user, day=day, defaults={"at": farm.now()}
                )[1]
                if made:
                    _mail(farm, member.user, day, mail_server).send()
                    sent += 1
    finally:
        mail_server.close()
    return sent


def _mail(
    farm: Farm, reader: User, day: date, mail_server: BaseEmailBackend
) -> EmailMultiAlternatives:
    mail = written(summary_of(farm, board_rows(farm)), reader.units)
    domain = parseaddr(settings.DEFAULT_FROM_EMAIL)[1].rpartition("@")[2]
    message = EmailMultiAlternatives(
        mail.title,
        mail.text,
        to=[reader.email],
        headers={"Message-ID": f"<morning.{farm.pk}.{reader.pk}.{day:%Y%m%d}@{domain}>"},
        connection=mail_server,
    )
    message.attach_alternative(mail.page, "text/html")
    return message
