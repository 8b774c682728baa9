"""Plans of drawn farms beside what none can be below, see docs/planning.md.

Five farms at each load, and the figures are the medians; both cores are used. Limits: 60 blocks of
three sources in 10 s, 300 of ten in 60 s.

`python -m bench planning` measures.
"""

import time

import numpy as np

from bench.figures import Figure, run
from core.plan.make_plan import make_plan, worked_out
from core.plan.orders import earliest_latest_start, most_urgent_first
from core.plan.search import earliest_fit
from core.world.plan_farms import drawn_farm

SEEDS = (1, 2, 3, 4, 5)
# Blocks, sources and seconds; the gap wanted by load [%].
SIZES = {
    (60, 3, 10.0): {0.6: 1.0, 0.95: 2.5, 1.3: 4.0},
    (300, 10, 60.0): {0.6: 1.3, 0.95: 4.0, 1.3: 8.0},
}
MEMBERS = 20


def measure() -> list[Figure]:
    out = []
    # Compiled loops are there from the first plan on.
    make_plan(*drawn_farm(20, 2, 1.0, 0, MEMBERS), looks=10_000)
    for (blocks, sources, limit_s), wanted in SIZES.items():
        for load, most in wanted.items():
            gaps, seconds, dearer = [], [], []
            for seed in SEEDS:
                shared, drawn = drawn_farm(blocks, sources, load, seed, MEMBERS)
                began = time.perf_counter()
                plan = make_plan(shared, drawn)
                seconds.append(time.perf_counter() - began)
                gaps.append(100 * plan.gap)
                patterns, cost, rows = worked_out(shared, drawn)
                for order in (most_urgent_first, earliest_latest_start):
                    by_rule = earliest_fit(patterns, rows, cost, order(drawn)).cost / 100
                    dearer.append(100 * (by_rule / plan.cost - 1))
            name = f"{blocks} blocks x {sources} sources at load {load:g}"
            out += [
                Figure(f"{name}: gap", float(np.median(gaps)), "%", most, "at most"),
                Figure(f"{name}: the longest", max(seconds), "s", limit_s, "at most"),
                Figure(f"{name}: least that rules cost more", min(dearer), "%", 0.0, "at least"),
            ]
            print(name, [round(g, 2) for g in gaps], [round(d, 1) for d in dearer], flush=True)
    return out


if __name__ == "__main__":
    raise SystemExit(run(measure))
