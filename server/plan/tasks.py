"""Plans in the job queue."""

from procrastinate.contrib.django import app

from server.advice.record import MORNING
from server.base.incident import isolated
from server.base.turns import SOMEBODY_WAITS, queue_once
from server.farms.models import Farm
from server.plan.clock import midnight_before
from server.plan.in_use import sheet_in_use
from server.plan.making import make_sheet
from server.plan.models import RunSheet, SheetStatus


@app.task(name="plan.make", priority=SOMEBODY_WAITS)
def make(sheet_id: int) -> None:
    """Work out a run sheet that was asked for."""
    make_sheet(sheet_id)


def queue_plan(sheet: RunSheet) -> None:
    """Have a worker make a plan, when what is under way is committed."""
    task = make.configure(queueing_lock=f"plan-{sheet.pk}", lock=f"plan-of-{sheet.farm_id}")
    queue_once(task, sheet_id=sheet.pk)


@app.periodic(cron="*/2 * * * *")
@app.task(name="plan.take_up", queueing_lock="plan.take_up")
def take_up(timestamp: int) -> None:
    """Queue again what nobody works on: its worker died, or lost the database."""
    for sheet in RunSheet.unscoped.filter(status=SheetStatus.WAITING).only("pk", "farm_id"):
        with isolated(f"taking up run sheet {sheet.pk}"):
            queue_plan(sheet)


@app.periodic(cron="*/10 * * * *")
@app.task(name="plan.each_morning", queueing_lock="plan.each_morning")
def each_morning(timestamp: int) -> None:
    """A new plan is proposed each morning where a run sheet is in use."""
    for farm in Farm.objects.all():
        with isolated(f"plan of {farm.slug}"):
            propose_for_today(farm)


def propose_for_today(farm: Farm) -> RunSheet | None:
    """Ask for today's plan, once, after the morning has come; None where there is nothing to do."""
    now = farm.now()
    midnight = midnight_before(now)
    used = sheet_in_use(farm)
    if now.time() < MORNING or used is None or used.first_at is None or used.first_at >= midnight:
        return None
    if RunSheet.objects.for_farm(farm).filter(asked_at__gte=midnight).exists():
        return None
    sheet = RunSheet(farm=farm, asked_at=now)
    sheet.save()
    queue_plan(sheet)
    return sheet
