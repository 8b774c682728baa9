"""The signed-in person of a request."""

from typing import Any, cast

from django.http import HttpRequest
from ninja.security.session import SessionAuth

from server.accounts.models import User


def person(request: HttpRequest) -> User:
    """The user; the API's authentication has already refused anyone else."""
    return cast(User, request.user)


class Session(SessionAuth):
    """A signed-in session; who has none is told so before anything else, also where he writes."""

    def __call__(self, request: HttpRequest) -> Any | None:
        return super().__call__(request) if request.user.is_authenticated else None
