"""The valve record: a line for each thing that was asked of valves or told by them."""

from datetime import datetime

from server.accounts.models import User
from server.farms.models import Farm
from server.valves.models import EntryKind, Valve, ValveEntry


def write_entry(
    farm: Farm,
    kind: EntryKind,
    at: datetime,
    valve: Valve | None = None,
    about: str = "",
    why: str = "",
    by: User | None = None,
) -> None:
    """Add a line; ``about`` names what it is of where that is no valve."""
    ValveEntry(
        farm=farm,
        valve=valve,
        about=valve.name if valve else about,
        kind=kind,
        why=why,
        at=at,
        by=by,
    ).save()
