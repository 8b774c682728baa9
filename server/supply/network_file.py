"""A table of sources, mains, groups, machines, people and blocks: one row each, columns in any
order."""

import re
from collections.abc import Mapping
from datetime import date
from typing import Any

from pydantic import ValidationError

from core.plan.network import NetworkProblem
from core.plan.tariff import TariffProblem
from core.sentence import sentence
from core.units import M3_PER_US_GALLON
from server.base.schema import Body
from server.files.table_file import (
    MISSING,
    FileProblems,
    cell_number,
    delimiter_of,
    read_rows,
    read_text,
)
from server.supply.document import (
    ConnectionPart,
    GroupPart,
    MachinePart,
    MainPart,
    NetworkDocument,
    SourcePart,
    WorkerPart,
    network_of,
)

EXAMPLE = "kind,name,flow m3/h,day m3,kWh/m3"
# m3/h of each unit of flow that a heading may name.
_FLOWS = {"m3": 1.0, "l/s": 3.6, "gpm": M3_PER_US_GALLON * 60}
# Kinds of rows: the list of the document that they go to, and the columns that they may fill.
_KINDS: dict[str, tuple[str, frozenset[str]]] = {
    "source": (
        "sources",
        frozenset(
            (
                *("flow_m3_h", "smallest_m3_h", "from_hour", "to_hour", "day_m3", "season_m3"),
                *("season_from", "kwh_m3", "head_m", "efficiency", "water_price", "tariff"),
            )
        ),
    ),
    "main": ("mains", frozenset({"flow_m3_h"})),
    "group": ("groups", frozenset({"most_together"})),
    "machine": ("machines", frozenset({"moving_hours"})),
    "person": ("workers", frozenset({"from_hour", "to_hour", "starts"})),
    "block": ("connections", frozenset({"mains", "groups", "machine", "people", "labour_h"})),
}
_PARTS: dict[str, type[Body]] = {
    "sources": SourcePart,
    "mains": MainPart,
    "groups": GroupPart,
    "machines": MachinePart,
    "workers": WorkerPart,
    "connections": ConnectionPart,
}
# Several names in a cell, with + between them.
_NAMES = frozenset({"mains", "groups"})
_TEXTS = frozenset({"tariff", "machine"})
_WHOLE = frozenset({"starts", "people", "most_together"})
# What a column may be called; the first that fits names it.
_COLUMNS: tuple[tuple[str, str], ...] = (
    (r"kind|part|type", "kind"),
    (r"name", "name"),
    (r"(min|smallest).*flow", "smallest_m3_h"),
    (r"(max\w* )?(flow|capacity)", "flow_m3_h"),
    (r"from.?hour|from$|begin", "from_hour"),
    (r"to.?hour|to$|end", "to_hour"),
    (r"season.?from|licen[cs]e.?from", "season_from"),
    (r"season", "season_m3"),
    (r"day", "day_m3"),
    (r"kwh|energy", "kwh_m3"),
    (r"head", "head_m"),
    (r"efficiency", "efficiency"),
    (r"water.?price", "water_price"),
    (r"tariff", "tariff"),
    (r"moving", "moving_hours"),
    (r"starts", "starts"),
    (r"(most|max\w*)?.?(run.?)?together", "most_together"),
    (r"groups", "groups"),
    (r"mains", "mains"),
    (r"machine", "machine"),
    (r"people", "people"),
    (r"labou?r", "labour_h"),
)


def _column(heading: str) -> tuple[str, float] | None:
    """What a column holds, and what one of its units is in ours."""
    text = heading.strip().lower().replace("_", " ")
    for pattern, name in _COLUMNS:
        if re.match(pattern, text):
            size = 1.0
            if name in ("flow_m3_h", "smallest_m3_h"):
                size = next((f for unit, f in _FLOWS.items() if unit in text), 1.0)
                size = _FLOWS["l/s"] if re.search(r"\bl s\b", text) else size
            if name == "efficiency" and ("%" in text or "percent" in text):
                size = 0.01
            return name, size
    return None


