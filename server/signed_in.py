"""The signed-in person of a request."""

from typing import cast

from django.http import HttpRequest

from server.accounts.models import User


def person(request: HttpRequest) -> User:
    """The user; the API's authentication has already refused anyone else."""
    return cast(User, request.user)
