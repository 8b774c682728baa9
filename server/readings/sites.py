"""Instruments of a block with their readings, as the core takes them."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime

import numpy as np

from core.arrays import Bools, Floats
from core.instrument.kinds import InstrumentKind, Quantity, kinds
from core.instrument.life import silent_stretches
from core.instrument.site import Site
from core.soil.profile import Profile
from server.blocks.models import Block
from server.instruments.models import Channel, Instrument
from server.readings.recent import Thinned


def soil_channels(instrument: Instrument) -> list[Channel]:
    """Channels of an instrument that tell of the soil's water, shallow to deep."""
    if not kinds()[InstrumentKind(instrument.kind)].in_soil:
        return []
    return sorted(
        (
            c
            for c in instrument.channels.all()
            if c.depth_mm is not None and c.quantity != Quantity.TEMPERATURE
        ),
        key=lambda c: c.depth_mm or 0.0,
    )


def silent(instrument: Instrument, hours: Floats, now: datetime, age_hours: float) -> Bools:
    """Moments at which the log says that an instrument is not to be heard.

    One that is doubted or gone now is not heard by what it said in the hours before, either, for
    which a reading is carried on.
    """
    out = np.zeros(hours.shape, bool)
    for start, end in silent_stretches([e.entry for e in instrument.events.all()]):
        first = (start - now).total_seconds() / 3600 - (age_hours if end is None else 0.0)
        last = np.inf if end is None else (end - now).total_seconds() / 3600
        out |= (hours >= first) & (hours < last)
    return out


def instrument_sites(
    block: Block, profile: Profile, readings: Thinned, now: datetime
) -> list[tuple[Instrument, Site]]:
    """The block's instruments that have channels in the soil, with their readings."""
    sites = []
    for instrument in sorted(block.instruments.all(), key=lambda i: i.label):
        channels = soil_channels(instrument)
        if not channels:
            continue
        hours, value, flags = readings.table([c.pk for c in channels])
        age = kinds()[InstrumentKind(instrument.kind)].max_age_hours
        site = Site.from_readings(
            instrument.label,
            InstrumentKind(instrument.kind),
            [c.depth_mm or 0.0 for c in channels],
            hours,
            value,
            profile,
            suspect=np.array([c.suspect for c in channels])
            | silent(instrument, hours, now, age)[:, None],
            flag=flags,
        )
        sites.append((instrument, site))
    return sites


def lender(block: Block) -> Block | None:
    """The block whose instruments tell of a block; None where it has some in its own soil."""
    own = any(soil_channels(i) for i in block.instruments.all())
    return None if own else block.borrows_from


def block_sites(
    block: Block, profile: Profile, readings: Thinned, now: datetime
) -> tuple[Site, ...]:
    """The block's sites by the labels of their instruments; without any those that it borrows,
    named with the block that they stand in."""
    other = lender(block)
    if other is None:
        return tuple(site for _, site in instrument_sites(block, profile, readings, now))
    return tuple(
        replace(site, label=f"{site.label}, {other.name}", borrowed=True)
        for _, site in instrument_sites(other, profile, readings, now)
    )


def heard_channels(blocks: Sequence[Block]) -> list[int]:
    """Channels that blocks are told by, own and borrowed, each once."""
    others = [other for b in blocks if (other := lender(b)) is not None]
    return sorted({*channel_ids(blocks), *channel_ids(others)})


def channel_ids(blocks: Sequence[Block]) -> list[int]:
    """Channels of blocks, from the prefetched rows."""
    return [c.pk for b in blocks for i in b.instruments.all() for c in soil_channels(i)]
