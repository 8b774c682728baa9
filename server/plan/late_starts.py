"""Sources whose first irrigation is planned too late for the rest of the season."""

from collections.abc import Sequence
from datetime import date, timedelta

from core.plan.network import same_name
from core.plan.over_slots import slot_starts
from server.farms.models import Farm
from server.plan.in_use import current_edit, sheet_in_use
from server.plan.live_sets import live_sets
from server.plan.models import RunSheet
from server.plan.schemas import LateStart
from server.plan.season import StoredSeason
from server.plan.sheet_sets import SheetSet
from server.plan.stored import StoredInputs
from server.water.models import Irrigation

# A latest start further off is no warning yet.
AHEAD = timedelta(days=21)


def late_starts(farm: Farm) -> list[LateStart]:
    """Sources that the sheet in use begins with later than eight of ten years allow; none where
    there is no sheet, or its latest start lies weeks ahead."""
    sheet = sheet_in_use(farm)
    if sheet is None or not _limits(farm, sheet):
        return []
    inputs = StoredInputs.model_validate(sheet.inputs)
    return late_on_sheet(farm, sheet, inputs, live_sets(farm, current_edit(sheet)).sets)


def late_on_sheet(
    farm: Farm, sheet: RunSheet, inputs: StoredInputs, sets: Sequence[SheetSet]
) -> list[LateStart]:
    """The same of a sheet whose inputs and irrigations are at hand."""
    limits = _limits(farm, sheet)
    if not limits or sheet.first_at is None:
        return []
    today = farm.now().date()
    starts = slot_starts(sheet.first_at.astimezone(farm.now().tzinfo))
    out = []
    for name, begin_by in limits:
        own = {b.block_id for b in inputs.blocks if same_name(inputs.sources[b.source].name, name)}
        runs = [starts[s.start].date() for s in sets if s.block_id in own and s.start >= 0]
        first = min([*runs, *_on_record(farm, own, today)], default=None)
        if begin_by is None and first is not None and first <= today:
            # It could not begin sooner.
            continue
        if first is None or begin_by is None or first > begin_by:
            out.append(LateStart(source=name, begin_by=begin_by, first_on=first))
    return out


def _limits(farm: Farm, sheet: RunSheet) -> list[tuple[str, date | None]]:
    """Sources with a latest start that is near; None where every day is too late."""
    if sheet.season is None:
        return []
    until = farm.now().date() + AHEAD
    return [
        (source.name, source.begin_by.on)
        for source in StoredSeason.model_validate(sheet.season).sources
        # A start that is early enough on the last day that was looked at is no limit.
        if source.begin_by is not None
        and not source.begin_by.beyond
        and (source.begin_by.on is None or source.begin_by.on <= until)
    ]


def _on_record(farm: Farm, blocks: set[int], today: date) -> list[date]:
    """Days on which irrigations of some blocks begin or began, from yesterday on."""
    rows = Irrigation.objects.for_farm(farm).filter(block_id__in=blocks)
    rows = rows.exclude(status=Irrigation.Status.CANCELLED)
    since = farm.now() - timedelta(days=1)
    moments = rows.filter(ended_at__gte=since).values_list("started_at", flat=True)
    zone = farm.now().tzinfo
    return [max(at.astimezone(zone).date(), today - timedelta(days=1)) for at in moments]
