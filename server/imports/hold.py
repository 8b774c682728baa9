"""Who works on an import: the lease is a lock of the database's, held by the worker's connection.

It ends with the connection, whatever ended that: no clock says when a worker is given up.
"""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import DatabaseError, InterfaceError, connection

_KEY = "hashtextextended('import-' || %s, 0)"


@contextmanager
def held(import_id: int) -> Iterator[bool]:
    """Hold an import while the context lasts; False when another has it."""
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT pg_try_advisory_lock({_KEY})", [str(import_id)])
        got = bool(cursor.fetchone()[0])
    try:
        yield got
    finally:
        if got:
            _let_go(import_id)


def _let_go(import_id: int) -> None:
    try:
        with connection.cursor() as cursor:
            cursor.execute(f"SELECT pg_advisory_unlock({_KEY})", [str(import_id)])
    except (DatabaseError, InterfaceError):
        # The connection is broken, or in a transaction that is: the lock ends with it.
        connection.close()
