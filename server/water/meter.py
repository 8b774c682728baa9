"""One meter in front of several blocks: what it counted is spread over what was watered."""

from collections.abc import Iterable, Sequence
from uuid import UUID

from django.db.models import Count

from core.units import water_depth_mm
from server.water.models import Irrigation

Meter = tuple[UUID | None, float | None, float | None]


def meter_of(row: Irrigation) -> Meter:
    """What irrigations on one meter have in common: the act that logged them, and its readings."""
    return row.together, row.meter_start_m3, row.meter_end_m3


def count_by_meter(rows: Iterable[Irrigation]) -> dict[Meter, int]:
    """How many irrigations each meter of these counted together."""
    together = {r.together for r in rows if r.together is not None}
    shared = Irrigation.unscoped.filter(together__in=together, meter_start_m3__isnull=False)
    counts = (
        shared.exclude(status=Irrigation.Status.CANCELLED)
        .order_by()
        .values_list("together", "meter_start_m3", "meter_end_m3")
        .annotate(Count("pk"))
    )
    return {(act, first, last): count for act, first, last, count in counts}


def beside_on_meter(row: Irrigation) -> list[Irrigation]:
    """The other irrigations whose water the same meter counts, from the same reading on."""
    if row.together is None or row.meter_start_m3 is None:
        return []
    same = Irrigation.objects.for_farm(row.block.farm).filter(
        together=row.together,
        meter_start_m3=row.meter_start_m3,
        meter_end_m3=row.meter_end_m3,
    )
    others = same.exclude(pk=row.pk).exclude(status=Irrigation.Status.CANCELLED)
    return list(others.select_related("block__farm").order_by("pk"))


def watered_m2(rows: Sequence[Irrigation]) -> float:
    """Area of the parts of blocks that were watered."""
    return sum(r.block.area_m2 * r.share for r in rows)


def spread_meter(rows: Sequence[Irrigation], depth_mm: float | None = None) -> None:
    """Spread what a meter counted over the parts of blocks that were watered.

    ``depth_mm`` on those parts; none: what the meter's own readings come to over just these.
    """
    if not rows:
        return
    first, last = rows[0].meter_start_m3, rows[0].meter_end_m3
    if depth_mm is None and first is not None and last is not None:
        depth_mm = water_depth_mm(last - first, watered_m2(rows))
    if depth_mm is None:
        return
    for row in rows:
        row.gross_mm, row.amount_from = depth_mm * row.share, Irrigation.AmountFrom.METER
        row.save()
