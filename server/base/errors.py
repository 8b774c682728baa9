"""What is said when something can't be done: which input, which value, and the cure."""

from dataclasses import dataclass

from core.sentence import Sentence


@dataclass(frozen=True)
class Problem:
    """One thing to mend.

    ``field`` is a dotted path of the input ("horizons.1.sand"); ``row`` and ``column`` name a
    place in a file, the row counted as an editor counts lines, from 1.
    """

    message: Sentence
    field: str = ""
    row: int | None = None
    column: str = ""


class RequestError(Exception):
    """A request that was understood and can't be carried out; nothing was changed."""

    status = 422

    def __init__(self, message: Sentence, problems: tuple[Problem, ...] = ()) -> None:
        super().__init__(message)
        self.message = message
        self.problems = problems


class NotAllowed(RequestError):
    """The person's role does not permit it."""

    status = 403


class NotFound(RequestError):
    """No such thing within the farms the person belongs to."""

    status = 404


class TryLater(RequestError):
    """Nothing is wrong with the request: it can be carried out after some seconds."""

    status = 503

    def __init__(self, message: Sentence, seconds: int) -> None:
        super().__init__(message)
        self.seconds = seconds
