"""Query options of the OGC SensorThings API 1.1 (15-078r6, clause 9.3), as far as they are offered.

$top, $skip, $count, $orderby by one property, $filter by comparisons joined with ``and``,
$select, and $expand one level deep. Anything else is refused by name, not passed over.
"""

import operator
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

from django.http import QueryDict

from core.sentence import Sentence, sentence
from server.base.errors import Problem, RequestError

MAX_TOP = 5_000
DEFAULT_TOP = 100
KNOWN = frozenset({"$top", "$skip", "$count", "$orderby", "$filter", "$select", "$expand"})
_COMPARISON = re.compile(
    r"\s*([A-Za-z@.][\w./@]*)\s+(eq|ne|gt|ge|lt|le)\s+"
    r"('(?:[^']|'')*'|\d{4}-\d\d-\d\dT[\d:.]+(?:Z|[+-]\d\d:\d\d)|-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?)\s*"
)
_OPERATORS: dict[str, Callable[[Any, Any], bool]] = {
    "eq": operator.eq,
    "ne": operator.ne,
    "gt": operator.gt,
    "ge": operator.ge,
    "lt": operator.lt,
    "le": operator.le,
}


@dataclass(frozen=True)
class Comparison:
    """``value`` is a number, a text or an instant."""

    name: str
    op: str
    value: float | str | datetime

    def holds(self, other: object) -> bool:
        """Whether it is true of a property's value; never of one that is not there."""
        if other is None:
            return False
        try:
            return _OPERATORS[self.op](other, self.value)
        except TypeError:
            return False


@dataclass(frozen=True)
class Options:
    """What a query asks for; ``asked`` is as it was written."""

    top: int = DEFAULT_TOP
    skip: int = 0
    count: bool = False
    order_by: str = ""
    descending: bool = False
    filters: tuple[Comparison, ...] = ()
    select: tuple[str, ...] = ()
    expand: tuple[str, ...] = ()
    asked: dict[str, str] = field(default_factory=dict)


def _wrong(field_name: str, message: Sentence) -> RequestError:
    return RequestError(
        sentence("The query can't be answered."), (Problem(field=field_name, message=message),)
    )


def _whole(query: dict[str, str], name: str, default: int, most: int) -> int:
    text = query.get(name, str(default))
    if not re.fullmatch(r"\d{1,9}", text):
        raise _wrong(
            name, sentence("{name} is a whole number, not '{text}'.", name=name, text=text[:40])
        )
    return min(int(text), most)


def _literal(text: str) -> float | str | datetime:
    if text.startswith("'"):
        return text[1:-1].replace("''", "'")
    if "T" in text:
        try:
            return datetime.fromisoformat(text).astimezone(UTC)
        except (ValueError, OverflowError):
            raise _wrong("$filter", sentence("'{text}' is not a time.", text=text[:40])) from None
    return float(text)


def read_filter(text: str) -> tuple[Comparison, ...]:
    """Comparisons joined by ``and``.

    Raises
    ------
    RequestError
        With the place where it can't be read.
    """
    found, at = [], 0
    while True:
        match = _COMPARISON.match(text, at)
        if match is None:
            raise _wrong(
                "$filter",
                sentence(
                    "Not understood from '{text}' on. Write comparisons joined by and, e.g. "
                    "phenomenonTime ge 2026-07-01T00:00:00Z and name eq 'x'.",
                    text=text[at : at + 40],
                ),
            )
        found.append(Comparison(match[1], match[2], _literal(match[3])))
        at = match.end()
        if at == len(text):
            return tuple(found)
        if not text.startswith("and ", at):
            raise _wrong(
                "$filter",
                sentence("Only 'and' joins comparisons; found '{text}'.", text=text[at : at + 20]),
            )
        at += 4


def read_options(
    given: QueryDict, properties: frozenset[str], expandable: frozenset[str]
) -> Options:
    """Options of a request for an entity set.

    Parameters
    ----------
    properties : what may be filtered, ordered and selected by
    expandable : what may be expanded

    Raises
    ------
    RequestError
        On an option that is not offered or can't be read.
    """
    query = {k: v for k, v in given.items() if isinstance(v, str)}
    for name in query.keys() - KNOWN:
        raise _wrong(
            name[:40],
            sentence(
                "{name} is not offered. There are {known}.",
                name=name[:40],
                known=", ".join(sorted(KNOWN)),
            ),
        )
    filters = read_filter(query["$filter"]) if query.get("$filter") else ()
    order, _, way = query.get("$orderby", "").partition(" ")
    select = tuple(s.strip() for s in query.get("$select", "").split(",") if s.strip())
    expand = tuple(s.strip() for s in query.get("$expand", "").split(",") if s.strip())
    for option, names in (
        ("$filter", [c.name for c in filters]),
        ("$orderby", [order] if order else []),
        ("$select", list(select)),
    ):
        for name in names:
            if name not in properties:
                raise _wrong(
                    option,
                    sentence(
                        "{name} is not known here: {known}.",
                        name=name[:40],
                        known=", ".join(sorted(properties)),
                    ),
                )
    for name in expand:
        if name not in expandable:
            have = ", ".join(sorted(expandable)) or "nothing"
            raise _wrong(
                "$expand",
                sentence("{name} can't be expanded here; {have} can.", name=name[:40], have=have),
            )
    if way.strip() not in ("", "asc", "desc"):
        raise _wrong("$orderby", sentence("Order is asc or desc."))
    return Options(
        top=_whole(query, "$top", DEFAULT_TOP, MAX_TOP),
        skip=_whole(query, "$skip", 0, 10**9),
        count=query.get("$count", "false").lower() == "true",
        order_by=order,
        descending=way.strip() == "desc",
        filters=filters,
        select=select,
        expand=expand,
        asked=query,
    )
