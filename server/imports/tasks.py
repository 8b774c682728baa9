"""Imports in the job queue: one step of one import at a time, taken up again after a crash."""

from procrastinate.contrib.django import app

from server.imports import running


@app.task(name="imports.check", queue="imports")
def check(import_id: int) -> None:
    running.run_check(import_id)


@app.task(name="imports.store", queue="imports")
def store(import_id: int) -> None:
    running.run_store(import_id)


@app.task(name="imports.undo", queue="imports")
def undo(import_id: int, user_id: int) -> None:
    running.run_undo(import_id, user_id)


def lock_of(import_id: int) -> str:
    """Jobs with the same lock run one after the other."""
    return f"import-{import_id}"
