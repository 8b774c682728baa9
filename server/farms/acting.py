"""What a person does on a farm: an act asks for his permission, and happens whole or not at all."""

from collections.abc import Callable
from functools import wraps
from typing import Concatenate, ParamSpec, TypeVar

from server.base.retrying import retried
from server.farms.access import Access
from server.farms.rules import Action

P = ParamSpec("P")
R = TypeVar("R")
Act = Callable[Concatenate[Access, P], R]


def acting(action: Action, *, whole: bool = True) -> Callable[[Act[P, R]], Act[P, R]]:
    """Make a function an act: refused unless the role permits it, and run in one transaction.

    Nothing else asks for permission, but acts that need another one for what they find. A
    transaction that lost against another runs again, see `retried`; the act must not leave
    anything behind but in the database.

    Parameters
    ----------
    whole : False where an act is many steps, each of which is whole by itself
    """

    def make(do: Act[P, R]) -> Act[P, R]:
        once = retried(do) if whole else do

        @wraps(do)
        def act(access: Access, /, *args: P.args, **kwargs: P.kwargs) -> R:
            access.require(action)
            return once(access, *args, **kwargs)

        return act

    return make
