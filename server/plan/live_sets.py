"""A run sheet's irrigations beside what became of them on record."""

from dataclasses import dataclass

from server.farms.models import Farm
from server.plan.models import SheetEdit
from server.plan.schemas import SetStatus
from server.plan.sheet_sets import SheetSet, read_sets
from server.water.models import Irrigation

Status = Irrigation.Status
_BECAME: dict[str, SetStatus] = {
    Status.PLANNED: SetStatus.ANNOUNCED,
    Status.RUNNING: SetStatus.RUNNING,
    Status.DONE: SetStatus.DONE,
}


@dataclass(frozen=True)
class LiveSets:
    """Irrigations of a sheet, those left out that were cancelled since they were announced.

    on_record : those that were announced, by their number
    """

    sets: list[SheetSet]
    on_record: dict[int, Irrigation]

    def status(self, one: SheetSet) -> SetStatus:
        """How far one is."""
        row = self.on_record.get(one.irrigation_id or 0)
        return SetStatus.DRAFT if row is None else _BECAME[row.status]

    @property
    def begun(self) -> set[int]:
        """Those that run or did, by their number within the sheet: nobody moves them any more."""
        over = (SetStatus.RUNNING, SetStatus.DONE)
        return {s.id for s in self.sets if self.status(s) in over}


def live_sets(farm: Farm, edit: SheetEdit) -> LiveSets:
    """The irrigations of a sheet as an edit left them."""
    sets = read_sets(edit.sets)
    ids = [s.irrigation_id for s in sets if s.irrigation_id is not None]
    rows = Irrigation.objects.for_farm(farm).filter(pk__in=ids).exclude(status=Status.CANCELLED)
    found = {row.pk: row for row in rows}
    kept = [s for s in sets if s.irrigation_id is None or s.irrigation_id in found]
    return LiveSets(kept, found)
