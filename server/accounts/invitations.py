"""How a person who was added to a farm comes to a password: by a link that works once."""

from datetime import timedelta

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.utils import timezone

from core.sentence import sentence
from server.accounts.models import Invitation, User
from server.base.errors import NotFound, Problem, RequestError
from server.base.retrying import retried
from server.base.tokens import new_token, token_hash

VALID_FOR = timedelta(days=14)


def is_awaited(user: User) -> bool:
    """Whether a person has yet to accept an invitation: he never signed in, and could not."""
    return user.last_login is None and not user.has_usable_password()


def invite(user: User) -> str:
    """A new token for a person without a password; the one before it stops working."""
    token = new_token()
    Invitation.objects.update_or_create(
        user=user, defaults={"token_sha256": token_hash(token), "made_at": timezone.now()}
    )
    return token


def invited(token: str) -> User:
    """Whom a token is for.

    Raises
    ------
    NotFound
        Also when it was used, is too old, or another took its place.
    """
    row = (
        Invitation.objects.select_related("user")
        .filter(token_sha256=token_hash(token), made_at__gt=timezone.now() - VALID_FOR)
        .first()
    )
    if row is None:
        raise NotFound(
            sentence(
                "This invitation is no longer valid. If you have used it, sign in with your "
                "password; otherwise ask the farm's manager for a new link."
            )
        )
    return row.user


def set_password(user: User, password: str) -> None:
    """Give a person a new password; he is signed out wherever he was signed in.

    Raises
    ------
    RequestError
        When it is too short or too common.
    """
    try:
        validate_password(password, user)
    except ValidationError as weak:
        problem = Problem(
            field="password", message=sentence("{reasons}", reasons=" ".join(weak.messages))
        )
        raise RequestError(sentence("The password was not saved."), (problem,)) from None
    user.set_password(password)
    user.save(update_fields=["password"])


@retried
def accept(token: str, password: str) -> User:
    """Choose the password that an invitation is for; the token is used up by it.

    Raises
    ------
    NotFound, RequestError
        See `invited` and `set_password`.
    """
    user = User.objects.select_for_update().get(pk=invited(token).pk)
    # Another may have used the link while this one waited.
    invited(token)
    set_password(user, password)
    Invitation.objects.filter(user=user).delete()
    return user


def drop_old_invitations() -> int:
    """Remove links that no longer work; how many."""
    return Invitation.objects.filter(made_at__lte=timezone.now() - VALID_FOR).delete()[0]
