"""What a person does on a farm. An act owns its permission, its moment, its turn among the others
and its transaction; what it did stands in the change history, and what undoes it beside it."""

from collections.abc import Callable
from dataclasses import dataclass
from functools import wraps
from typing import Any, Concatenate, ParamSpec, TypeVar

from django.db import connection

from server.base.retrying import retried
from server.farms.access import Access
from server.farms.changes import Done
from server.farms.models import Change
from server.farms.rules import Action

P = ParamSpec("P")
R = TypeVar("R")
Act = Callable[Concatenate[Access, P], R]

# Readings come from several people and files at once; those acts lock the instruments they write
# to. Everything else that people do on a farm waits for its turn, so that what an act checked
# still holds when it writes.
_NOT_IN_TURN = frozenset({Action.RECORD_READINGS})


@dataclass(frozen=True)
class Undo:
    """How an entry of the change history is undone: by the number of its row."""

    action: Action
    act: Callable[[Access, int], object]


UNDO: dict[Done, Undo] = {}


def acting(
    action: Action, *, whole: bool = True, undoes: tuple[Done, ...] = ()
) -> Callable[[Act[P, R]], Act[P, R]]:
    """Make a function an act: refused unless the role permits it, and run in one transaction.

    Nothing else asks for permission, but acts that need another one for what they find. All of an
    act, and of what it calls, happens at one moment: ``access.now()``. A transaction that lost
    against another runs again, see `retried`; the act must not leave anything behind but in the
    database.

    Parameters
    ----------
    whole : False where an act is many steps, each of which is whole by itself
    undoes : entries of the change history that it undoes; it then takes the number of their row
    """

    def make(do: Act[P, R]) -> Act[P, R]:
        @wraps(do)
        def in_turn(access: Access, /, *args: P.args, **kwargs: P.kwargs) -> R:
            if whole and action not in _NOT_IN_TURN:
                _wait_for_turn(access)
            result = do(access, *args, **kwargs)
            if undoes:
                _mark_undone(access, undoes, args[0])
            return result

        once = retried(in_turn) if whole else in_turn

        @wraps(do)
        def act(access: Access, /, *args: P.args, **kwargs: P.kwargs) -> R:
            access.require(action)
            return once(access.at_one_moment(), *args, **kwargs)

        for done in undoes:
            UNDO[done] = Undo(action, act)  # type: ignore[arg-type]
        return act

    return make


def _wait_for_turn(access: Access) -> None:
    with connection.cursor() as cursor:
        cursor.execute("SELECT pg_advisory_xact_lock(hashtext('acts'), %s)", [access.farm.pk])


def _mark_undone(access: Access, undoes: tuple[Done, ...], thing: Any) -> None:
    entries = Change.objects.for_farm(access.farm).filter(
        done__in=[str(d) for d in undoes], thing=thing, undone_at=None
    )
    entries.update(undone_at=access.now(), undone_by=access.user)
