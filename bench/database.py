"""A database of a benchmark's own, with a farm of probes in it."""

import os
import secrets
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from typing import Any

import psycopg

START = datetime(2026, 1, 1, tzinfo=UTC)
DEPTHS = (100, 200, 300, 400, 500, 600, 800, 1000)


def admin() -> psycopg.Connection[Any]:
    where = {
        "host": os.environ["FURROW_DB_HOST"],
        "port": os.environ["FURROW_DB_PORT"],
        "user": os.environ["FURROW_DB_USER"],
        "password": os.environ["FURROW_DB_PASSWORD"],
    }
    return psycopg.connect(**where, dbname="postgres", autocommit=True)  # type: ignore[arg-type]


@contextmanager
def bench_database() -> Iterator[str]:
    """A migrated database that goes when the benchmark ends; its name."""
    name = f"furrow_bench_{secrets.token_hex(4)}"
    os.environ["FURROW_DB_NAME"] = name
    os.environ["DJANGO_SETTINGS_MODULE"] = "server.settings"
    os.environ["FURROW_HOSTS"] = "127.0.0.1,localhost,testserver"
    with admin() as db:
        db.execute(f'CREATE DATABASE "{name}"')
    try:
        import django
        from django.core.management import call_command

        django.setup()
        call_command("migrate", verbosity=0)
        yield name
    finally:
        from django.db import connection

        connection.close()
        connection.close_pool()  # type: ignore[attr-defined]
        with admin() as db:
            db.execute(f'DROP DATABASE "{name}" WITH (FORCE)')


def make_farm(probes: int = 1) -> tuple[str, list[int], int, int]:
    """A farm with probes of eight depths and a logger; token, channels, an instrument, a batch."""
    from core.soil.texture import TextureClass
    from server.accounts.models import User
    from server.blocks.models import Block
    from server.devices.services import add_device
    from server.farms.access import Access
    from server.farms.models import Farm, Membership, Role
    from server.instruments.models import Channel, Instrument
    from server.limits.models import BlockSoil
    from server.readings.models import ReadingBatch
    from server.soils.models import Horizon, SoilProfile

    farm = Farm(name="Bench", slug="bench", time_zone="CET")
    farm.save()
    user = User.objects.create_user("bench@example.org", "Bench", "a-long-password")
    Membership(user=user, farm=farm, role=Role.MANAGER).save()
    soil = SoilProfile(farm=farm, name="Loam")
    soil.save()
    Horizon(profile=soil, top_mm=0, bottom_mm=1200, texture=str(TextureClass.LOAM)).save()
    block = Block(farm=farm, name="B", area_m2=10_000, system_kind="drip", efficiency=0.9)
    block.save()
    BlockSoil(block=block, soil=soil, made_at=START).save()
    channels = []
    for number in range(probes):
        probe = Instrument(block=block, label=f"P{number}", kind="capacitance_probe")
        probe.save()
        for depth in DEPTHS:
            channel = Channel(instrument=probe, quantity="theta", depth_mm=depth)
            channel.save()
            channels.append(channel)
    batch = ReadingBatch(farm=farm, origin=ReadingBatch.Origin.SIMULATED)
    batch.save()
    token = add_device(Access(user, farm, Role.MANAGER), "D", []).token
    return token, [c.pk for c in channels], probe.pk, batch.pk
