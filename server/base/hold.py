"""Who works on something: the lease is a lock of the database's, held by the worker's connection.

It ends with the connection, whatever ended that: no clock says when a worker is given up.
"""

from collections.abc import Iterator
from contextlib import contextmanager

from django.db import DatabaseError, InterfaceError, connection

_KEY = "hashtextextended(%s, 0)"


@contextmanager
def held(what: str) -> Iterator[bool]:
    """Hold what goes by a name while the context lasts; False when another has it."""
    with connection.cursor() as cursor:
        cursor.execute(f"SELECT pg_try_advisory_lock({_KEY})", [what])
        got = bool(cursor.fetchone()[0])
    try:
        yield got
    finally:
        if got:
            _let_go(what)


def _let_go(what: str) -> None:
    try:
        with connection.cursor() as cursor:
            cursor.execute(f"SELECT pg_advisory_unlock({_KEY})", [what])
    except (DatabaseError, InterfaceError):
        # The connection is broken, or in a transaction that is: the lock ends with it.
        connection.close()
