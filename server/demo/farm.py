"""The demo's invented farm: blocks, soils, crops, equipment, instruments, and who waters how."""

from dataclasses import dataclass, replace
from datetime import date, datetime
from zoneinfo import ZoneInfo

from core.instrument.kinds import InstrumentKind
from core.instrument.reading_units import ReadingUnit
from core.irrigation.system import SystemKind
from core.soil.horizon import Horizon
from core.soil.texture import TextureClass
from core.state.estimate_from import EstimateFrom

SLUG = "thistlewick"
NAME = "Thistlewick Levels"
ZONE = "CET"  # a zone with summer time that names no place
FIRST_DAY = date(2026, 4, 1)
NOW = datetime(2026, 7, 14, 6, 10, tzinfo=ZoneInfo(ZONE))
SEED = 20
DRY_TAIL_DAYS = 5


@dataclass(frozen=True)
class DemoInstrument:
    """``silent_days``: how long before now it stopped; ``dead_cm``: a depth that froze;
    ``pass_place``: where it stands on the way of a machine, a share of it."""

    label: str
    kind: InstrumentKind
    unit: ReadingUnit
    depths_cm: tuple[int, ...]
    silent_days: float = 0.0
    dead_cm: int | None = None
    dead_days: float = 0.0
    pass_place: float | None = None


@dataclass(frozen=True)
class DemoBlock:
    """``until_days``: the manager has not watered it for so many days; ``given`` are sets he
    gave all the same, as (days before today, hour, net mm). ``unlogged``: one of his newest sets
    that he forgot to log, 0 is the last; ``not_run``: sets that are on record and did not run, as
    (days before today, hour, hours, gross mm). ``cover`` is a day with the ground
    cover and height measured, ``seen`` stages by their keys, ``design`` figures of the system.
    ``came``: share of the stated rate that its worn nozzles truly apply."""

    name: str
    hectares: float
    soil: str
    horizons: tuple[Horizon, ...]
    crop: str
    planted: date
    system: SystemKind
    efficiency: float
    instruments: tuple[DemoInstrument, ...]
    rate_mm_h: float | None = None
    flow_m3_h: float | None = None
    smallest_mm: float = 0.0
    largest_mm: float | None = None
    rain_room_mm: float = 0.0
    trigger: float = 0.85
    refill_share: float = 0.9
    until_days: int = 2
    estimate_from: EstimateFrom = EstimateFrom.COMBINED
    start_hour: float = 18.0
    came: float = 1.0
    given: tuple[tuple[int, float, float], ...] = ()
    unlogged: int | None = None
    not_run: tuple[tuple[int, float, float, float], ...] = ()
    cuts: tuple[date, ...] = ()
    cover: tuple[date, float, float] | None = None
    seen: tuple[tuple[date, str], ...] = ()
    clock: str = "days"
    design: tuple[tuple[str, float], ...] = ()
    slope_percent: float = 1.0
    water_ecw: float | None = None


def _layer(
    top: int, bottom: int, texture: TextureClass, om: float = 1.5, gravel: float = 0.0
) -> Horizon:
    return Horizon(
        top_mm=top * 10.0,
        bottom_mm=bottom * 10.0,
        texture=texture,
        organic_matter=om,
        gravel=gravel,
    )


def _fractions(top: int, bottom: int, sand: float, clay: float, om: float) -> Horizon:
    return Horizon(
        top_mm=top * 10.0,
        bottom_mm=bottom * 10.0,
        sand=sand,
        silt=100 - sand - clay,
        clay=clay,
        organic_matter=om,
    )


def _probe(
    label: str,
    depths: tuple[int, ...],
    unit: ReadingUnit = ReadingUnit.PERCENT,
    silent_days: float = 0.0,
    dead_cm: int | None = None,
    dead_days: float = 0.0,
) -> DemoInstrument:
    return DemoInstrument(
        label, InstrumentKind.CAPACITANCE_PROBE, unit, depths, silent_days, dead_cm, dead_days
    )


