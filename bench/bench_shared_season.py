"""Whole seasons with limited pumps: the plan of each morning followed, beside the most urgent block
first and a calendar; see docs/planning.md.

Two drawn farms of 12 blocks and two sources at each of two loads, 75 days. The plan costs no more
than either rule on every farm. A source brings at least one and a half of its largest block, so
that some carry less than the load says. Takes a quarter of an hour.

`python -m bench shared_season` measures; `bench_shared_season.py --write FILE` writes the table.
"""

import sys
from concurrent.futures import ProcessPoolExecutor
from dataclasses import fields
from pathlib import Path

from bench.figures import Figure, run
from core.world.shared_season import SeasonRule, SharedSeason, shared_season

BLOCKS, SOURCES, DAYS = 12, 2, 75
LOADS, SEEDS = (0.7, 0.95), (1, 2)

Case = tuple[SeasonRule, float, int]


def season(case: Case) -> SharedSeason:
    rule, load, seed = case
    return shared_season(rule, BLOCKS, SOURCES, load, seed, DAYS)


def mean(of: list[SharedSeason]) -> SharedSeason:
    return SharedSeason(
        **{f.name: sum(getattr(s, f.name) for s in of) / len(of) for f in fields(SharedSeason)}
    )


def table(found: dict[Case, SharedSeason]) -> str:
    lines = [
        "| load | decided by | stress | yield lost | power | month's peaks | highest peak | water |"
        " labour | in all |",
        "|---|---|---|---|---|---|---|---|---|---|",
    ]
    for load in LOADS:
        for rule in SeasonRule:
            s = mean([found[(rule, load, seed)] for seed in SEEDS])
            lines.append(
                f"| {load} | {rule} | {s.stress_mm:.0f} mm | {s.lost:,.0f} | {s.power:,.0f} |"
                f" {s.peak:,.0f} | {s.peak_kw:.0f} kW | {s.water_m3:,.0f} m³ | {s.labour:,.0f} |"
                f" {s.total:,.0f} |"
            )
    return "\n".join(lines)


def measure() -> list[Figure]:
    cases = [(rule, load, seed) for load in LOADS for seed in SEEDS for rule in SeasonRule]
    with ProcessPoolExecutor(2) as pool:
        found = dict(zip(cases, pool.map(season, cases), strict=True))
    said = table(found)
    print(said)
    if "--write" in sys.argv:
        Path(sys.argv[sys.argv.index("--write") + 1]).write_text(said + "\n", encoding="utf-8")
    out = []
    for load in LOADS:
        for other in (SeasonRule.URGENT, SeasonRule.CALENDAR):
            worst = max(
                found[(SeasonRule.PLAN, load, seed)].total / found[(other, load, seed)].total
                for seed in SEEDS
            )
            name = f"season at load {load}: plan over {other}, money in all"
            out.append(Figure(name, worst, "", 1.0))
    return out


if __name__ == "__main__":
    run(measure)
