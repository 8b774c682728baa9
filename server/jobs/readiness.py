"""Whether the service can do its work: what a supervisor or a monitor asks every few seconds."""

import logging
from datetime import timedelta
from typing import Literal, TypedDict

from django.db import DatabaseError, InterfaceError
from django.db.models.functions import Now
from django.http import HttpRequest, JsonResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe
from procrastinate.contrib.django.models import ProcrastinateWorker

from server.advice.record import MORNING, given_on
from server.blocks.loading import blocks_of
from server.farms.models import Farm

log = logging.getLogger(__name__)

# A worker tells that it lives every 10 s; jobs of one silent for longer are taken up by others.
SILENT = timedelta(seconds=30)
# The morning's work starts every minute and takes seconds a farm; later than this, it hangs.
GRACE = timedelta(minutes=30)


class Readiness(TypedDict):
    """What is running; nothing here names a farm or a person, for anybody may ask."""

    database: Literal["ready", "missing"]
    worker: Literal["running", "missing", "unknown"]
    morning: Literal["on time", "late", "unknown"]


@never_cache
@require_safe
def healthz(request: HttpRequest) -> JsonResponse:
    """200 while requests can be answered, 503 while they can't; the body says what is missing."""
    found = readiness()
    return JsonResponse(found, status=200 if found["database"] == "ready" else 503)


def readiness() -> Readiness:
    """Ask the database, and through it whether a worker lives and the mornings are done."""
    try:
        # The clock of the machine, not of a farm: heartbeats are stamped by the database.
        alive = ProcrastinateWorker.objects.filter(last_heartbeat__gt=Now() - SILENT).exists()
        late = any(is_late(farm) for farm in Farm.objects.all())
    except (DatabaseError, InterfaceError):
        log.exception("the database does not answer")
        return {"database": "missing", "worker": "unknown", "morning": "unknown"}
    return {
        "database": "ready",
        "worker": "running" if alive else "missing",
        "morning": "late" if late else "on time",
    }


def is_late(farm: Farm) -> bool:
    """Whether a block of the farm should have its advice of today on record, and has none."""
    now = farm.now()
    if now - now.replace(hour=MORNING.hour, minute=MORNING.minute, second=0) < GRACE:
        return False
    return blocks_of(farm).exclude(pk__in=given_on(farm, now.date())).exists()
