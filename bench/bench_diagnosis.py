"""Diagnoses of simulated blocks with planted faults and look-alikes, see docs/diagnosis.md.

`python -m bench diagnosis` measures; `bench_diagnosis.py --write FILE` writes the table too.
"""

import sys
import time
from collections.abc import Sequence
from pathlib import Path

import numpy as np

from bench.figures import Figure, run
from core.diagnosis.cause import Cause, cause_words
from core.diagnosis.diagnose import diagnose
from core.world.climates import Climate
from core.world.diagnosis_setups import CLEAN, SETUPS
from core.world.diagnosis_trial import Diagnosed, diagnosed
from core.world.layerings import TEXTURES, uniform
from core.world.truths import TruthKind

SEEDS, AT_ONCE = (101, 102), 8
PRECISION, RECALL, FEWEST = 0.9, 0.8, 20
LIMIT_MS = 100.0


def all_blocks(kind: TruthKind) -> list[Diagnosed]:
    """Two seasons in each of two climates, a block of every setup on six soils under two crops."""
    out = []
    for seed in SEEDS:
        for climate in (Climate.ARID, Climate.MIXED):
            for k in range(0, len(SETUPS), AT_ONCE):
                part = SETUPS[k : k + AT_ONCE]
                out += diagnosed(part, uniform(TEXTURES), climate, kind, seed)
    return out


def judged(blocks: Sequence[Diagnosed], cause: Cause) -> tuple[int, int, int, int, int, int]:
    """Cases, of them found; look-alikes, of them found; all other blocks, of them found."""
    cases = [b for b in blocks if cause in b.true]
    clear = [b for b in blocks if cause not in b.true and cause not in b.unclear]
    alike = [b for b in clear if cause in b.setup.looks_like]
    rest = [b for b in clear if cause not in b.setup.looks_like]
    return (
        len(cases),
        sum(b.says(cause) for b in cases),
        len(alike),
        sum(b.says(cause) for b in alike),
        len(rest),
        sum(b.says(cause) for b in rest),
    )


def measure() -> list[Figure]:
    by_kind = {kind: all_blocks(kind) for kind in TruthKind}
    lines = [
        "| | truth | cases | found | look-alikes | found | recall | precision | elsewhere |",
        "|---|---|---|---|---|---|---|---|---|",
    ]
    kept = told = 0
    for cause in Cause:
        for kind, blocks in by_kind.items():
            cases, hits, alike, wrong, rest, odd = judged(blocks, cause)
            if cases < FEWEST:
                continue
            recall, precision = hits / cases, hits / max(hits + wrong, 1)
            told += 1
            kept += recall >= RECALL and precision >= PRECISION
            lines.append(
                f"| {cause_words()[cause].name} | {kind} | {cases} | {hits} | {alike} | {wrong} "
                f"| {recall:.2f} | {precision:.2f} | {odd} of {rest} |"
            )
    clean = [b for blocks in by_kind.values() for b in blocks if b.setup is CLEAN]
    false = [f.cause for b in clean for f in b.found if f.cause not in b.true | b.unclear]
    if "--write" in sys.argv:
        Path(sys.argv[sys.argv.index("--write") + 1]).write_text("\n".join(lines) + "\n", "utf-8")
    return [
        Figure(f"of {told} causes by truth, targets kept", 100 * kept / told, "%", 70, "at least"),
        Figure(f"false findings in {len(clean)} clean seasons", len(false) / len(clean), "", 0.4),
        speed(by_kind[TruthKind.LAYERED]),
    ]


def speed(blocks: Sequence[Diagnosed]) -> Figure:
    """One block of two probes with seven sensors, read each hour for 90 days."""
    took = []
    for block in blocks[:20]:
        start = time.perf_counter()
        diagnose(block.block)
        took.append(time.perf_counter() - start)
    return Figure("a block diagnosed", 1000 * float(np.median(took)), "ms", LIMIT_MS)


if __name__ == "__main__":
    run(measure)
