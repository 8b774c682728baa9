"""The morning: advice put on record, summaries sent; and boards kept fresh in between."""

from datetime import date

from django.core.mail import EmailMultiAlternatives
from django.core.mail.backends.base import BaseEmailBackend
from procrastinate.contrib.django import app

from server.accounts.models import User
from server.advice.record import MORNING, record_day
from server.advice.stored import needs_refresh, refresh
from server.base.incident import isolated
from server.farms.models import Farm, Membership
from server.today.alarms_by_mail import send_alarms
from server.today.mailing import Letter, message_id, send_once
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


@app.periodic(cron="* * * * *")
@app.task(name="today.alarms", queueing_lock="today.alarms", lock="today.alarms")
def alarmed(timestamp: int) -> None:
    """Who decides on a farm is told by mail what is wrong with its water, once."""
    for farm in Farm.objects.all():
        with isolated(f"alarms of {farm.slug}"):
            send_alarms(farm)


@app.periodic(cron="* * * * * */5")
@app.task(name="today.freshen", queueing_lock="today.freshen", lock="today.freshen")
def freshen(timestamp: int) -> None:
    """Boards made ready before anyone asks for them."""
    for farm in Farm.objects.all():
        with isolated(f"board of {farm.slug}"):
            if needs_refresh(farm):
                refresh(farm)


def send_mornings(farm: Farm) -> int:
    """Send today's summary to those who asked for it and have not had it; how many."""
    day = farm.now().date()
    members = Membership.objects.filter(farm=farm, morning_mail=True).select_related("user")
    had = MorningSent.objects.filter(farm=farm, day=day).values("user")
    return send_once([_letter(farm, m.user, day) for m in members.exclude(user__in=had)])


def _letter(farm: Farm, reader: User, day: date) -> Letter:
    def note() -> bool:
        return MorningSent.objects.get_or_create(
            farm=farm, user=reader, day=day, defaults={"at": farm.now()}
        )[1]

    def write(mail_server: BaseEmailBackend) -> EmailMultiAlternatives:
        return _mail(farm, reader, day, mail_server)

    return Letter(f"summary for person {reader.pk}", note, write)


def _mail(
    farm: Farm, reader: User, day: date, mail_server: BaseEmailBackend
) -> EmailMultiAlternatives:
    mail = written(summary_of(farm, board_rows(farm)), reader.units)
    message = EmailMultiAlternatives(
        mail.title,
        mail.text,
        to=[reader.email],
        headers={"Message-ID": message_id(f"morning.{farm.pk}.{reader.pk}.{day:%Y%m%d}")},
        connection=mail_server,
    )
    message.attach_alternative(mail.page, "text/html")
    return message
