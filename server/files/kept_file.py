"""An uploaded file kept in pieces in the database, and put together again to be read."""

import hashlib
import tempfile
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from django.db import models

PIECE_BYTES = 4 * 1024 * 1024


@contextmanager
def spooled(blocks: Iterable[bytes]) -> Iterator[tuple[Path, str]]:
    """Blocks as a file on disk, and its SHA-256."""
    with tempfile.TemporaryDirectory(prefix="even-furrow-") as folder:
        path, digest = Path(folder) / "upload", hashlib.sha256()
        with path.open("wb") as file:
            for block in blocks:
                digest.update(block)
                file.write(block)
        yield path, digest.hexdigest()


def keep(path: Path, piece: Callable[[int, bytes], models.Model]) -> None:
    """Keep a file's content; ``piece`` makes the row of its n-th piece, from 0."""
    with path.open("rb") as file:
        number = 0
        while block := file.read(PIECE_BYTES):
            piece(number, block).save(force_insert=True)
            number += 1


@contextmanager
def kept_file(row: Any) -> Iterator[Path]:
    """The file whose ``pieces`` a row has, on disk for as long as the context lasts."""

    def pieces() -> Iterator[bytes]:
        numbers = row.pieces.order_by("number").values_list("number", flat=True)
        for number in list(numbers):
            yield bytes(row.pieces.values_list("data", flat=True).get(number=number))

    with spooled(pieces()) as (path, _):
        yield path


def drop_file(row: Any) -> None:
    """Let the content go; what became of it stays on record."""
    row.pieces.all().delete()
