"""The run sheet in use, the one proposed beside it, and what either looks like now."""

from server.farms.models import Farm
from server.plan.models import RunSheet, SheetEdit, SheetStatus


def sheet_in_use(farm: Farm) -> RunSheet | None:
    """The run sheet that was taken last; None before there is any."""
    rows = RunSheet.objects.for_farm(farm).filter(status=SheetStatus.READY, taken_at__isnull=False)
    return rows.order_by("-taken_at", "-pk").first()


def sheet_proposed(farm: Farm, used: RunSheet | None) -> RunSheet | None:
    """The newest plan that nobody took yet, asked for after the one in use."""
    rows = RunSheet.objects.for_farm(farm).filter(status=SheetStatus.READY, taken_at=None)
    if used is not None:
        rows = rows.filter(pk__gt=used.pk)
    return rows.order_by("-pk").first()


def newest_asked(farm: Farm) -> RunSheet | None:
    """The plan that was asked for last, whatever became of it; without its inputs."""
    return RunSheet.objects.for_farm(farm).defer("inputs").order_by("-pk").first()


def current_edit(sheet: RunSheet) -> SheetEdit:
    """A ready sheet as the last act left it that was not undone; the plan itself never is."""
    rows = SheetEdit.unscoped.filter(sheet=sheet, undone_at=None)
    row: SheetEdit = rows.latest("number")
    return row
