"""What people read, in their language: sentences, and the texts of data files."""

from typing import Annotated

from django.utils.translation import gettext
from pydantic import BeforeValidator

from core.sentence import Sentence


def translated(text: str) -> str:
    """A text in the reader's language; as it stands where no catalogue has it.

    A `Sentence` is translated as a pattern and filled in anew, sentences within it as well. What
    people named or wrote belongs into a sentence's values, never here.
    """
    if not isinstance(text, Sentence):
        return gettext(text) if text else text
    values = {
        name: translated(value) if isinstance(value, Sentence) else value
        for name, value in text.values.items()
    }
    return gettext(text.pattern).format(**values)


def _read(text: object) -> object:
    return translated(text) if isinstance(text, str) else text


# A field of an answer that people read, and that is no name, note or other words of theirs.
Translated = Annotated[str, BeforeValidator(_read)]
