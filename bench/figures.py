"""What a benchmark measured, beside its limit."""

import json
import os
import sys
from collections.abc import Callable, Iterable
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Literal

# Where the runner wants the figures of one benchmark, as JSON lines.
WRITE_TO = "FURROW_BENCH_FIGURES"


@dataclass(frozen=True)
class Figure:
    """One figure; ``bound`` says whether it may be at most or must be at least its limit."""

    what: str
    value: float
    unit: str
    limit: float
    bound: Literal["at most", "at least"] = "at most"

    @property
    def kept(self) -> bool:
        """Whether the limit is kept; never by a figure that is not a number."""
        return self.value <= self.limit if self.bound == "at most" else self.value >= self.limit

    @property
    def row(self) -> tuple[str, str, str, str]:
        """What, figure, limit and review as texts of the table."""
        unit = f" {self.unit}" if self.unit else ""
        limit = f"{self.bound} {self.limit:,.4g}{unit}"
        return self.what, f"{self.value:,.4g}{unit}", limit, "kept" if self.kept else "MISSED"


def run(measure: Callable[[], Iterable[Figure]]) -> None:
    """Measure, print, hand the figures to the runner if there is one, and exit."""
    figures = list(measure())
    for figure in figures:
        print(" · ".join(figure.row), flush=True)
    if path := os.environ.get(WRITE_TO):
        Path(path).write_text("\n".join(json.dumps(asdict(f)) for f in figures))
    sys.exit(0 if all(f.kept for f in figures) else 1)
