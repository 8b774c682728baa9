"""What a person on a round should look at beside reading: told by whoever knows of it."""

from collections.abc import Callable, Mapping, Sequence

from server.base.language import Translated
from server.base.schema import Schema
from server.farms.models import Farm
from server.instruments.models import Instrument


class CheckOut(Schema):
    """Something to look at near an instrument: what is thought to be wrong, and what settles it."""

    finding_id: int
    name: Translated
    check: Translated


# By the number of the instrument near which it is to be looked at.
Checks = Callable[[Farm, Sequence[Instrument]], Mapping[int, list[CheckOut]]]

# Parts of the application that know of checks add themselves here when they are loaded.
CHECKS: list[Checks] = []


def checks_of(farm: Farm, instruments: Sequence[Instrument]) -> dict[int, list[CheckOut]]:
    """All there is to look at near some instruments, by their numbers."""
    out: dict[int, list[CheckOut]] = {}
    for ask in CHECKS:
        for instrument, found in ask(farm, instruments).items():
            out.setdefault(instrument, []).extend(found)
    return out
