"""What the commands that make farms and people ask for and refuse."""

import getpass

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import CommandError
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from server.accounts.models import User


def require_migrated() -> None:
    """Refuse to work on a database that is not set up, or not to this version.

    Raises
    ------
    CommandError
        With the command that does it.
    """
    steps = MigrationExecutor(connection)
    if steps.migration_plan(steps.loader.graph.leaf_nodes()):
        raise CommandError(
            "The database is not set up for this version. Run './furrow manage migrate', then "
            "this again."
        )


def ask_password(email: str) -> str:
    """A person's password, typed where nobody sees it.

    Raises
    ------
    CommandError
        When nobody is there to type it.
    """
    try:
        return getpass.getpass(f"Password for {email}: ")
    except EOFError:
        raise CommandError("The password is asked for: run this at a terminal.") from None


def person_of(email: str, name: str) -> User:
    """Whoever signs in with an address; made with a password that is asked for, if nobody does.

    Raises
    ------
    CommandError
        When the password is too weak, or nobody is there to type it.
    """
    there = User.objects.filter(email=email).first()
    if there is not None:
        return there
    password = ask_password(email)
    try:
        validate_password(password)
    except ValidationError as problem:
        raise CommandError(" ".join(problem.messages)) from None
    return User.objects.create_user(email, name, password)
