"""What was advised on past mornings of the demo, what its manager made of it, what is planned."""

from datetime import datetime, time, timedelta
from zoneinfo import ZoneInfo

from core.advice.vocabulary import State
from server.accounts.demo_people import PEOPLE
from server.accounts.models import User
from server.advice.models import Advice, Decision
from server.advice.record import record_day
from server.blocks.models import Block
from server.demo.farm import NOW, ZONE
from server.farms.models import Farm, Role
from server.water.equipment import block_system
from server.water.models import Hold, Irrigation

MORNINGS = 12
SAID_AT = time(6, 30)
WANTS = frozenset({str(s) for s in (State.BELOW_REFILL, State.IRRIGATE_NOW)})
# Block: supply, who waters it.
CARE = {
    "Alder Reach": ("North bore", Role.IRRIGATOR),
    "Long Tye": ("River pump", Role.IRRIGATOR),
    "Quern Field": ("North bore", Role.IRRIGATOR),
    "Sallow Bank": ("Head ditch", Role.MANAGER),
    "Upper Hanger": ("Hill tank", Role.IRRIGATOR),
    "Wick Terrace": ("Hill tank", Role.MANAGER),
    "Marl Pit": ("River pump", Role.IRRIGATOR),
    "Low Ings": ("River pump", Role.MANAGER),
    "Gorse Piece": ("North bore", Role.IRRIGATOR),
    "Tarn Breck": ("River pump", Role.MANAGER),
    "Reed Carr": ("Carr sluice", Role.IRRIGATOR),
    "Osier Carr": ("Carr sluice", Role.IRRIGATOR),
}
# Block, from and to in days from the demo's midnight, why, note.
HOLD = ("Sallow Bank", 0.25, 3.5, "cutting", "third cut, baled by Friday noon")
PLANNED = ("Long Tye", 2, time(6), 24.0)
DECLINED = (
    (Decision.Why.NO_HANDS, "two men short"),
    (Decision.Why.FIELD_WORK, "hoeing first"),
    (Decision.Why.WIND, "gusting over the solid set"),
    (Decision.Why.LOOKS_WET, "dug at the gate, still moist at a spade's depth"),
)


def _midnight(days: float) -> datetime:
    start = datetime.combine(NOW.date(), time(), tzinfo=ZoneInfo(ZONE))
    return start + timedelta(days=days)


def give_care(blocks: dict[str, Block]) -> None:
    """Whose water each block gets, and who gives it."""
    for name, (supply, role) in CARE.items():
        block = blocks[name]
        block.supply = supply
        block.irrigator = User.objects.get(email=PEOPLE[role][1])
        block.save()


def _decide(advice: Advice, given: Irrigation | None, manager: User, turn: int) -> None:
    made_at_morning = _midnight((advice.day - NOW.date()).days).replace(
        hour=SAID_AT.hour, minute=SAID_AT.minute
    )
    why = ""
    if given is None:
        why, reason = DECLINED[turn % len(DECLINED)]
        kind = Decision.Kind.DECLINED
    else:
        wanted = advice.gross_mm or 0.0
        close = advice.state in WANTS and abs(given.gross_mm - wanted) < 0.25 * wanted
        kind = Decision.Kind.ACCEPTED if close else Decision.Kind.CHANGED
        reason = "" if close else "as the rota has it"
    Decision(
        advice=advice,
        kind=kind,
        why=why,
        reason=reason,
        shown=advice.answer,
        made_at=made_at_morning,
        made_by=manager,
        given=given,
    ).save()


def decide_the_past(farm: Farm) -> None:
    """Advice of the past mornings and of today on record, with what was decided on them."""
    for back in range(MORNINGS, -1, -1):
        at = NOW - timedelta(days=back) if back else NOW
        record_day(farm, at, as_known_then=back > 0)
    manager = User.objects.get(email=PEOPLE[Role.MANAGER][1])
    sets: dict[tuple[int, object], Irrigation] = {}
    for row in Irrigation.objects.for_farm(farm).order_by("started_at"):
        day = row.started_at.astimezone(ZoneInfo(ZONE)).date()
        sets.setdefault((row.block_id, day), row)
    turn = 0
    for advice in Advice.objects.for_farm(farm).filter(day__lt=NOW.date()).order_by("day", "block"):
        given = sets.get((advice.block_id, advice.day))
        if given is not None or advice.state in WANTS:
            _decide(advice, given, manager, turn)
            turn += given is None


def plan_ahead(blocks: dict[str, Block]) -> None:
    """A hold for the hay, and a set planned for tomorrow."""
    manager = User.objects.get(email=PEOPLE[Role.MANAGER][1])
    name, first, last, kind, note = HOLD
    Hold(
        block=blocks[name],
        kind=kind,
        starts_at=_midnight(first),
        ends_at=_midnight(last),
        note=note,
        made_by=manager,
    ).save()
    name, days, at, hours = PLANNED
    start = _midnight(days).replace(hour=at.hour)
    block = blocks[name]
    gross = hours * block_system(block).application_rate_mm_h
    Irrigation(
        block=block,
        status=Irrigation.Status.PLANNED,
        started_at=start,
        ended_at=start + timedelta(hours=hours),
        gross_mm=gross,
        planned_start_at=start,
        planned_gross_mm=gross,
        made_by=manager,
    ).save()
