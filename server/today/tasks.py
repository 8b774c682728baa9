"""The morning: advice put on record, summaries sent; and boards kept fresh in between."""

from django.core.mail import send_mail
from django.db import transaction
from procrastinate.contrib.django import app

from server.advice.record import MORNING, record_day
from server.advice.stored import needs_refresh, refresh
from server.farms.models import Farm, Membership
from server.incident import isolated
from server.today.models import MorningSent
from server.today.rows import summary


@app.periodic(cron="* * * * *")
@app.task(name="today.morning", queueing_lock="today.morning", lock="today.morning")
def morning(timestamp: int) -> None:
    """Each farm whose morning has come gets its advice on record and its mail sent, once."""
    for farm in Farm.objects.all():
        with isolated(f"morning of {farm.slug}"):
            now = farm.now()
            if now.time() >= MORNING:
                record_day(farm, now)
                send_mornings(farm)


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
    sent = 0
    for member in Membership.objects.filter(farm=farm, morning_mail=True).select_related("user"):
        with isolated(f"summary for person {member.user_id}"), transaction.atomic():
            # Two workers at once: the second finds the row and leaves it.
            made = MorningSent.objects.get_or_create(
                farm=farm, user=member.user, day=day, defaults={"at": farm.now()}
            )[1]
            if made:
                text = summary(farm, member.user)
                send_mail(text.split("\n", 1)[0], text, None, [member.user.email])
                sent += 1
    return sent
