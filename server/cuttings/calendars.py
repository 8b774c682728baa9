"""Calendars of cuts and grazings as the core takes them, those of a rotation together."""

from collections.abc import Sequence
from datetime import date, timedelta

from core.advice.gather import AHEAD_DAYS
from core.crop.cutting import CutCalendar
from core.crop.rotation import Paddock, coming
from server.blocks.models import Block, EventKind, SeasonEvent
from server.cuttings.models import CutPlan, cut_plan_of
from server.farms.models import Farm


def _rotation_days(farm: Farm, name: str, today: date) -> dict[int, tuple[date, ...]]:
    """When stock comes next to each paddock of a rotation, by block id."""
    plans = list(
        CutPlan.objects.for_farm(farm).filter(rotation__iexact=name).order_by("place", "pk")
    )
    newest = (
        SeasonEvent.objects.for_farm(farm)
        .filter(kind=EventKind.CUT, on__lte=today, season__block__in=[p.block_id for p in plans])
        .order_by("on")
        .values_list("season__block_id", "on")
    )
    last = dict(newest)
    paddocks = [Paddock(p.taken_days or 1, last.get(p.block_id)) for p in plans]
    days = coming(paddocks, today + timedelta(days=AHEAD_DAYS))
    return {p.block_id: d for p, d in zip(plans, days, strict=True)}


def calendars(farm: Farm, blocks: Sequence[Block], today: date) -> dict[int, CutCalendar]:
    """Calendars by block id; those without one are left out."""
    plans = {b.pk: plan for b in blocks if (plan := cut_plan_of(b))}
    turns: dict[int, tuple[date, ...]] = {}
    for name in {p.rotation.casefold() for p in plans.values() if p.rotation}:
        turns.update(_rotation_days(farm, name, today))
    return {pk: plan.calendar(turns.get(pk, ())) for pk, plan in plans.items()}
