"""The demo's two rice fields on one sluice, simulated hour by hour, their tubes read by hand."""

from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from core.arrays import Floats
from core.crop.catalogue import crop
from core.crop.season import CropSeason as SeasonInput
from core.crop.season import season_days
from core.instrument.kinds import InstrumentKind, kinds
from core.instrument.reading_units import ReadingUnit, code_of
from core.irrigation.system import SystemKind
from core.ponded.field import Started
from core.soil.horizon import Horizon
from core.soil.texture import TextureClass
from core.units import water_depth_mm
from core.world.paddy import Paddy as SimulatedPaddy
from core.world.paddy import PaddyGround
from core.world.weather import Weather
from server.blocks.models import Block
from server.demo.farm import FIRST_DAY, SEED, DemoBlock
from server.demo.life import give_life
from server.demo.simulated_season import DAYS, HOURS, START
from server.farms.models import Farm
from server.instruments.models import Channel, Instrument
from server.paddies.models import Paddy
from server.readings.models import ReadingBatch
from server.readings.store import ROW, store_readings
from server.readings.surroundings import HOUR_US
from server.water.models import Irrigation

PLANTED = date(2026, 5, 12)
WEEDY_UNTIL = date(2026, 6, 2)
NITROGEN, NITROGEN_DONE = date(2026, 7, 16), date(2026, 6, 8)
FLOW_M3_H, EFFICIENCY = 260.0, 0.95
# He reads the tubes at seven, and lets water in from eight on.
READ_HOUR, WATER_HOUR = 7, 8
READING_SIGMA_MM = 4.0
SOIL = (
    Horizon(0, 250, texture=TextureClass.SILTY_CLAY, organic_matter=3.0),
    Horizon(250, 900, texture=TextureClass.CLAY, organic_matter=1.2),
)


@dataclass(frozen=True)
class DemoPaddy:
    """A rice field: its soil in truth, the bund, and how low its owner lets the tube fall [mm].

    ``tubes`` are their labels with how much each stands off the field's mean level [mm]; ``rests``
    are mornings on which nobody reads them, of seven.
    """

    name: str
    hectares: float
    ground: PaddyGround
    low_mm: float
    tubes: tuple[tuple[str, float], ...]
    rests: frozenset[int]
    weedy: bool = False


GROUND = PaddyGround(
    bund_mm=180,
    pan_top_mm=270,
    pan_mm=90,
    pan_mm_day=0.9,
    top_porosity=0.19,
    deep_porosity=0.09,
    crack_mm_day=0.4,
    leak_per_day=0.012,
    burrow_mm=120,
    burrow_mm_day=0.0,
    use_factor=1.04,
    inlet_factor=0.97,
    tube_off_mm=0.0,
)
PADDIES = (
    DemoPaddy(
        "Reed Carr",
        5.6,
        GROUND,
        -150.0,
        (("Tube R1", 3.0), ("Tube R2", -6.0)),
        frozenset({6}),
        True,
    ),
    DemoPaddy(
        "Osier Carr",
        4.4,
        replace(GROUND, bund_mm=150, pan_mm_day=1.7, leak_per_day=0.02, burrow_mm_day=2.0),
        -130.0,
        (("Tube O1", 0.0),),
        frozenset({5, 6}),
    ),
)


def demo_blocks() -> list[DemoBlock]:
    """The fields as blocks of the farm."""
    return [
        DemoBlock(
            name=p.name,
            hectares=p.hectares,
            soil=f"{p.name} silty clay",
            horizons=SOIL,
            crop="rice",
            planted=PLANTED,
            system=SystemKind.PADDY,
            efficiency=EFFICIENCY,
            flow_m3_h=FLOW_M3_H,
            instruments=(),
        )
        for p in PADDIES
    ]


