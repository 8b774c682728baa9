"""The words for states, reasons, holds and decisions: one table for screen, mail and PDF."""

import json
from collections.abc import Mapping
from enum import StrEnum
from functools import cache
from pathlib import Path

from django.utils.translation import gettext

_FILE = Path(__file__).with_name("vocabulary.json")


@cache
def vocabulary() -> Mapping[str, Mapping[str, str]]:
    """English words by kind and name, as the interface reads them too."""
    words: dict[str, dict[str, str]] = json.loads(_FILE.read_text(encoding="utf-8"))
    return words


def word(kind: str, name: StrEnum | str) -> str:
    """The word for a name, in the reader's language.

    Raises
    ------
    KeyError
        When there is none: a test holds the table against the vocabularies.
    """
    return gettext(vocabulary()[kind][str(name)])
