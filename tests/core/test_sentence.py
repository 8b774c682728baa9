"""Sentences kept beside the values in them."""

import copy
import pickle

import pytest

from core.sentence import Sentence, sentence


def test_a_sentence_reads_as_it_is_filled_in() -> None:
    made = sentence(
        "{figure} is {value:g}; enter {low:g}-{high:.0%}.", figure="p", value=1.5, low=0.1, high=0.8
    )
    assert made == "p is 1.5; enter 0.1-80%."
    assert (made.pattern, made.values["value"]) == (
        "{figure} is {value:g}; enter {low:g}-{high:.0%}.",
        1.5,
    )


def test_it_stays_one_in_an_error_and_in_another_process() -> None:
    made = sentence("{figure} is needed.", figure="rate")
    said = str(ValueError(made))
    assert isinstance(said, Sentence) and said.values == {"figure": "rate"}
    for again in (pickle.loads(pickle.dumps(made)), copy.deepcopy(made)):  # noqa: S301
        assert (again, again.pattern, again.values) == (made, made.pattern, made.values)


def test_a_placeholder_without_a_value_is_a_fault() -> None:
    with pytest.raises(KeyError, match="figure"):
        sentence("{figure} is needed.")
