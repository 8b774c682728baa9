"""Rounds: made, put in order, and what the phone takes along."""

from collections.abc import Sequence
from datetime import datetime

from django.db import connection

from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.life import LifeStatus, life_status, tasks_due
from core.instrument.possible import POSSIBLE
from core.instrument.reading_units import UNIT_OF_CODE, from_core, to_core, units_of
from core.instrument.surprise import usual_next
from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.models import Farm
from server.farms.rules import Action
from server.fieldwork.checks import CheckOut, checks_of
from server.fieldwork.health import task_out
from server.fieldwork.models import Round, RoundStop, Visit
from server.fieldwork.schemas import RoundChannel, RoundIn, RoundOut, StopOut
from server.instruments.models import Instrument

SIGNED = frozenset({Quantity.LEAF_POTENTIAL, Quantity.WATER_DEPTH, Quantity.TEMPERATURE})
_LAST = """
SELECT c.id, r."time", r.value, r.unit FROM instruments_channel c CROSS JOIN LATERAL (
    SELECT "time", value, unit FROM readings_reading
    WHERE channel_id = c.id AND "time" <= %(now)s ORDER BY "time" DESC LIMIT 1
) r WHERE c.id = ANY(%(channels)s)
"""


def find_round(access: Access, round_id: int) -> Round:
    """A round of the farm."""
    row: Round | None = Round.objects.for_farm(access.farm).filter(pk=round_id).first()
    if row is None:
        raise NotFound(sentence("There is no such round on this farm."))
    return row


@acting(Action.SET_UP_GROUND)
def save_round(access: Access, data: RoundIn, row: Round | None = None) -> Round:
    """Make a round, or give one another name, interval or order of instruments.

    Raises
    ------
    RequestError
    """
    name = data.name.strip()
    others = Round.objects.for_farm(access.farm).filter(name__iexact=name)
    if row is not None:
        others = others.exclude(pk=row.pk)
    problems = []
    if not name:
        problems.append(Problem(field="name", message=sentence("Enter a name for the round.")))
    elif others.exists():
        problems.append(
            Problem(field="name", message=sentence("There is a round {name} already.", name=name))
        )
    found = set(
        Instrument.objects.for_farm(access.farm)
        .filter(pk__in=data.instruments)
        .values_list("pk", flat=True)
    )
    if not data.instruments:
        problems.append(
            Problem(field="instruments", message=sentence("Choose at least one instrument."))
        )
    elif len(set(data.instruments)) < len(data.instruments) or found != set(data.instruments):
        problems.append(
            Problem(
                field="instruments", message=sentence("Each instrument once, all of this farm.")
            )
        )
    if problems:
        raise RequestError(sentence("The round was not saved."), tuple(problems))
    done = Done.ROUND_CHANGED if row else Done.ROUND_ADDED
    row = row or Round(farm=access.farm)
    row.name, row.every_days = name, data.every_days
    row.save()
    row.stops.all().delete()
    RoundStop.unscoped.bulk_create(
        RoundStop(round=row, instrument_id=pk, place=k) for k, pk in enumerate(data.instruments)
    )
    record(access, done, name)
    return row


@acting(Action.SET_UP_GROUND)
def delete_round(access: Access, round_id: int) -> None:
    """Remove a round; what was read on it stays."""
    row = find_round(access, round_id)
    row.delete()
    record(access, Done.ROUND_REMOVED, row.name)


def _channels(row: Instrument, last: dict[int, tuple[datetime, float, int]]) -> list[RoundChannel]:
    kind = InstrumentKind(row.kind)
    out = []
    for c in sorted(row.channels.all(), key=lambda c: c.depth_mm or 0.0):
        quantity = Quantity(c.quantity)
        if quantity is Quantity.TEMPERATURE and kind is not InstrumentKind.SOIL_THERMOMETER:
            continue
        before = last.get(c.pk)
        unit = units_of(quantity)[0] if before is None else UNIT_OF_CODE[before[2]]
        core = None
        if before is not None:
            core = float(to_core(before[1], unit))
        low, high = usual_next(kind, quantity, core)
        possible = POSSIBLE[quantity]
        out.append(
            RoundChannel(
                id=c.pk,
                depth_mm=c.depth_mm,
                unit=unit,
                last=None if before is None else before[1],
                last_at=None if before is None else before[0],
                signed=quantity in SIGNED,
                usual_low=float(from_core(low, unit)),
                usual_high=float(from_core(high, unit)),
                possible_low=float(from_core(possible[0], unit)),
                possible_high=float(from_core(possible[1], unit)),
            )
        )
    return out


def rounds_of(farm: Farm) -> list[RoundOut]:
    """Every round with all that the phone needs where there is no signal."""
    now = farm.now()
    rounds = list(
        Round.objects.for_farm(farm)
        .prefetch_related(
            "stops__instrument__channels",
            "stops__instrument__events",
            "stops__instrument__block",
        )
        .order_by("name")
    )
    instruments = {s.instrument_id: s.instrument for r in rounds for s in r.stops.all()}
    channels = [c.pk for i in instruments.values() for c in i.channels.all()]
    with connection.cursor() as cursor:
        cursor.execute(_LAST, {"channels": channels, "now": now})
        last = {row[0]: (row[1], row[2], row[3]) for row in cursor.fetchall()}
    visited = dict(
        Visit.objects.for_farm(farm)
        .filter(round__in=rounds)
        .order_by("round_id", "-at")
        .distinct("round_id")
        .values_list("round_id", "at")
    )
    checks = checks_of(farm, list(instruments.values()))
    return [
        RoundOut(
            id=r.pk,
            name=r.name,
            every_days=r.every_days,
            last_at=visited.get(r.pk),
            stops=_stops(farm, [s.instrument for s in r.stops.all()], last, checks),
        )
        for r in rounds
    ]


def _stops(
    farm: Farm,
    instruments: Sequence[Instrument],
    last: dict[int, tuple[datetime, float, int]],
    checks: dict[int, list[CheckOut]],
) -> list[StopOut]:
    now = farm.now()
    out = []
    for row in instruments:
        facts = kinds()[InstrumentKind(row.kind)]
        log = [e.entry for e in row.events.all()]
        if life_status(log, facts.settles_days, now) is LifeStatus.RETIRED:
            continue
        out.append(
            StopOut(
                instrument_id=row.pk,
                label=row.label,
                kind_name=facts.name,
                by_hand=not facts.logged,
                block=row.block.name,
                site=row.site,
                channels=_channels(row, last),
                tasks=[task_out(d, now) for d in tasks_due(facts.tasks, log, now)],
                checks=checks.get(row.pk, []),
            )
        )
    return out
