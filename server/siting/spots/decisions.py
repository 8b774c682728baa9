"""Whether a probe stays at its spot, and why."""

from core.instrument.life import LogKind
from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.instruments.models import Instrument
from server.siting.models import ProbeSpot, SpotDecision
from server.siting.spots.chosen import find_spot, spot_name
from server.siting.spots.install import write_log
from server.siting.spots.schemas import SpotDecisionIn, SpotStanding
from server.siting.spots.standing import standing_in


@acting(Action.SET_UP_GROUND)
def decide_on_spot(access: Access, spot_id: int, data: SpotDecisionIn) -> SpotDecision:
    """Keep a probe where it is, or move it, with the reason and how it stood among the others.

    Moved to another spot its log begins anew there, and it settles again.

    Raises
    ------
    RequestError
        When nothing stands at the spot, or the other spot is not one of the block's that is free.
    """
    row = find_spot(access, spot_id)
    instrument = row.instrument
    if instrument is None:
        raise RequestError(sentence("No instrument stands at this spot. Install one first."))
    to = None
    if not data.kept and data.moved_to is not None:
        to = find_spot(access, data.moved_to)
        if to.block_id != row.block_id or to.instrument is not None or to.pk == row.pk:
            raise RequestError(
                sentence("The decision was not saved."),
                (
                    Problem(
                        field="moved_to",
                        message=sentence("Choose a spot of this block at which nothing stands."),
                    ),
                ),
            )
    standing = standing_in(access, row.block_id)
    own = _own(standing, instrument)
    made = SpotDecision(
        spot=row,
        kept=data.kept,
        why=data.why.strip(),
        moved_to=to,
        difference=own[0] if own else None,
        spread=own[1] if own else None,
        sites=len(standing.probes) if standing and own else None,
        days=standing.days if standing and own else None,
        made_at=access.now(),
        made_by=access.user,
    )
    made.save()
    if not data.kept:
        _move(access, row, to, instrument, data.why.strip())
    done = Done.SPOT_KEPT if data.kept else Done.SPOT_MOVED
    record(access, done, spot_name(row), block=row.block_id)
    return made


def _own(standing: SpotStanding | None, instrument: Instrument) -> tuple[float, float] | None:
    probes = standing.probes if standing else []
    found = next((p for p in probes if p.instrument == instrument.pk), None)
    return (found.difference, found.spread) if found else None


def _move(
    access: Access, row: ProbeSpot, to: ProbeSpot | None, instrument: Instrument, why: str
) -> None:
    row.instrument = None
    row.save()
    if to is None:
        write_log(access, instrument, LogKind.RETIRED, note=why)
        return
    to.instrument = instrument
    to.save()
    instrument.position = to.position
    instrument.site = f"{to.name}: {to.why}"[:300]
    instrument.save()
    write_log(access, instrument, LogKind.REPLACED, note=why)
