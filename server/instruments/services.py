"""Instruments: put one in, change what is known of it, doubt a sensor."""

from core.instrument.kinds import KindFacts, Quantity, kinds
from core.sentence import Sentence, sentence
from server.base.errors import NotFound, Problem, RequestError
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.instruments.models import Channel, Instrument
from server.instruments.schemas import InstrumentChange, InstrumentIn

MAX_DEPTHS = 30
MAX_CONSTANTS = 40


def find_instrument(access: Access, instrument_id: int) -> Instrument:
    """An instrument of the farm with its channels."""
    row: Instrument | None = (
        Instrument.objects.for_farm(access.farm)
        .select_related("block")
        .prefetch_related("channels")
        .filter(pk=instrument_id)
        .first()
    )
    if row is None:
        raise NotFound(sentence("There is no such instrument on this farm."))
    return row


def _label_problem(block: Block, label: str, but: int | None = None) -> Problem | None:
    if not label:
        return Problem(field="label", message=sentence("Enter a name for the instrument."))
    others = block.instruments.filter(label__iexact=label)
    if (others if but is None else others.exclude(pk=but)).exists():
        return Problem(
            field="label",
            message=sentence("{block} has a {label} already.", block=block.name, label=label),
        )
    return None


def _depth_problems(facts: KindFacts, depths: list[float]) -> list[Problem]:
    def problem(message: Sentence) -> list[Problem]:
        return [Problem(field="depths_mm", message=message)]

    if not facts.has_depths:
        return (
            problem(sentence("{instrument} has no depths.", instrument=facts.name))
            if depths
            else []
        )
    if not depths or len(depths) > MAX_DEPTHS:
        return problem(sentence("Enter one to thirty depths."))
    if any(not 0 < d <= 5000 for d in depths):
        return problem(sentence("Depths must be below the surface, down to 5 m."))
    if len(set(depths)) < len(depths):
        return problem(sentence("A depth appears twice."))
    return []


@acting(Action.SET_UP_GROUND)
def add_instrument(access: Access, block: Block, data: InstrumentIn) -> Instrument:
    """Put an instrument into a block with a channel for each depth.

    Raises
    ------
    RequestError
    """
    facts = kinds()[data.kind]
    quantity = data.quantity or facts.quantity
    label = data.label.strip()
    problems = _depth_problems(facts, data.depths_mm)
    wrong = _label_problem(block, label)
    if wrong:
        problems.append(wrong)
    if quantity is not facts.quantity and (
        quantity not in facts.raw or quantity is Quantity.TEMPERATURE
    ):
        problems.append(
            Problem(
                field="quantity",
                message=sentence(
                    "{instrument} do not record {quantity}.",
                    instrument=facts.name,
                    quantity=quantity,
                ),
            )
        )
    if problems:
        raise RequestError(sentence("The instrument was not saved."), tuple(problems))
    row = Instrument(
        block=block,
        label=label,
        kind=str(data.kind),
        serial=data.serial.strip(),
        site=data.site.strip(),
    )
    row.save()
    for depth in sorted(data.depths_mm) if facts.has_depths else [None]:
        Channel(instrument=row, quantity=str(quantity), depth_mm=depth).save()
        if data.thermometer:
            Channel(instrument=row, quantity=str(Quantity.TEMPERATURE), depth_mm=depth).save()
    record(access, Done.INSTRUMENT_ADDED, label, block=block.pk)
    return row


@acting(Action.SET_UP_GROUND)
def change_instrument(access: Access, instrument_id: int, data: InstrumentChange) -> Instrument:
    """Change what is known of an instrument; only what is given.

    Raises
    ------
    RequestError
    """
    row = find_instrument(access, instrument_id)
    given = data.model_dump(exclude_unset=True)
    for name in ("label", "serial", "site"):
        if given.get(name) is not None:
            given[name] = given[name].strip()
        elif name in given:
            del given[name]
    problems = []
    if "label" in given:
        wrong = _label_problem(row.block, given["label"], but=row.pk)
        if wrong:
            problems.append(wrong)
    position = given.get("position")
    if position is not None and not (
        len(position) == 2 and -180 <= position[0] <= 180 and -90 <= position[1] <= 90
    ):
        problems.append(
            Problem(
                field="position",
                message=sentence("A position is longitude and latitude in degrees."),
            )
        )
    constants = given.get("constants")
    if "constants" in given and constants is None:
        given["constants"] = constants = {}
    if constants is not None and (
        len(constants) > MAX_CONSTANTS or any(not 0 < len(k) <= 40 for k in constants)
    ):
        problems.append(
            Problem(
                field="constants",
                message=sentence(
                    "Up to forty constants, each with a name of up to forty characters."
                ),
            )
        )
    if problems:
        raise RequestError(sentence("The instrument was not changed."), tuple(problems))
    for name, value in given.items():
        setattr(row, name, value)
    row.save()
    record(access, Done.INSTRUMENT_CHANGED, row.label, block=row.block_id)
    return row


@acting(Action.RECORD_READINGS)
def exclude_sensor(access: Access, channel_id: int, suspect: bool) -> Channel:
    """Take a sensor out of the reckoning, or back in; its readings stay."""
    rows = Channel.objects.for_farm(access.farm).select_related("instrument")
    channel: Channel | None = rows.filter(pk=channel_id).first()
    if channel is None:
        raise NotFound(sentence("There is no such sensor on this farm."))
    channel.suspect = suspect
    channel.save(update_fields=["suspect"])
    about = channel.instrument
    done = Done.SENSOR_EXCLUDED if suspect else Done.SENSOR_INCLUDED
    record(access, done, about.label, block=about.block_id)
    return channel
