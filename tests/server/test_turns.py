"""What a person waits for is taken up before what is done by the clock."""

from django.db import connection

from server.farms.models import Farm
from server.plan.models import RunSheet
from server.plan.tasks import queue_plan
from server.today.tasks import freshen, morning


def taken_up() -> str:
    """The task a worker is given next, by the queue's own function."""
    with connection.cursor() as cursor:
        cursor.execute("INSERT INTO procrastinate_workers DEFAULT VALUES RETURNING id")
        (worker,) = cursor.fetchone()
        cursor.execute("SELECT task_name FROM procrastinate_fetch_job_v2(NULL, %s)", [worker])
        return cursor.fetchone()[0]


def test_a_plan_somebody_asked_for_goes_first(farm: Farm) -> None:
    morning.defer(timestamp=0)
    freshen.defer(timestamp=0)
    sheet = RunSheet(farm=farm, asked_at=farm.now())
    sheet.save()
    queue_plan(sheet)
    assert [taken_up() for _ in range(3)] == ["plan.make", "today.morning", "today.freshen"]
