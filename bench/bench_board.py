"""The board of 300 blocks from stored lines, one new reading, and a what-if.

Limits: the board answers in under 50 ms (through the whole of Django, compressed), all of it is
made anew in under 2 s, one new reading makes one line anew and no other, a what-if of one block
answers in under 100 ms.
"""

import gzip
import json
import time
from datetime import date, timedelta
from typing import Any

import numpy as np

from bench.database import bench_database
from bench.figures import Figure, run

BLOCKS = 300
BOARD_MS, ANEW_S, WHAT_IF_MS = 50.0, 2.0, 100.0

# The spans are what a board reads of its readings.
_COPY_SPANS = """
INSERT INTO readings_readingspan
SELECT %(to)s, start, count, doubted, low, high, doubt_low, doubt_high, last, last_at,
    last_flags, flags
FROM readings_readingspan WHERE channel_id = %(of)s
"""


def many_blocks() -> Any:
    """The demo farm with its blocks copied until there are enough."""
    from django.db import connection

    from server.blocks.models import Block, CropSeason
    from server.demo.seed import seed_demo
    from server.instruments.models import Channel, Instrument
    from server.limits.models import BlockSoil
    from server.water.models import Irrigation

    farm = seed_demo()
    demo = list(Block.objects.for_farm(farm).prefetch_related("instruments__channels"))
    with connection.cursor() as cursor:
        for k in range(len(demo), BLOCKS):
            of = demo[k % len(demo)]
            block = Block.objects.for_farm(farm).get(pk=of.pk)
            block.pk, block.name, block._state.adding = None, f"{of.name} {k}", True
            block.save()
            for model in (BlockSoil, CropSeason, Irrigation):
                for row in model.objects.for_farm(farm).filter(block=of):
                    row.pk, row.block, row._state.adding = None, block, True
                    row.save()
            for instrument in of.instruments.all():
                made = Instrument(
                    block=block, label=f"{instrument.label} {k}", kind=instrument.kind
                )
                made.save()
                for c in instrument.channels.all():
                    channel = Channel(instrument=made, quantity=c.quantity, depth_mm=c.depth_mm)
                    channel.save()
                    cursor.execute(_COPY_SPANS, {"of": c.pk, "to": channel.pk})
        cursor.execute("ANALYZE")
    return farm


def measure() -> list[Figure]:
    with bench_database():
        from django.test import Client

        from core.instrument.reading_units import code_of
        from server.accounts.demo_people import demo_user
        from server.advice.models import Touched
        from server.advice.stored import refresh
        from server.farms.models import Role
        from server.instruments.models import Channel
        from server.readings.models import ReadingBatch
        from server.readings.store import ROW, row_of, store_readings

        farm = many_blocks()
        start = time.perf_counter()
        refresh(farm)
        first = time.perf_counter() - start
        # From now on each goes on from yesterday's morning, as on any other day.
        Touched(farm_id=farm.pk, first_on=date.max).save()
        start = time.perf_counter()
        made = len(refresh(farm))
        whole = time.perf_counter() - start

        client = Client(headers={"Accept-Encoding": "gzip"})
        client.force_login(
            demo_user(Role.MANAGER), backend="django.contrib.auth.backends.ModelBackend"
        )
        url = f"/api/farms/{farm.slug}/board"
        taken = []
        for _ in range(7):
            start = time.perf_counter()
            answer = client.get(url)
            taken.append(time.perf_counter() - start)
        board = min(taken)
        rows = json.loads(gzip.decompress(answer.content))["rows"]
        assert len(rows) == made == BLOCKS

        channel = Channel.objects.for_farm(farm).filter(instrument__label="Probe A1 200").first()
        batch = ReadingBatch(farm=farm, origin=ReadingBatch.Origin.HAND)
        batch.save()
        at = farm.now() - timedelta(minutes=3)
        store_readings(batch, np.array([row_of(channel.pk, at, 0.24, code_of("m3/m3"))], ROW))
        start = time.perf_counter()
        again = refresh(farm)
        one = time.perf_counter() - start
        assert again == [channel.instrument.block_id], again

        path = f"/api/farms/{farm.slug}/blocks/{again[0]}/what-if"
        tried = []
        for hours in range(7):
            start = time.perf_counter()
            client.post(
                path,
                json.dumps({"set_start_hours": hours, "set_hours": 5}),
                content_type="application/json",
            )
            tried.append(time.perf_counter() - start)
        what_if = min(tried)
        print(
            f"{len(answer.content) / 1000:.0f} kB; one after a reading in {one * 1000:.0f} ms; "
            f"{BLOCKS} new blocks followed from their first days in {first:.1f} s"
        )
        return [
            Figure(f"board of {BLOCKS} blocks from stored lines", board * 1000, "ms", BOARD_MS),
            Figure(f"board of {BLOCKS} blocks made anew", whole, "s", ANEW_S),
            Figure("what if on one block", what_if * 1000, "ms", WHAT_IF_MS),
        ]


if __name__ == "__main__":
    run(measure)
