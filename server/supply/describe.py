"""A farm's network in force, and describing it anew."""

from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from django.db.models import Max

from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.base.moment import to_instant
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.models import Farm
from server.farms.rules import Action
from server.supply.document import NetworkDocument, network_of
from server.supply.models import NetworkVersion


@dataclass(frozen=True)
class InForce:
    """A farm's description and its number; 0 and nothing in it before anybody made one."""

    number: int
    made_at: datetime | None
    document: NetworkDocument


def network_in_force(farm: Farm) -> InForce:
    """The newest description of a farm's network."""
    row = NetworkVersion.objects.for_farm(farm).order_by("-number").first()
    if row is None:
        return InForce(0, None, NetworkDocument())
    return InForce(row.number, row.made_at, NetworkDocument.read(row.content))


@acting(Action.SET_UP_GROUND)
def describe_network(access: Access, based_on: int, document: NetworkDocument) -> InForce:
    """Put a new description in force.

    Parameters
    ----------
    based_on : number of the description that was changed

    Raises
    ------
    RequestError
        Where it can't be used, or somebody else described it in the meantime.
    """
    before = network_in_force(access.farm)
    if before.number != based_on:
        raise RequestError(
            sentence(
                "Someone else changed the water supply in the meantime; nothing was saved. Reload "
                "the page and enter your change again."
            )
        )
    document = _by_the_farms_clock(access.farm, document)
    network_of(document)
    _check_blocks(access, document)
    numbered = _number_sources(document, before.document)
    _rename_supplies(access, before.document, numbered)
    return _put_in_force(access, numbered)


@acting(Action.SET_UP_GROUND, undoes=(Done.NETWORK_CHANGED,))
def restore_network(access: Access, version_id: int) -> InForce:
    """Put the description before a version in force again.

    Raises
    ------
    NotFound
    RequestError
        Where another was made since.
    """
    rows = NetworkVersion.objects.for_farm(access.farm)
    row = rows.filter(pk=version_id).first()
    if row is None:
        raise NotFound(sentence("There is no such description of the water supply on this farm."))
    if rows.filter(number__gt=row.number).exists():
        raise RequestError(
            sentence("The water supply was changed again since then; undo the newest change first.")
        )
    former = rows.filter(number__lt=row.number).order_by("-number").first()
    document = NetworkDocument.read(former.content) if former else NetworkDocument()
    _rename_supplies(access, NetworkDocument.read(row.content), document)
    return _put_in_force(access, document)


def _by_the_farms_clock(farm: Farm, document: NetworkDocument) -> NetworkDocument:
    """Moments without an offset are the farm's own; all are kept with the farm's offset."""
    zone = ZoneInfo(farm.time_zone)
    sources = []
    for k, source in enumerate(document.sources):
        if source.turn is None:
            sources.append(source)
            continue
        instant = to_instant(source.turn.first_at, zone)
        if instant is None:
            raise RequestError(
                sentence("The water supply was not saved."),
                (
                    Problem(
                        sentence("That time was skipped when the clocks went forward."),
                        field=f"sources.{k}.turn.first_at",
                    ),
                ),
            )
        turn = source.turn.model_copy(update={"first_at": instant.astimezone(zone)})
        sources.append(source.model_copy(update={"turn": turn}))
    return document.model_copy(update={"sources": sources})


def _put_in_force(access: Access, document: NetworkDocument) -> InForce:
    rows = NetworkVersion.objects.for_farm(access.farm)
    number = (rows.aggregate(last=Max("number"))["last"] or 0) + 1
    row = NetworkVersion(
        farm=access.farm,
        number=number,
        content=document.model_dump(mode="json"),
        made_at=access.now(),
        made_by=access.user,
    )
    row.save()
    record(access, Done.NETWORK_CHANGED, thing=row.pk)
    return InForce(number, row.made_at, document)


def _check_blocks(access: Access, document: NetworkDocument) -> None:
    known = set(Block.objects.for_farm(access.farm).values_list("pk", flat=True))
    problems = [
        Problem(sentence("There is no such block on this farm."), field=f"connections.{k}.block_id")
        for k, one in enumerate(document.connections)
        if one.block_id not in known
    ]
    if problems:
        raise RequestError(sentence("The water supply was not saved."), tuple(problems))


def _number_sources(document: NetworkDocument, before: NetworkDocument) -> NetworkDocument:
    """Sources that are new get numbers that none ever had in the description before."""
    last = max([s.id for s in (*before.sources, *document.sources)], default=0)
    sources, seen = [], set[int]()
    for source in document.sources:
        if source.id == 0 or source.id in seen:
            last += 1
            source = source.model_copy(update={"id": last})  # noqa: PLW2901
        seen.add(source.id)
        sources.append(source.model_copy(update={"name": source.name.strip()}))
    return document.model_copy(update={"sources": sources})


def _rename_supplies(access: Access, before: NetworkDocument, after: NetworkDocument) -> None:
    """Blocks follow a source that was given another name."""
    names = {s.id: s.name for s in after.sources}
    moved: list[Block] = []
    for source in before.sources:
        name = names.get(source.id)
        if name is not None and name != source.name:
            rows = Block.objects.for_farm(access.farm).filter(supply__iexact=source.name)
            for block in rows:
                block.supply = name
                moved.append(block)
    for block in moved:
        block.save(update_fields=["supply"])
