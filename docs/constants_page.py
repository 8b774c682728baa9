"""The page of all constants of the rules, as they stand in the sources of the core."""

import ast
import re
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
CONSTANTS = ROOT / "docs" / "constants.md"
# Makes the simulated fields on which the rules are tried; no advice rests on it.
SIMULATED = ROOT / "core" / "world"
NAME = re.compile(r"[A-Z][A-Z0-9_]*")

HEAD = """# Constants

Every number that the rules rest on, with what the sources say of it: meaning, unit, origin. Where a
line says nothing, the line above it speaks for both. Figures of crops, soils and instruments are
data: `core/crop/*.csv`, `core/soil/*.csv` and `core/instrument/kinds.json`, each with its source
beside it.

Made from the sources by `./furrow docs`; a check holds it against them.
"""


@dataclass(frozen=True)
class Constant:
    """A named number or a few; ``said`` is the comment above it or at its end."""

    names: tuple[str, ...]
    values: tuple[str, ...]
    said: str


def _named(target: ast.expr) -> tuple[str, ...]:
    parts = target.elts if isinstance(target, ast.Tuple) else [target]
    return tuple(p.id for p in parts if isinstance(p, ast.Name))


def _is_number(node: ast.expr) -> bool:
    return not any(
        isinstance(n, ast.Call | ast.Attribute | ast.Dict | ast.Set | ast.Subscript | ast.Compare)
        or (isinstance(n, ast.Constant) and not isinstance(n.value, int | float))
        for n in ast.walk(node)
    ) and any(isinstance(n, ast.Constant) for n in ast.walk(node))


def _said(lines: list[str], node: ast.Assign) -> str:
    """The comment that stands right above, or at the end of the line."""
    first = node.lineno - 1
    above = first
    while above > 0 and lines[above - 1].startswith("#"):
        above -= 1
    said = [line.lstrip("# ") for line in lines[above:first]]
    _, mark, end = lines[(node.end_lineno or node.lineno) - 1].partition("  # ")
    return " ".join([*said, end] if mark else said).strip()


def constants_of(source: str) -> Iterator[Constant]:
    """The numbers that a module names, in its order."""
    lines = source.splitlines()
    for node in ast.parse(source).body:
        if not isinstance(node, ast.Assign) or not _is_number(node.value):
            continue
        names = _named(node.targets[0])
        if not names or not all(NAME.fullmatch(n) for n in names):
            continue
        several = len(names) > 1 and isinstance(node.value, ast.Tuple)
        parts = node.value.elts if several else [node.value]
        yield Constant(names, tuple(ast.unparse(p) for p in parts), _said(lines, node))


def constants_page() -> str:
    """All modules of the core that name any."""
    out = [HEAD]
    for path in sorted((ROOT / "core").rglob("*.py")):
        found = [] if SIMULATED in path.parents else list(constants_of(path.read_text("utf-8")))
        if not found:
            continue
        out.append(f"## {path.relative_to(ROOT)}\n")
        out.append("| name | value | meaning, unit, source |\n|---|---|---|")
        out += [
            f"| {', '.join(f'`{n}`' for n in c.names)} | {', '.join(c.values)} | {_cell(c.said)} |"
            for c in found
        ]
        out.append("")
    return "\n".join(out).rstrip() + "\n"


def _cell(text: str) -> str:
    return text.replace("|", "\\|")
