"""Blocks worked on together, and apart where one of them can't be."""

from collections.abc import Callable, Iterator, Sequence
from typing import TypeVar

from django.db import transaction

from server.base.incident import NOBODYS, record_incident
from server.blocks.models import Block

T = TypeVar("T")


def together_or_apart(
    blocks: Sequence[Block], work: Callable[[Sequence[Block]], T]
) -> Iterator[tuple[Sequence[Block], T]]:
    """What comes of work on blocks, with the blocks that it came of.

    Where it fails, the block that it fails on is found by halves, recorded and left out; what
    the failed attempts wrote is taken back.
    """
    if not blocks:
        return
    try:
        with transaction.atomic():
            done = work(blocks)
    except NOBODYS:
        raise
    except Exception:
        if len(blocks) == 1:
            record_incident(f"loading block {blocks[0].pk}")
            return
        half = len(blocks) // 2
        yield from together_or_apart(blocks[:half], work)
        yield from together_or_apart(blocks[half:], work)
        return
    yield blocks, done
