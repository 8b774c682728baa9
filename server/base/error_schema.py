"""How a refusal looks on the wire; every endpoint declares it."""

from server.base.language import Translated
from server.base.schema import Schema


class ProblemOut(Schema):
    """One thing to mend: the input's dotted path, or a place in a file."""

    message: Translated
    field: str = ""
    row: int | None = None
    column: str = ""


class ErrorOut(Schema):
    """Every answer that is not a success has this shape."""

    message: Translated
    problems: list[ProblemOut]


ERRORS = {frozenset({401, 403, 404, 422, 503}): ErrorOut}
