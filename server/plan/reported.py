"""What was reported from the field, as the log tells it."""

from datetime import datetime, timedelta

from server.base.schema import Schema
from server.farms.access import Access
from server.plan.models import FieldPhoto, FieldReport, ReportKind, StopReason


class FieldReportOut(Schema):
    """A report that was taken; meter [m3], pressure [kPa], ``why`` null for a start. ``photo_id``
    is null where no picture came with it."""

    irrigation_id: int
    kind: ReportKind
    at: datetime
    meter_m3: float | None
    pressure_kpa: float | None
    why: StopReason | None
    note: str
    made_by: str | None
    photo_id: int | None


def field_reports(access: Access, days: int) -> list[FieldReportOut]:
    """Reports of so many days, in the order in which it happened."""
    since = access.now() - timedelta(days=days)
    rows = FieldReport.objects.for_farm(access.farm).filter(at__gte=since)
    found = list(rows.select_related("made_by").order_by("at", "pk"))
    photos = dict(
        FieldPhoto.objects.for_farm(access.farm)
        .filter(key__in=[r.key for r in found])
        .values_list("key", "pk")
    )
    return [
        FieldReportOut(
            irrigation_id=r.irrigation_id,
            kind=ReportKind(r.kind),
            at=r.at,
            meter_m3=r.meter_m3,
            pressure_kpa=r.pressure_kpa,
            why=StopReason(r.why) if r.why else None,
            note=r.note,
            made_by=r.made_by.name if r.made_by else None,
            photo_id=photos.get(r.key),
        )
        for r in found
    ]
