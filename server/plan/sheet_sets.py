"""The irrigations of a run sheet, as they are stored with each edit: format 1."""

from collections.abc import Iterable, Sequence

from core.plan.make_plan import PlannedSet
from core.plan.slots import SLOTS
from server.base.schema import Body
from server.plan.stored import StoredInputs


class SheetSet(Body):
    """One irrigation: ``id`` within its sheet, first slot and how many, net depth [mm].

    A pinned one stays where it is when the sheet is planned again. ``irrigation_id`` is what it
    became when it was announced.
    """

    id: int
    block_id: int
    start: int
    slots: int
    net_mm: float
    pinned: bool = False
    irrigation_id: int | None = None

    def moved(self, slots: int) -> "SheetSet":
        """The same counted from another midnight."""
        return self.model_copy(update={"start": self.start + slots})


def read_sets(stored: Iterable[object]) -> list[SheetSet]:
    """Stored irrigations."""
    return [SheetSet.model_validate(s) for s in stored]


def dump_sets(sets: Iterable[SheetSet]) -> list[dict[str, object]]:
    """Irrigations to be stored, in the order in which they run."""
    ordered = sorted(sets, key=lambda s: (s.start, s.block_id, s.id))
    return [s.model_dump() for s in ordered]


def planned_sets(inputs: StoredInputs, sets: Sequence[SheetSet]) -> list[PlannedSet]:
    """Irrigations as the core takes them, with the places of their blocks; those of blocks that are
    not planned are left out."""
    places = {b.block_id: k for k, b in enumerate(inputs.blocks)}
    return [
        PlannedSet(places[s.block_id], s.start, s.slots, s.net_mm)
        for s in sets
        if s.block_id in places
    ]


def within_days(sets: Iterable[SheetSet]) -> list[SheetSet]:
    """Those that begin and end within the days of the plan."""
    return [s for s in sets if s.start >= 0 and s.start + s.slots <= SLOTS]
