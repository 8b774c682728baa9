"""What is planted in simulated blocks, and what only looks like it."""

from core.diagnosis.cause import Cause
from core.instrument.kinds import InstrumentKind
from core.world.planted import Fault
from core.world.setup import Setup
from core.world.spoiled import Spoilt

WATER = (
    Cause.NOT_LOGGED,
    Cause.NOT_RUN,
    Cause.SITE_DRY,
    Cause.UNEVEN,
    Cause.RESPONSE_WEAKER,
    Cause.INTAKE_EXCEEDED,
    Cause.RATE_OFF,
    Cause.PASSES_ROOTS,
    Cause.RUN_TOO_SHORT,
    Cause.TABLE_RISES,
    Cause.POOR_DRAINAGE,
    Cause.SHORT_OF_WATER,
    Cause.USE_OFF,
    Cause.ROOTS_OFF,
)
INSTRUMENT = (
    Cause.SENSOR_SILENT,
    Cause.SENSOR_FLAT,
    Cause.COLUMN_BROKEN,
    Cause.JUMPS_TOGETHER,
    Cause.WATER_DOWN_TUBE,
    Cause.POOR_CONTACT,
    Cause.SENSOR_DRIFTS,
    Cause.CLOCK_OFF,
)
LATE = (62, 76)
MIDDLE = (20, 40)

CLEAN = Setup("well run", looks_like=(*WATER, *INSTRUMENT))

