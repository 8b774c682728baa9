"""What an operation's own example becomes with one thing in it that nobody would send."""

import json
import random
from collections.abc import Iterator
from typing import Any

# Written as they are: Python's own JSON has no words for some of them.
NUMBERS = (
    *("1e400", "-1e400", "1e308", "-1e308", "5e-324", "NaN", "Infinity", "-Infinity", "-0.0"),
    *("0", "-1", "1", "0.1", "2147483648", "9223372036854775808", "1" * 400, "1." + "3" * 400),
)
TEXTS = (
    *("", " ", "a", "0", "-1", "1e9", "NaN", "null", "\x00", "a\x00b", "\ud800", "a\udfff"),
    *("\u202e\u200b", "\U0001f4a7" * 40, "e" + "\u0301" * 300, "x" * 300, "x" * 100_000),
    *("../../etc/passwd", "%00", "';--", "<script>", "{0}", "%s%n", "\r\nSet-Cookie: a=b"),
    *("=1+1", "\ufeff", "٣", "2,5"),
)
TIMES = (
    *("0001-01-01T00:00:00Z", "9999-12-31T23:59:59-14:00", "9999-12-31", "0001-01-01"),
    *("2026-02-30", "2026-03-29T02:30:00", "1949-12-31T23:59:59Z", "2126-07-14T05:00:00Z"),
    *("2026-07-14T05:00:00+99:00", "2026-07-14T24:00:00Z", "2026-07-14T05:00:60Z", "-1-01-01"),
    *("2026-07-14", "2026-W29-2", "1752530400", "1e18", "14.07.2026", "+12026-07-14T05:00:00Z"),
)
OTHERS = (
    *("null", "true", "false", "[]", "{}", "[[]]", "[null]", '{"":null}', "[" * 60 + "]" * 60),
    *("[" * 5_000 + "]" * 5_000, '{"a":' * 3_000 + "1" + "}" * 3_000, "[1" + ",1" * 20_000 + "]"),
)
# What stands for a value until the text is written.
_MARK = "\u2603mark"

Place = tuple[str | int, ...]


def odd(chance: random.Random) -> str:
    """A value as JSON would have it, or as no JSON would."""
    kind = chance.randrange(5)
    if kind == 0:
        return json.dumps(chance.choice(TEXTS))
    if kind == 1:
        return json.dumps(chance.choice(TIMES))
    return chance.choice(OTHERS if kind == 2 else NUMBERS)


def _places(value: Any, at: Place = ()) -> Iterator[Place]:
    """Where something stands in a body, the body itself first."""
    yield at
    inner = (
        value.items()
        if isinstance(value, dict)
        else enumerate(value)
        if isinstance(value, list)
        else ()
    )
    for key, held in inner:
        yield from _places(held, (*at, key))


def _with(value: Any, at: Place, changed: Any) -> Any:
    if not at:
        return changed
    copy = dict(value) if isinstance(value, dict) else list(value)
    copy[at[0]] = _with(value[at[0]], at[1:], changed)
    return copy


def _held(value: Any, at: Place) -> Any:
    for key in at:
        value = value[key]
    return value


def mutated(body: Any, chance: random.Random) -> str:
    """A body's JSON with one to three things changed, left out, added or said many times over."""
    odds: list[str] = []
    for _ in range(chance.choice((1, 1, 1, 2, 3))):
        places = list(_places(body))
        # The whole body is one place of many, and soon tried.
        at = chance.choice(places[1:] if len(places) > 1 and chance.random() < 0.95 else places)
        held = _held(body, at)
        what = chance.randrange(8)
        if what == 0 and at:
            body = _without(body, at)
        elif what == 1 and isinstance(held, list) and held:
            body = _with(body, at, held * chance.choice((2, 3, 3_000)))
        elif what == 2 and isinstance(held, dict):
            odds.append(odd(chance))
            body = _with(body, at, {**held, "more": f"{_MARK}{len(odds) - 1}"})
        else:
            odds.append(odd(chance))
            body = _with(body, at, f"{_MARK}{len(odds) - 1}")
    text = json.dumps(body)
    for k, value in enumerate(odds):
        text = text.replace(json.dumps(f"{_MARK}{k}"), value)
    return text


def _without(value: Any, at: Place) -> Any:
    copy = dict(value) if isinstance(value, dict) else list(value)
    if len(at) == 1:
        del copy[at[0]]  # type: ignore[arg-type]
        return copy
    copy[at[0]] = _without(value[at[0]], at[1:])  # type: ignore[index]
    return copy
