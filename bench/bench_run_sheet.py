"""A dragged irrigation on a run sheet of 300 blocks: read from what is stored, checked, priced.

All that is worked out for an answer, but for the database and the way to the browser; limit 200 ms.

`python -m bench run_sheet` measures.
"""

import json
import os
import time

import django

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
django.setup()

import numpy as np  # noqa: E402 - after the settings

from bench.figures import Figure, run  # noqa: E402
from core.plan.make_plan import cheapest_plan  # noqa: E402
from core.plan.sheet import broken_rules, peak_of  # noqa: E402
from core.plan.store_course import store_course  # noqa: E402
from core.world.plan_farms import drawn_farm  # noqa: E402
from server.plan.money import money_of  # noqa: E402
from server.plan.sheet_sets import SheetSet, dump_sets, planned_sets, read_sets  # noqa: E402
from server.plan.stored import (  # noqa: E402
    StoredAhead,
    StoredInputs,
    StoredMachine,
    StoredMain,
    plan_block_of,
    stored_block,
    stored_source,
)

BLOCKS, SOURCES, MEMBERS, LOAD = 300, 10, 50, 0.95
LIMIT_MS, DRAGS = 200.0, 15


def measure() -> list[Figure]:
    shared, blocks = drawn_farm(BLOCKS, SOURCES, LOAD, 1, MEMBERS)
    plan = cheapest_plan(shared, blocks)
    stored = StoredInputs(
        currency="",
        value_assumed=False,
        sources=[stored_source(s) for s in shared.sources],
        mains=[StoredMain.model_validate(m) for m in shared.mains],
        machines=[StoredMachine.model_validate(m) for m in shared.machines],
        people=shared.people.tolist(),
        blocks=[stored_block(k, b) for k, b in enumerate(blocks)],
        left_out=[],
    )
    inputs = json.loads(stored.model_dump_json())
    ahead = json.loads(StoredAhead.of(blocks[0]).model_dump_json())
    sets = dump_sets(
        SheetSet(id=k, block_id=s.block, start=s.start, slots=s.slots, net_mm=s.net_mm)
        for k, s in enumerate(plan.sets)
    )
    took = []
    for _ in range(DRAGS):
        began = time.perf_counter()
        _drag(inputs, ahead, sets)
        took.append(1000 * (time.perf_counter() - began))
    name = f"a drag among {BLOCKS} blocks with {len(sets)} irrigations"
    return [Figure(name, float(np.median(took)), "ms", LIMIT_MS, "at most")]


def _drag(inputs: dict[str, object], ahead: object, sets: list[dict[str, object]]) -> None:
    """What `server.plan.present.tried_out` works out."""
    stored = StoredInputs.model_validate(inputs)
    shared = stored.shared()
    blocks = [plan_block_of(b) for b in stored.blocks]
    planned = planned_sets(stored, read_sets(sets))
    broken_rules(shared, blocks, planned)
    peak_of(shared, blocks, planned)
    one = plan_block_of(stored.blocks[0], StoredAhead.model_validate(ahead))
    own = [s for s in planned if s.block == 0]
    money_of(one, shared, own)
    store_course(one, own)


if __name__ == "__main__":
    raise SystemExit(run(measure))