SETUPS: tuple[Setup, ...] = (
    CLEAN,
    # Water.
    Setup("half of the sets not logged", Cause.NOT_LOGGED, fault=Fault.NOT_LOGGED, from_day=LATE),
    Setup(
        "logged an hour off and by guess",
        looks_like=(Cause.NOT_LOGGED, Cause.NOT_RUN, Cause.RATE_OFF, Cause.CLOCK_OFF),
        fault=Fault.LOGGED_LOOSELY,
    ),
    Setup("logged and not run", Cause.NOT_RUN, fault=Fault.NOT_RUN, from_day=LATE),
    Setup(
        "light sets that wet the top alone",
        looks_like=(Cause.NOT_RUN, Cause.SITE_DRY, Cause.RUN_TOO_SHORT),
        fault=Fault.LIGHT_RUNS,
    ),
    Setup(
        "a gap of a day in the readings",
        looks_like=(Cause.NOT_RUN, Cause.SENSOR_SILENT, Cause.SITE_DRY),
        spoilt=Spoilt.SHORT_GAP,
        from_day=LATE,
    ),
    Setup(
        "one site without water",
        Cause.SITE_DRY,
        (Cause.UNEVEN, Cause.NOT_RUN, Cause.RATE_OFF),
        fault=Fault.SITE_DRY,
        size=(0.0, 0.15),
        from_day=(50, 62),
    ),
    Setup(
        "one site with half of the water",
        Cause.UNEVEN,
        (Cause.SITE_DRY, Cause.RATE_OFF, Cause.RESPONSE_WEAKER),
        fault=Fault.UNEVEN,
        size=(0.5, 0.6),
    ),
    Setup(
        "sites that differ by a tenth",
        looks_like=(Cause.UNEVEN, Cause.SITE_DRY),
        fault=Fault.UNEVEN,
        size=(0.88, 0.95),
    ),
    Setup(
        "less and less water",
        Cause.RESPONSE_WEAKER,
        (Cause.RATE_OFF, Cause.INTAKE_EXCEEDED),
        fault=Fault.FADING,
        size=(0.35, 0.45),
        from_day=MIDDLE,
    ),
    Setup(
        "sets of all lengths",
        looks_like=(Cause.RESPONSE_WEAKER, Cause.INTAKE_EXCEEDED, Cause.RATE_OFF),
        fault=Fault.VARYING_RUNS,
    ),
    Setup(
        "two thirds of the stated rate",
        Cause.RATE_OFF,
        (Cause.INTAKE_EXCEEDED, Cause.RESPONSE_WEAKER, Cause.UNEVEN),
        fault=Fault.RATE,
        size=(0.55, 0.68),
    ),
    Setup(
        "half as much again as stated",
        Cause.RATE_OFF,
        (Cause.INTAKE_EXCEEDED,),
        fault=Fault.RATE,
        size=(1.4, 1.6),
        share=(0.6, 0.7),
    ),
    Setup(
        "runs off after two hours",
        Cause.INTAKE_EXCEEDED,
        (Cause.RATE_OFF, Cause.RESPONSE_WEAKER),
        fault=Fault.INTAKE,
        over_intake=(1.6, 2.6),
    ),
    Setup(
        "twice of what is missing",
        Cause.PASSES_ROOTS,
        (Cause.POOR_DRAINAGE, Cause.TABLE_RISES, Cause.RATE_OFF),
        share=(3.0, 4.0),
        due=(0.5, 0.8),
    ),
    Setup(
        "just all of what is missing",
        looks_like=(Cause.PASSES_ROOTS, Cause.POOR_DRAINAGE),
        share=(0.95, 1.05),
    ),
    Setup(
        "dry below, wetted above",
        Cause.RUN_TOO_SHORT,
        share=(0.25, 0.35),
        due=(0.9, 1.1),
    ),
    Setup(
        "subsoil that drains, under tensiometers",
        looks_like=(Cause.POOR_DRAINAGE,),
        kind=InstrumentKind.TENSIOMETER,
        share=(1.2, 1.8),
    ),
    Setup(
        "little and often in moist soil",
        looks_like=(Cause.RUN_TOO_SHORT,),
        due=(0.2, 0.3),
        share=(0.9, 1.0),
    ),
    Setup(
        "a table that comes up",
        Cause.TABLE_RISES,
        (Cause.POOR_DRAINAGE,),
        table_mm=620.0,
        from_day=(45, 65),
    ),
    Setup(
        "subsoil that hardly drains",
        Cause.POOR_DRAINAGE,
        (Cause.TABLE_RISES, Cause.PASSES_ROOTS),
        slow_below_mm=600.0,
        kind=InstrumentKind.TENSIOMETER,
        share=(1.4, 1.8),
        due=(0.4, 0.6),
    ),
    Setup("no water any more", Cause.SHORT_OF_WATER, (Cause.USE_OFF,), stops_day=60),
    Setup(
        "well used, then sparingly",
        looks_like=(Cause.SHORT_OF_WATER,),
        due=(0.8, 1.0),
        share=(0.7, 0.8),
    ),
    Setup("uses a third more than stated", Cause.USE_OFF, (Cause.SHORT_OF_WATER,), use=1.7),
    Setup("uses a third less than stated", Cause.USE_OFF, (Cause.SHORT_OF_WATER,), use=0.5),
    Setup("roots a third less deep", Cause.ROOTS_OFF, roots=0.4),
    Setup("roots half as deep again", Cause.ROOTS_OFF, roots=2.0),
    # Instruments.
    Setup(
        "a silent sensor",
        Cause.SENSOR_SILENT,
        (Cause.NOT_RUN, Cause.SITE_DRY),
        spoilt=Spoilt.SILENT,
        from_day=LATE,
    ),
    Setup(
        "a sensor that stands still",
        Cause.SENSOR_FLAT,
        (Cause.NOT_RUN, Cause.SITE_DRY),
        spoilt=Spoilt.FLAT,
        from_day=LATE,
    ),
    Setup(
        "all depths jump",
        Cause.JUMPS_TOGETHER,
        (Cause.NOT_LOGGED, Cause.SENSOR_DRIFTS),
        spoilt=Spoilt.JUMP,
        size=(0.05, 0.09),
        from_day=(70, 84),
    ),
    Setup(
        "water down the tube",
        Cause.WATER_DOWN_TUBE,
        (Cause.PASSES_ROOTS, Cause.RATE_OFF),
        spoilt=Spoilt.TUBE,
    ),
    Setup(
        "a sensor in poor contact",
        Cause.POOR_CONTACT,
        (Cause.SENSOR_FLAT,),
        spoilt=Spoilt.CONTACT,
        size=(0.05, 0.15),
        share=(1.0, 1.3),
    ),
    Setup(
        "a sensor that drifts",
        Cause.SENSOR_DRIFTS,
        (Cause.FULL_POINT_OFF,),
        spoilt=Spoilt.DRIFT,
        size=(0.0015, 0.003),
        from_day=MIDDLE,
        share=(1.0, 1.3),
    ),
    Setup(
        "a logger some hours ahead",
        Cause.CLOCK_OFF,
        (Cause.NOT_LOGGED, Cause.NOT_RUN),
        spoilt=Spoilt.CLOCK,
        size=(7.0, 12.0),
    ),
    Setup(
        "noisy sensors",
        looks_like=(
            Cause.NOT_LOGGED,
            Cause.SENSOR_DRIFTS,
            Cause.JUMPS_TOGETHER,
            Cause.POOR_CONTACT,
        ),
        spoilt=Spoilt.NOISE,
    ),
    Setup(
        "spikes of one sensor",
        looks_like=(Cause.NOT_LOGGED, Cause.SENSOR_DRIFTS, Cause.JUMPS_TOGETHER, Cause.SENSOR_FLAT),
        spoilt=Spoilt.SPIKES,
    ),
    Setup(
        "much water on instruments that are sound",
        looks_like=(
            Cause.WATER_DOWN_TUBE,
            Cause.POOR_CONTACT,
            Cause.SENSOR_DRIFTS,
            Cause.CLOCK_OFF,
        ),
        share=(1.4, 1.8),
        rate=(8.0, 14.0),
    ),
    Setup(
        "a column that breaks",
        Cause.COLUMN_BROKEN,
        (Cause.NOT_LOGGED,),
        kind=InstrumentKind.TENSIOMETER,
        due=(1.2, 1.6),
    ),
    Setup(
        "columns that hold in dry soil",
        looks_like=(Cause.COLUMN_BROKEN, Cause.NOT_LOGGED, Cause.SENSOR_SILENT),
        kind=InstrumentKind.TENSIOMETER,
        due=(0.7, 1.0),
    ),
)
