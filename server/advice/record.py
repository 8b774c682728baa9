"""The advice of a day, put on record once and never rewritten."""

from collections.abc import Sequence
from datetime import date, datetime, time, timedelta
from typing import Any

from django.db import transaction
from django.db.models import QuerySet
from pydantic import TypeAdapter

from core.advice.answer import Assessment
from core.advice.inputs import BlockInputs
from core.advice.version import RULES_VERSION
from core.advice.working import BalanceRow, DayRow, LayerRow, Step
from server.advice.answers import Loaded, answer_with_working, load_whole
from server.advice.apart import together_or_apart
from server.advice.assumed import assumed_out
from server.advice.kept import FORMAT
from server.advice.models import Advice
from server.advice.present import answer_out, estimates_out, refill_methods_out
from server.base.incident import isolated
from server.base.json_out import known
from server.blocks.loading import blocks_of
from server.blocks.models import Block
from server.farms.models import Farm
from server.water.models import Irrigation
from server.weather.forecasts import LONGEST
from server.weather.models import WeatherForecast

# From this hour the day's advice is given: before the manager's first coffee.
MORNING = time(5)
HOUR = timedelta(hours=1)

_steps = TypeAdapter(list[Step])
_layers = TypeAdapter(list[LayerRow])
_balance = TypeAdapter(list[BalanceRow])
_days = TypeAdapter(list[DayRow])


def _at_hand(loaded: Loaded, block: Block) -> dict[str, Any]:
    """What an advice was given from and assumed, named so that a person can look it up."""
    inputs = loaded.inputs[block.pk]
    issued = (
        WeatherForecast.objects.for_farm(loaded.farm)
        .filter(issued_at__lte=loaded.now, issued_at__gt=loaded.now - LONGEST)
        .order_by("-issued_at")
        .values_list("issued_at", flat=True)
        .first()
    )
    recorded = [d.date for d in loaded.weather.days if d.et0_mm is not None]
    ended = [
        s.ended_at
        for s in loaded.sets.get(block.pk, [])
        if s.status == Irrigation.Status.DONE and s.ended_at <= loaded.now
    ]
    return {
        "assumed": assumed_out(inputs.assumed, loaded.now.date()).model_dump(mode="json"),
        "forecast_issued_at": issued.isoformat() if issued else None,
        "weather_until": max(recorded).isoformat() if recorded else None,
        "instruments": [
            *({"label": s.label, "last_hours": known(s.last_hours)} for s in inputs.sites),
            *(
                {"label": t.name, "last_hours": float(t.hours[-1]) if t.hours.size else None}
                for t in inputs.tubes
            ),
        ],
        "sets": len(ended),
        "newest_set_hours": max(((e - loaded.now) / HOUR for e in ended), default=None),
        "planned": len({p.start_hours for p in inputs.planned}),
        "holds": len(inputs.holds),
    }


def _working(inputs: BlockInputs, answer: Assessment) -> dict[str, Any]:
    return {
        "steps": _steps.dump_python(list(answer.steps), mode="json"),
        "layers": _layers.dump_python(list(answer.layers), mode="json"),
        "balance": _balance.dump_python(list(answer.balance), mode="json"),
        "days": _days.dump_python(list(answer.days), mode="json"),
        "refill_methods": [s.model_dump(mode="json") for s in refill_methods_out(inputs, answer)],
        "estimates": [w.model_dump(mode="json") for w in estimates_out(answer)],
    }


def _advice(loaded: Loaded, block: Block) -> Advice:
    inputs = loaded.inputs[block.pk]
    answer = answer_with_working(loaded, block)
    amount = answer.amount
    return Advice(
        block=block,
        day=loaded.now.date(),
        made_at=loaded.now,
        version=RULES_VERSION,
        format=FORMAT,
        state=str(answer.state),
        start_at=answer.start_at,
        gross_mm=amount.gross_mm if amount else None,
        hours=amount.hours if amount else None,
        answer=answer_out(block, inputs, answer).model_dump(mode="json"),
        working=_working(inputs, answer),
        inputs=_at_hand(loaded, block),
    )


def given_on(farm: Farm, day: date) -> QuerySet[Advice, int]:
    """Ids of the blocks whose advice of a day is on record."""
    found: QuerySet[Advice, int] = Advice.objects.for_farm(farm).filter(day=day)
    return found.values_list("block_id", flat=True)


def record_day(
    farm: Farm, now: datetime, blocks: Sequence[Block] | None = None, as_known_then: bool = False
) -> int:
    """Put the day's advice on record for the blocks that have none yet; how many were written.

    Two that do so at once write it once.
    """
    wanted = list(blocks_of(farm)) if blocks is None else list(blocks)
    there = set(given_on(farm, now.date()).filter(block__in=[b.pk for b in wanted]))
    missing = [b for b in wanted if b.pk not in there]
    if not missing:
        return 0
    written = 0
    # One block that can't be loaded, worked out or put on record keeps no other from its advice.
    loads = together_or_apart(missing, lambda some: load_whole(farm, some, now, as_known_then))
    for blocks_of_load, loaded in loads:
        for block in blocks_of_load:
            with isolated(f"advice of block {block.pk}"), transaction.atomic():
                rows = [_advice(loaded, block)]
                written += len(Advice.unscoped.bulk_create(rows, ignore_conflicts=True))
    return written


def advice_of_today(farm: Farm, block: Block, now: datetime) -> Advice:
    """Today's advice for a block, put on record now if the morning's run has not come yet."""
    record_day(farm, now, [block])
    found: Advice = Advice.objects.for_farm(farm).get(block=block, day=now.date())
    return found
