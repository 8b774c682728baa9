"""Sentences that people read, kept beside the values in them so that they can be translated."""

from typing import Any, Self


class Sentence(str):
    """A sentence in English that knows what it was made of.

    ``pattern`` is the sentence with its placeholders ("{name} has no depths."), ``values`` what
    stands in them. It is a string like any other; who speaks another language translates the
    pattern and fills it in anew.
    """

    pattern: str
    values: dict[str, Any]

    def __new__(cls, pattern: str, values: dict[str, Any]) -> Self:
        made = super().__new__(cls, pattern.format(**values))
        made.pattern = pattern
        made.values = values
        return made

    def __reduce__(self) -> tuple[type[Self], tuple[str, dict[str, Any]]]:
        """Made again of the same, in another process too."""
        return type(self), (self.pattern, self.values)

    def __str__(self) -> str:
        """Itself: an error's text is still translatable."""
        return self


def sentence(pattern: str, /, **values: Any) -> Sentence:
    """Fill in a sentence in English; the pattern is what a catalogue is asked for.

    Raises
    ------
    KeyError
        When a placeholder has no value.
    """
    return Sentence(pattern, values)


def outside(figure: str, value: float, low: float, high: float) -> Sentence:
    """What is said of a figure outside its range."""
    return sentence(
        "{figure} is {value:g}; enter {low:g}-{high:g}.",
        figure=figure,
        value=value,
        low=low,
        high=high,
    )
