"""Layer files in the job queue: a step that lost its worker is queued again."""

from procrastinate.contrib.django import app

from server.base.hold import held
from server.base.incident import isolated
from server.base.turns import SOMEBODY_WAITS, queue_once
from server.siting.layer_files import running
from server.siting.models import AT_WORK, LayerFile


@app.task(name="siting.step", queue="imports", priority=SOMEBODY_WAITS)
def step(file_id: int) -> None:
    """Do what a file's state asks for."""
    running.run_step(file_id)


def queue_step(row: LayerFile) -> None:
    """Have a worker do a file's step, when what is under way is committed."""
    queue_once(step.configure(queueing_lock=f"layer-file-{row.pk}"), file_id=row.pk)


@app.periodic(cron="* * * * * */5")
@app.task(name="siting.take_up", queueing_lock="siting.take_up", queue="imports")
def take_up(timestamp: int) -> None:
    """Queue again what nobody works on: its worker died, or lost the database."""
    for row in LayerFile.unscoped.filter(state__in=AT_WORK).only("pk", "state"):
        with isolated(f"taking up layer file {row.pk}"), held(f"layer-file-{row.pk}") as free:
            if free:
                queue_step(row)