T = TextureClass
BLOCKS: tuple[DemoBlock, ...] = (
    DemoBlock(
        name="Alder Reach",
        hectares=6.2,
        soil="Reach sandy loam",
        horizons=(_layer(0, 40, T.SANDY_LOAM, 1.8), _layer(40, 110, T.LOAM, 0.8)),
        crop="maize-sweet",
        planted=date(2026, 4, 2),
        system=SystemKind.DRIP,
        efficiency=0.9,
        rate_mm_h=2.4,
        design=(
            ("emitter_l_h", 1.08),
            ("emitter_spacing_m", 0.3),
            ("line_spacing_m", 1.5),
            ("wetted_fraction", 0.45),
        ),
        instruments=(_probe("Probe A1", (10, 20, 30, 45, 60, 80)),),
        trigger=0.45,
        until_days=0,
        given=((1, 16.0, 4.0),),
    ),
    DemoBlock(
        name="Long Tye",
        hectares=38.0,
        soil="Tye silt loam",
        horizons=(
            replace(
                _fractions(0, 30, 22, 18, 2.2),
                bulk_density=1.36,
                points=((10, 0.37), (33, 0.31), (100, 0.25), (1500, 0.13)),
            ),
            _fractions(30, 120, 18, 24, 1.0),
        ),
        crop="maize-grain",
        planted=date(2026, 4, 22),
        system=SystemKind.PIVOT,
        efficiency=0.85,
        flow_m3_h=310.0,
        smallest_mm=8,
        largest_mm=45,
        rain_room_mm=6,
        instruments=(
            replace(
                _probe("Probe L1", (10, 30, 50, 70, 90), ReadingUnit.MM_PER_100MM), pass_place=0.4
            ),
        ),
        trigger=0.35,
        refill_share=0.5,
        until_days=6,
        given=((5, 6.0, 9.0),),
        start_hour=6.0,
        seen=((date(2026, 5, 29), "V6"), (date(2026, 6, 14), "V10"), (date(2026, 7, 2), "VT")),
        clock="degree-days",
        design=(
            ("flow_m3_h", 310.0),
            ("length_m", 340.0),
            ("turn_hours", 11.0),
            ("wetted_width_m", 18.0),
            ("end_gun_m", 8.0),
        ),
    ),
    DemoBlock(
        name="Quern Field",
        hectares=9.0,
        soil="Quern loam over clay loam",
        horizons=(
            _layer(0, 25, T.LOAM, 2.4),
            _layer(25, 45, T.LOAM, 1.4),
            _layer(45, 100, T.CLAY_LOAM, 0.9),
        ),
        crop="potato",
        planted=date(2026, 4, 20),
        system=SystemKind.SOLID_SET,
        efficiency=0.75,
        rate_mm_h=4.2,
        rain_room_mm=3,
        instruments=(_probe("Probe Q1", (10, 20, 30, 40, 50, 60), dead_cm=30, dead_days=11),),
        trigger=0.55,
        until_days=1,
        start_hour=4.0,
    ),
    DemoBlock(
        name="Sallow Bank",
        hectares=14.5,
        soil="Bank clay loam",
        horizons=(_layer(0, 30, T.CLAY_LOAM, 2.5), _layer(30, 150, T.SILTY_CLAY_LOAM, 1.0)),
        crop="lucerne-hay",
        planted=date(2026, 3, 14),
        system=SystemKind.BORDER,
        efficiency=0.65,
        flow_m3_h=430.0,
        instruments=(
            DemoInstrument(
                "Matrix sensors S1",
                InstrumentKind.GRANULAR_MATRIX,
                ReadingUnit.KPA,
                (20, 45, 90),
            ),
        ),
        trigger=0.6,
        until_days=5,
        cuts=(date(2026, 5, 26), date(2026, 6, 24)),
    ),
    DemoBlock(
        name="Upper Hanger",
        hectares=7.4,
        soil="Hanger loam",
        horizons=(_layer(0, 50, T.LOAM, 2.0), _layer(50, 200, T.SILT_LOAM, 0.8)),
        crop="walnut",
        planted=date(2026, 4, 8),
        system=SystemKind.MICRO,
        efficiency=0.85,
        rate_mm_h=2.6,
        instruments=(
            _probe("Probe U1", (20, 40, 60, 90, 120)),
            DemoInstrument(
                "Tensiometers U2",
                InstrumentKind.TENSIOMETER,
                ReadingUnit.CENTIBAR,
                (30, 60, 90),
            ),
        ),
        trigger=0.3,
        until_days=1,
        given=((1, 6.0, 15.0),),
        cover=(date(2026, 5, 20), 0.55, 4.5),
    ),
    DemoBlock(
        name="Wick Terrace",
        hectares=4.1,
        soil="Terrace gravel",
        horizons=(
            _layer(0, 40, T.SANDY_CLAY_LOAM, 1.4, 18),
            _layer(40, 130, T.CLAY_LOAM, 0.7, 30),
        ),
        crop="grape-wine",
        planted=date(2026, 4, 2),
        system=SystemKind.DRIP,
        efficiency=0.92,
        rate_mm_h=1.1,
        instruments=(
            DemoInstrument(
                "Matrix sensors W1",
                InstrumentKind.GRANULAR_MATRIX,
                ReadingUnit.KPA,
                (30, 60, 90),
            ),
        ),
        trigger=0.36,
        until_days=2,
    ),
    DemoBlock(
        name="Marl Pit",
        hectares=5.3,
        soil="Marl clay",
        horizons=(
            replace(_layer(0, 30, T.CLAY_LOAM, 2.2), ece=1.1),
            replace(_layer(30, 80, T.CLAY, 1.0), ece=1.9),
        ),
        crop="onion-dry",
        planted=date(2026, 4, 12),
        system=SystemKind.TRAVELLER,
        efficiency=0.7,
        flow_m3_h=46.0,
        smallest_mm=10,
        largest_mm=30,
        water_ecw=0.9,
        instruments=(
            DemoInstrument(
                "Matrix sensors M1",
                InstrumentKind.GRANULAR_MATRIX,
                ReadingUnit.KPA,
                (10, 25, 40),
            ),
        ),
        trigger=0.5,
        until_days=1,
    ),
    DemoBlock(
        name="Low Ings",
        hectares=11.8,
        soil="Ings silt loam",
        horizons=(_layer(0, 25, T.SILT_LOAM, 4.5), _layer(25, 120, T.SILT_LOAM, 1.5)),
        crop="pasture-grazed",
        planted=date(2026, 3, 20),
        system=SystemKind.SOLID_SET,
        efficiency=0.75,
        rate_mm_h=5.0,
        instruments=(_probe("Probe I1", (10, 20, 30, 45, 60)),),
        until_days=3,
        given=((2, 17.0, 40.0), (1, 16.0, 40.0)),
        unlogged=2,
    ),
    DemoBlock(
        name="Gorse Piece",
        hectares=3.2,
        soil="Gorse loamy sand",
        horizons=(_layer(0, 60, T.LOAMY_SAND, 1.2), _layer(60, 140, T.SAND, 0.4)),
        crop="squash-winter",
        planted=date(2026, 5, 28),
        system=SystemKind.SOLID_SET,
        efficiency=0.78,
        rate_mm_h=4.5,
        came=0.62,
        instruments=(_probe("Probe G1", (10, 25, 40, 60), silent_days=3.6),),
        estimate_from=EstimateFrom.SENSORS,
        until_days=1,
        not_run=((9, 18.0, 5.0, 15.0),),
    ),
    DemoBlock(
        name="Tarn Breck",
        hectares=8.8,
        soil="Breck sandy loam",
        horizons=(_layer(0, 35, T.SANDY_LOAM, 1.6), _layer(35, 100, T.LOAMY_SAND, 0.5)),
        crop="carrot",
        planted=date(2026, 4, 28),
        system=SystemKind.SOLID_SET,
        efficiency=0.78,
        rate_mm_h=5.5,
        slope_percent=2.5,
        instruments=(
            DemoInstrument(
                "Tensiometers T1",
                InstrumentKind.TENSIOMETER,
                ReadingUnit.CENTIBAR,
                (15, 30, 45),
            ),
        ),
        trigger=0.6,
        refill_share=1.2,
        until_days=1,
        start_hour=20.0,
    ),
)

# Set by the adviser in the season: block, from, method, value, why.
# Block whose full points, as its sensors have shown them, were adopted this morning, and why.
ADOPTED = ("Quern Field", "drained to much the same after four wettings that passed 45 cm")
REFILL_CHANGE = (
    "Tarn Breck",
    date(2026, 6, 8),
    "tension",
    45.0,
    "sand below 35 cm dries out at once; hold the upper roots below 45 kPa",
)
# Block, day, and what the cans caught [mm].
CATCH_CANS = (
    "Quern Field",
    date(2026, 5, 19),
    (13.1, 12.4, 11.0, 12.8, 14.2, 13.6, 9.8, 10.4, 12.1, 13.3, 12.6, 9.1, 11.7, 13.9, 12.2, 10.9),
)
OWN_CROP = (
    "Maize, Levels early",
    "maize-grain",
    {"stage_days": [25, 35, 45, 30], "root_schedule_mm": 900.0},
    "early hybrid; roots dug in 2025 stopped at 90 cm",
)
