"""Imports in the job queue: a step that lost its worker is queued again.

The state of an import says what is to be done, and the queue only when.
"""

from procrastinate.contrib.django import app

from server.base.hold import held
from server.base.incident import isolated
from server.base.turns import SOMEBODY_WAITS, queue_once
from server.imports import running
from server.imports.models import BUSY, FileImport
from server.imports.tidy import drop_forgotten


@app.task(name="imports.step", queue="imports", priority=SOMEBODY_WAITS)
def step(import_id: int) -> None:
    """Do what an import's state asks for."""
    running.run_step(import_id)


def queue_step(row: FileImport) -> None:
    """Have a worker do an import's step, when what is under way is committed."""
    queue_once(step.configure(queueing_lock=f"import-{row.pk}"), import_id=row.pk)


@app.periodic(cron="* * * * * */5")
@app.task(name="imports.take_up", queueing_lock="imports.take_up", queue="imports")
def take_up(timestamp: int) -> None:
    """Queue again what nobody works on: its worker died, or lost the database."""
    for row in FileImport.unscoped.filter(state__in=BUSY).only("pk", "state"):
        with isolated(f"taking up import {row.pk}"), held(f"import-{row.pk}") as free:
            if free:
                queue_step(row)


@app.periodic(cron="20 3 * * *")
@app.task(name="imports.tidy", queueing_lock="imports.tidy", queue="imports")
def tidy(timestamp: int) -> None:
    """Let go of files that nobody stored."""
    drop_forgotten()
