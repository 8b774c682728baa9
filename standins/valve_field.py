"""What happens at the simulated valves: who locks one out, what breaks, whether the radio is gone.

It stands in a JSON file that the controller reads all the time, written by `./furrow valves`:
``{"locked_out": [2], "faults": {"1": "burst"}, "silent": false, "starts": 0}``.
"""

import json
from dataclasses import dataclass, field
from enum import StrEnum
from pathlib import Path


class Fault(StrEnum):
    """What is wrong at a valve."""

    BURST = "burst"
    BLOCKED = "blocked"
    STUCK = "stuck"
    LEAK = "leak"


class WrongField(ValueError):
    """What was asked for can't be had; the message says why and what to do."""


@dataclass
class Field:
    """``starts`` counts how often the box was switched off and on again."""

    locked_out: set[int] = field(default_factory=set)
    faults: dict[int, Fault] = field(default_factory=dict)
    silent: bool = False
    starts: int = 0

    def fault_of(self, number: int) -> Fault | None:
        """What is wrong at a valve."""
        return self.faults.get(number)


def read_field(path: Path) -> Field:
    """How things stand; all is well where the file is missing.

    Raises
    ------
    WrongField
        When the file can't be read.
    """
    if not path.exists():
        return Field()
    try:
        said = json.loads(path.read_text())
        return Field(
            {int(n) for n in said["locked_out"]},
            {int(n): Fault(f) for n, f in said["faults"].items()},
            bool(said["silent"]),
            int(said["starts"]),
        )
    except (ValueError, KeyError, TypeError, AttributeError) as error:
        raise WrongField(
            f"{path} does not say how things stand ({error}). Delete it and ask anew."
        ) from None


def write_field(path: Path, around: Field) -> None:
    """Let things stand so; a reader never finds half a file."""
    said = {
        "locked_out": sorted(around.locked_out),
        "faults": {str(n): str(f) for n, f in around.faults.items()},
        "silent": around.silent,
        "starts": around.starts,
    }
    new = path.with_suffix(".new")
    new.write_text(json.dumps(said, indent=1))
    new.replace(path)
