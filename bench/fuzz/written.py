"""What the inputs left behind in the database."""

import time
from collections import Counter
from datetime import timedelta

from django.apps import apps
from django.db import connection

from bench.fuzz.asker import Found
from bench.fuzz.farm import SLUG
from server.advice.record import record_day
from server.advice.stored import refresh
from server.farms.models import Farm
from server.imports.models import BUSY, FileImport
from server.today.tasks import send_mornings

SETTLED_S = 600.0
# Written by asking alone: what is kept of answers, tries to sign in, jobs.
BY_ASKING = ("advice_", "django_", "procrastinate_", "accounts_", "readings_reading_")


def rows_written() -> dict[str, int]:
    """Rows of every table that asking alone does not write."""
    tables = sorted(
        t
        for t in (m._meta.db_table for m in apps.get_models())
        if not t.startswith(BY_ASKING) and t != "readings_reading"
    )
    query = ", ".join(f'(SELECT count(*) FROM "{t}")' for t in tables)  # noqa: S608
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT {query}")
        return dict(zip(tables, cursor.fetchone(), strict=True))


def settled(found: Found) -> int:
    """Files still under way when all had time enough; what is wrong of the rest is told."""
    until = time.monotonic() + SETTLED_S
    while time.monotonic() < until:
        left: int = FileImport.unscoped.filter(state__in=BUSY).count()
        if not left:
            break
        time.sleep(1)
    for row in FileImport.unscoped.filter(problem__contains="incident"):
        found.broke.append(f"file {row.pk} {row.file_name}: {row.problem}")
    states = Counter(FileImport.unscoped.values_list("state", flat=True))
    print("files:", dict(states))
    return left


def torn_batches(since: int) -> list[str]:
    """Batches whose readings are not those that they say they brought."""
    query = """
        SELECT b.id, b.new, b.changed, count(r.batch_id) FROM readings_readingbatch b
        LEFT JOIN readings_reading r ON r.batch_id = b.id
        WHERE b.id > %s GROUP BY b.id HAVING count(r.batch_id) > b.new + b.changed
    """
    with connection.cursor() as cursor:
        cursor.execute(query, [since])
        return [f"batch {row}" for row in cursor.fetchall()]


def morning_comes() -> None:
    """The morning, over all that was let in; what goes wrong with a block is an incident."""
    farm = Farm.objects.get(slug=SLUG)
    refresh(farm)
    record_day(farm, farm.now() + timedelta(days=1))
    send_mornings(farm)
