"""Plans in the job queue."""

from django.db import transaction
from procrastinate.contrib.django import app
from procrastinate.exceptions import AlreadyEnqueued

from server.base.incident import isolated
from server.plan.making import make_sheet
from server.plan.models import RunSheet


@app.task(name="plan.make")
def make(sheet_id: int) -> None:
    """Work out a run sheet that was asked for."""
    make_sheet(sheet_id)


def queue_plan(sheet: RunSheet) -> None:
    """Have a worker make a plan, when what is under way is committed."""
    task = make.configure(queueing_lock=f"plan-{sheet.pk}", lock=f"plan-of-{sheet.farm_id}")
    try:
        with transaction.atomic():
            task.defer(sheet_id=sheet.pk)
    except AlreadyEnqueued:
        pass  # it looks at the sheet when its turn comes


@app.periodic(cron="*/2 * * * *")
@app.task(name="plan.take_up", queueing_lock="plan.take_up")
def take_up(timestamp: int) -> None:
    """Queue again what nobody works on: its worker died, or lost the database."""
    for sheet in RunSheet.unscoped.filter(status=RunSheet.Status.WAITING).only("pk", "farm_id"):
        with isolated(f"taking up run sheet {sheet.pk}"):
            queue_plan(sheet)
