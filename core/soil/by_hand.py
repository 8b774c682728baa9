"""Naming a texture from a moist handful, step by step.

References
----------
.. [1] Thien, S. J. (1979), A flow diagram for teaching texture-by-feel analysis,
   J. Agron. Educ. 8:54-55, doi:10.2134/jae.1979.0054 (recalled from memory).
"""

import json
from dataclasses import dataclass
from functools import cache
from importlib import resources

from core.soil.texture import TextureClass


@dataclass(frozen=True)
class Answer:
    """What a person feels; leads to another step or to a class."""

    say: str
    next_step: str | None
    texture: TextureClass | None


@dataclass(frozen=True)
class Step:
    """One thing to do and the answers to choose from."""

    key: str
    ask: str
    answers: tuple[Answer, ...]


@cache
def by_hand_steps() -> tuple[Step, ...]:
    """The guide [1]_, its first step first; read once from the data file."""
    text = resources.files("core.soil").joinpath("by_hand.json").read_text("utf-8")
    return tuple(
        Step(
            key=key,
            ask=step["ask"],
            answers=tuple(
                Answer(
                    a["say"],
                    a.get("next"),
                    TextureClass(a["class"]) if "class" in a else None,
                )
                for a in step["answers"]
            ),
        )
        for key, step in json.loads(text)["steps"].items()
    )
