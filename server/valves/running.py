"""What valves ran becomes the irrigation log, without being typed again.

An irrigation begins with the first of its block's valves and ends with the last; its water is what
they all let through, or the block's own rate over the hours where one has no meter.
"""

from datetime import timedelta

from django.db import transaction

from server.base.errors import RequestError
from server.base.incident import NOBODYS, record_incident
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.models import Farm, Role
from server.valves.models import ValveRun
from server.water.models import Irrigation
from server.water.sets import SetFigures, add_sets, correct_set, start_set

Status = Irrigation.Status
# A run shorter than this leaves a log entry as long as this: it has to end after it starts.
SHORTEST = timedelta(seconds=1)
SECONDS_PER_HOUR = 3600


def log_runs(farm: Farm) -> None:
    """Log every run that is not logged yet; one that can't be keeps no other from it, and is not
    tried for ever."""
    for run in _unlogged(farm):
        try:
            with transaction.atomic():
                _log(farm, run)
        except RequestError:
            # The log has it otherwise by now: a person's word stands.
            ValveRun.unscoped.filter(pk=run.pk).update(logged=True)
        except NOBODYS:
            raise
        except Exception:
            record_incident(f"valve run {run.pk} into the log")
            ValveRun.unscoped.filter(pk=run.pk).update(logged=True)


def _unlogged(farm: Farm) -> list[ValveRun]:
    rows = ValveRun.objects.for_farm(farm).filter(logged=False, valve__block__isnull=False)
    rows = rows.exclude(irrigation__isnull=False, closed_at=None)
    return list(rows.select_related("valve__block", "command__asked_by", "command__irrigation"))


def _log(farm: Farm, run: ValveRun) -> None:
    who, block = run.command.asked_by, run.valve.block
    if who is None or block is None:
        return
    # He was permitted to open it when he did.
    access = Access(who, farm, Role.IRRIGATOR)
    if run.irrigation is None:
        run.irrigation = _begin(access, run, block)
        run.save(update_fields=["irrigation"])
    if run.closed_at is not None:
        _finish(access, run, run.irrigation)
        run.logged = True
        run.save(update_fields=["logged"])


def _begin(access: Access, run: ValveRun, block: Block) -> Irrigation:
    """The irrigation that a run is part of: scheduled, running already, or new."""
    meant = run.command.irrigation
    if meant is not None and meant.status == Status.PLANNED:
        return start_set(access, meant.pk, run.opened_at)
    rows = Irrigation.objects.for_farm(access.farm).filter(block=block)
    running = rows.filter(status=Status.RUNNING).order_by("-started_at").first()
    if running is not None:
        return running
    hours = (run.command.run_s or 0.0) / SECONDS_PER_HOUR
    figures = SetFigures(status=Status.RUNNING, started_at=run.opened_at, hours=hours)
    return add_sets(access, [block.pk], figures)[0]


def _finish(access: Access, run: ValveRun, irrigation: Irrigation) -> None:
    """End the irrigation with the last of its valves."""
    runs = [*ValveRun.unscoped.filter(irrigation=irrigation).exclude(pk=run.pk), run]
    irrigation.refresh_from_db()
    if any(r.closed_at is None for r in runs) or irrigation.status != Status.RUNNING:
        return
    volumes = [r.volume_m3 for r in runs]
    metered = None if None in volumes else sum(v for v in volumes if v is not None)
    last = max(r.closed_at for r in runs if r.closed_at is not None)
    figures = SetFigures(
        status=Status.DONE,
        started_at=irrigation.started_at,
        ended_at=max(last, irrigation.started_at + SHORTEST),
        meter_start_m3=0.0 if metered else None,
        meter_end_m3=metered or None,
        share=irrigation.share,
        place_from=irrigation.place_from,
        place_to=irrigation.place_to,
        note=irrigation.note,
    )
    correct_set(access, irrigation.pk, figures)