def give_paddies(farm: Farm, blocks: dict[str, Block], weather: Weather) -> None:
    """Bunds, tubes with their readings, and the water of the fields since they were planted."""
    for number, demo in enumerate(PADDIES):
        block = blocks[demo.name]
        Paddy(
            block=block,
            bund_mm=demo.ground.bund_mm,
            started=Started.TRANSPLANTED,
            keep_ponded_until=WEEDY_UNTIL if demo.weedy else None,
            nitrogen=[NITROGEN.isoformat()],
            nitrogen_done=[NITROGEN_DONE.isoformat()],
        ).save()
        rng = np.random.default_rng([SEED, number])
        read, water = _lived(demo, weather, rng)
        for (label, _), levels in zip(demo.tubes, read, strict=True):
            _store(farm, _tube(block, label), levels)
        Irrigation.unscoped.bulk_create(
            Irrigation(
                block=block,
                started_at=START + timedelta(hours=begun),
                ended_at=START + timedelta(hours=ends),
                gross_mm=round(gross, 1),
                made_by=block.irrigator,
            )
            for begun, ends, gross in water
        )


def _tube(block: Block, label: str) -> Channel:
    instrument = Instrument(block=block, label=label, kind=str(InstrumentKind.RICE_TUBE))
    instrument.save()
    give_life(instrument)
    quantity = str(kinds()[InstrumentKind.RICE_TUBE].quantity)
    channel = Channel(instrument=instrument, quantity=quantity)
    channel.save()
    return channel


def _store(farm: Farm, channel: Channel, levels: list[tuple[int, float]]) -> None:
    rows = np.empty(len(levels), ROW)
    rows["channel_id"] = channel.pk
    hours = np.array([h for h, _ in levels])
    rows["time"] = round(START.timestamp() * 1e6) + hours * HOUR_US
    rows["value"] = [round(x) for _, x in levels]
    rows["unit"] = code_of(ReadingUnit.MILLIMETRE)
    batch = ReadingBatch(farm=farm, origin=ReadingBatch.Origin.SIMULATED)
    batch.save()
    store_readings(batch, rows)


def _lived(
    demo: DemoPaddy, weather: Weather, rng: np.random.Generator
) -> tuple[list[list[tuple[int, float]]], list[tuple[float, float, float]]]:
    """What the tubes read, as (hour, mm), and the irrigations, as (begin, end, gross mm); hours
    since the farm's first day."""
    first = (PLANTED - FIRST_DAY).days
    season = SeasonInput(crop=crop("rice"), planted_on=PLANTED)
    use = season_days([season], FIRST_DAY, DAYS).kc[0] * weather.et0_mm[:DAYS]
    by_hour = _by_hour(use)
    rate = water_depth_mm(FLOW_M3_H, demo.hectares * 10_000)
    field = SimulatedPaddy(demo.ground, 30.0)
    read: list[list[tuple[int, float]]] = [[] for _ in demo.tubes]
    water: list[tuple[float, float, float]] = []
    until = -1.0
    for hour in range(first * 24, int(HOURS) + 1):
        day, clock = divmod(hour, 24)
        if clock == READ_HOUR and day % 7 not in demo.rests:
            for k, (_, off) in enumerate(demo.tubes):
                read[k].append((hour, field.level_mm + off + rng.normal(0, READING_SIGMA_MM)))
        on = FIRST_DAY + timedelta(days=day)
        low = 15.0 if on < PLANTED + timedelta(days=10) else demo.low_mm
        if demo.weedy and on <= WEEDY_UNTIL:
            low = 15.0
        if clock == WATER_HOUR and hour > until and field.level_mm <= low:
            missing = 50.0 + max(-field.level_mm, 0.0) * 0.15 + min(0.0, -field.level_mm)
            hours = round(missing / (rate * EFFICIENCY - 0.4) * 2) / 2
            until = hour + hours
            water.append((float(hour), until, hours * rate))
        running = min(max(until - hour, 0.0), 1.0) if hour < until else 0.0
        inflow = running * rate * EFFICIENCY * demo.ground.inlet_factor
        rain = float(weather.rain_mm[day]) if clock == 15 else 0.0
        field.hour(float(by_hour[hour]), rain, inflow)
    # What was begun today is not on record as over.
    return read, [w for w in water if w[1] <= HOURS]


def _by_hour(use_mm: Floats) -> Floats:
    """Daily use over the hours of light."""
    hour = np.arange(24)
    light = np.where((hour >= 6) & (hour < 20), np.sin(np.pi * (hour - 5.5) / 14), 0.0)
    out: Floats = (use_mm[:, None] * light / light.sum()).ravel()
    return out