def network_from_file(
    data: bytes, before: NetworkDocument, blocks: Mapping[str, int]
) -> NetworkDocument:
    """A description with the rows of a file in it: what has the same name is changed in the cells
    that are filled, everything else is added.

    Parameters
    ----------
    blocks : numbers of the farm's blocks by name in small letters

    Raises
    ------
    RequestError
        With row, column and cure of each problem.
    """
    text = read_text(data)
    delimiter = delimiter_of(next(x for x in text.split("\n") if x.strip()), EXAMPLE)
    rows = read_rows(text, delimiter)
    heading = rows[0][1]
    columns = [_column(h) for h in heading]
    problems = FileProblems({c[0]: h.strip() for h, c in zip(heading, columns, strict=True) if c})
    known = {c[0] for c in columns if c}
    for needed in ("kind", "name"):
        if needed not in known:
            problems.add(
                rows[0][0],
                needed,
                sentence(
                    "There is no column “{name}”; expected e.g. {example}.",
                    name=needed,
                    example=EXAMPLE,
                ),
            )
    if problems.found:
        raise problems.refuse()
    parts: dict[str, list[Any]] = {p: list(getattr(before, p)) for p in _PARTS}
    for number, cells in rows[1:]:
        row = {
            column[0]: (cells[i].strip(), column[1])
            for i, column in enumerate(columns)
            if column and i < len(cells) and cells[i].strip().lower() not in MISSING
        }
        _read_row(number, row, parts, blocks, problems, decimal_comma=delimiter != ",")
    if problems.found:
        raise problems.refuse()
    document = before.model_copy(update=parts)
    network_of(document)
    return document


def _read_row(
    number: int,
    row: dict[str, tuple[str, float]],
    parts: dict[str, list[Any]],
    blocks: Mapping[str, int],
    problems: FileProblems,
    *,
    decimal_comma: bool,
) -> None:
    kind = row.get("kind", ("", 1.0))[0].lower()
    name = row.get("name", ("", 1.0))[0]
    if kind not in _KINDS:
        problems.add(
            number,
            "kind",
            sentence(
                "'{kind}' is not a kind of row; write {kinds}.",
                kind=kind[:40],
                kinds=", ".join(_KINDS),
            ),
        )
        return
    if not name:
        problems.add(number, "name", sentence("This cell can't be empty."))
        return
    part, may_fill = _KINDS[kind]
    own: dict[str, Any] = {"name": name[:80]}
    if part == "connections":
        if name.casefold() not in blocks:
            problems.add(number, "name", sentence("No block is named {name}.", name=name[:80]))
            return
        own = {"block_id": blocks[name.casefold()]}
    for column, (cell, size) in row.items():
        if column in ("kind", "name"):
            continue
        if column not in may_fill:
            problems.add(
                number, column, sentence("A {kind} has none; leave the cell empty.", kind=kind)
            )
            continue
        value = _value(column, cell, size, decimal_comma)
        if value is None:
            problems.add(number, column, _unreadable(column, cell))
            continue
        own[column] = value
    _put(number, part, own, parts[part], problems)


def _value(column: str, cell: str, size: float, decimal_comma: bool) -> Any:
    if column in _TEXTS:
        return cell[:80]
    if column in _NAMES:
        return [m.strip()[:80] for m in cell.split("+") if m.strip()]
    if column == "season_from":
        try:
            return date.fromisoformat(cell)
        except ValueError:
            return None
    value = cell_number(cell, decimal_comma)
    if value is None or (column in _WHOLE and value != int(value)):
        return None
    return int(value) if column in _WHOLE else round(value * size, 9)


def _unreadable(column: str, cell: str) -> Any:
    if column == "season_from":
        return sentence("'{cell}' is not a date; write it as 2026-04-01.", cell=cell[:40])
    if column in _WHOLE:
        return sentence("'{cell}' is not a whole number.", cell=cell[:40])
    return sentence("'{cell}' is not a number.", cell=cell[:40])


def _put(
    number: int, part: str, own: dict[str, Any], rows: list[Any], problems: FileProblems
) -> None:
    """Change the row of the same name, or add one, and check it by itself."""
    key = "block_id" if part == "connections" else "name"

    def same(row: Any) -> bool:
        have, want = getattr(row, key), own[key]
        return bool(have == want if key == "block_id" else have.casefold() == want.casefold())

    at = next((k for k, r in enumerate(rows) if same(r)), None)
    fields = {**(rows[at].model_dump() if at is not None else {}), **own}
    if part == "sources":
        # One way of telling the energy replaces the other.
        if "kwh_m3" in own:
            fields.update(head_m=None, efficiency=None)
        elif "head_m" in own or "efficiency" in own:
            fields["kwh_m3"] = None
    try:
        made: Any = _PARTS[part].model_validate(fields)
        made.core()
    except ValidationError as wrong:
        column = str(wrong.errors()[0]["loc"][0])
        problems.add(number, column, sentence("This value can't be used."))
        return
    except (NetworkProblem, TariffProblem) as wrong:
        problems.add(number, wrong.field, wrong.message)
        return
    if at is None:
        rows.append(made)
    else:
        rows[at] = made
