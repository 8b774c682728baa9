"""What is said of a value that a schema can't take: plain sentences in place of the library's."""

from typing import Any

from core.sentence import Sentence, sentence
from server.base.errors import Problem

# Where in a request a value stood; the interface knows its fields without it.
_PLACES = ("body", "data", "query", "form", "path")
LONGEST_SHOWN = 60

# By the library's name of an error, with its figures filled in.
_SENTENCES: dict[str, Sentence] = {
    "missing": sentence("This is needed."),
    "extra_forbidden": sentence("There is no such field here."),
    "int_type": sentence("Enter a whole number."),
    "int_parsing": sentence("Enter a whole number."),
    "int_parsing_size": sentence("Enter a smaller number."),
    "int_from_float": sentence("Enter a whole number."),
    "float_type": sentence("Enter a number."),
    "float_parsing": sentence("Enter a number."),
    "finite_number": sentence("Enter a number."),
    "bool_type": sentence("Enter true or false."),
    "bool_parsing": sentence("Enter true or false."),
    "string_type": sentence("Enter text."),
    "list_type": sentence("A list is needed here."),
    "dict_type": sentence("An object is needed here."),
    "model_type": sentence("An object is needed here."),
    "model_attributes_type": sentence("An object is needed here."),
    "date_type": sentence("Enter a date such as 2026-07-14."),
    "date_parsing": sentence("Enter a date such as 2026-07-14."),
    "date_from_datetime_parsing": sentence("Enter a date such as 2026-07-14."),
    "date_from_datetime_inexact": sentence("Enter a date such as 2026-07-14, without a time."),
    "datetime_type": sentence("Enter a time such as 2026-07-14T06:00."),
    "datetime_parsing": sentence("Enter a time such as 2026-07-14T06:00."),
    "datetime_from_date_parsing": sentence("Enter a time such as 2026-07-14T06:00."),
    "json_invalid": sentence("This is not JSON."),
}


def _of_limits(kind: str, limits: dict[str, Any]) -> Sentence | None:
    """What is said where the value is of its type but beyond its limits."""
    match kind:
        case "greater_than":
            return sentence("Enter more than {limit:g}.", limit=limits["gt"])
        case "greater_than_equal":
            return sentence("Enter {limit:g} or more.", limit=limits["ge"])
        case "less_than":
            return sentence("Enter less than {limit:g}.", limit=limits["lt"])
        case "less_than_equal":
            return sentence("Enter {limit:g} or less.", limit=limits["le"])
        case "string_too_short" if limits["min_length"] == 1:
            return _SENTENCES["missing"]
        case "too_short" if limits["min_length"] == 1:
            return sentence("At least one is needed.")
        case "string_too_short":
            return sentence("Enter at least {count} characters.", count=limits["min_length"])
        case "string_too_long":
            return sentence("Enter at most {count} characters.", count=limits["max_length"])
        case "too_short":
            return sentence("At least {count} are needed.", count=limits["min_length"])
        case "too_long":
            return sentence("At most {count} are taken.", count=limits["max_length"])
        case "enum" | "literal_error":
            return sentence("Choose one of {choices}.", choices=limits["expected"])
    return None


def value_problem(error: dict[str, Any]) -> Problem:
    """A schema's error with the field as the interface names it and a plain sentence."""
    path = [str(p) for p in error["loc"] if p not in _PLACES]
    kind, given = error["type"], error.get("input")
    said = _SENTENCES.get(kind) or _of_limits(kind, error.get("ctx") or {})
    if said is None:
        said = sentence("{reason}.", reason=error["msg"])
    if isinstance(given, str | int | float) and given != "":
        shown = str(given)[:LONGEST_SHOWN]
        said = sentence("{said} This can't be used: {value}", said=said, value=shown)
    return Problem(field=".".join(path), message=said)
