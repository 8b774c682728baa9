"""The demo's change history: an entry for each thing that its people decided, logged and noted."""

from collections.abc import Iterator
from datetime import datetime, timedelta

from server.accounts.models import User
from server.advice.decisions import ENTRY
from server.advice.models import Decision
from server.farms.changes import Done
from server.farms.models import Change, Farm
from server.instruments.models import InstrumentEvent
from server.limits.models import RefillRule
from server.water.models import Hold, Irrigation


def _entry(farm: Farm, done: Done, at: datetime, by: User | None, **about: object) -> Change:
    return Change(farm=farm, done=str(done), at=at, by=by, **about)


def _entries(farm: Farm) -> Iterator[Change]:
    """In no order."""
    for e in InstrumentEvent.objects.for_farm(farm).select_related("instrument", "made_by"):
        about = {"about": e.instrument.label, "block": e.instrument.block_id}
        yield _entry(farm, Done.LOG_ENTRY_ADDED, e.at, e.made_by, **about)
    for r in RefillRule.objects.for_farm(farm).select_related("block", "made_by"):
        rule = {"about": r.block.name, "block": r.block_id, "thing": r.pk}
        yield _entry(farm, Done.REFILL_RULE_SET, r.made_at, r.made_by, **rule)
    decisions = Decision.objects.for_farm(farm).select_related("advice__block", "made_by")
    for d in decisions:
        block = d.advice.block
        decided = {"about": block.name, "block": block.pk, "thing": d.pk}
        yield _entry(farm, ENTRY[Decision.Kind(d.kind)], d.made_at, d.made_by, **decided)
    # What was accepted or adjusted has its entry as such.
    others = Irrigation.objects.for_farm(farm).exclude(pk__in=decisions.values("given"))
    for s in others.select_related("block__irrigator", "made_by"):
        water = {"about": s.block.name, "block": s.block_id, "thing": s.pk}
        if s.status == Irrigation.Status.PLANNED:
            evening = farm.now() - timedelta(hours=10)
            yield _entry(farm, Done.IRRIGATION_SCHEDULED, evening, s.made_by, **water)
        else:
            yield _entry(farm, Done.IRRIGATION_LOGGED, s.ended_at, s.made_by, **water)
    for h in Hold.objects.for_farm(farm).select_related("block", "made_by"):
        held = {"about": h.block.name, "block": h.block_id, "thing": h.pk}
        yield _entry(farm, Done.HOLD_ADDED, h.starts_at - timedelta(hours=8), h.made_by, **held)


def write_history(farm: Farm) -> None:
    """An entry for everything on record, as the acts would have left it."""
    entries = sorted(_entries(farm), key=lambda c: (c.at, c.about))
    Change.unscoped.bulk_create(e for e in entries if e.at <= farm.now())
