"""Mail that goes to each of several people once."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from email.utils import parseaddr

from django.conf import settings
from django.core.mail import EmailMessage, get_connection
from django.core.mail.backends.base import BaseEmailBackend
from django.db import transaction

from server.base.incident import isolated


@dataclass(frozen=True)
class Letter:
    """Mail for one person.

    Parameters
    ----------
    about : what it is, should it fail
    note : notes on record that he was told; whether nobody had noted it before
    write : the mail, for a connection
    """

    about: str
    note: Callable[[], bool]
    write: Callable[[BaseEmailBackend], EmailMessage]


def send_once(letters: Sequence[Letter]) -> int:
    """Send letters to those who have not had theirs; how many. One that fails keeps no other.

    Who was told is noted with the mail, in one transaction: killed in between, the mail goes out
    again with the same Message-ID, by which mail programs know it for the one they have. Two
    workers at once: the second finds the note and leaves it.
    """
    if not letters:
        return 0
    sent = 0
    mail_server = get_connection()
    # When it can't be reached there is nothing that the next one could do about it.
    mail_server.open()
    try:
        for letter in letters:
            with isolated(letter.about), transaction.atomic():
                if letter.note():
                    letter.write(mail_server).send()
                    sent += 1
    finally:
        mail_server.close()
    return sent


def message_id(name: str) -> str:
    """The Message-ID of a mail by a name that no other has."""
    domain = parseaddr(settings.DEFAULT_FROM_EMAIL)[1].rpartition("@")[2]
    return f"<{name}@{domain}>"
