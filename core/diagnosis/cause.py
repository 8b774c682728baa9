"""What may be wrong; each cause has one name, its words are data in ``causes.json``."""

import json
from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from importlib import resources


class Cause(StrEnum):
    """A cause of what instruments show. Those of instruments are looked for before all others."""

    SENSOR_SILENT = "sensor_silent"
    SENSOR_FLAT = "sensor_flat"
    COLUMN_BROKEN = "column_broken"
    JUMPS_TOGETHER = "jumps_together"
    WATER_DOWN_TUBE = "water_down_tube"
    POOR_CONTACT = "poor_contact"
    SENSOR_DRIFTS = "sensor_drifts"
    SETTLING = "settling"
    CLOCK_OFF = "clock_off"

    NOT_LOGGED = "not_logged"
    NOT_RUN = "not_run"
    SITE_DRY = "site_dry"
    UNEVEN = "uneven"
    RESPONSE_WEAKER = "response_weaker"
    INTAKE_EXCEEDED = "intake_exceeded"
    RATE_OFF = "rate_off"

    PASSES_ROOTS = "passes_roots"
    RUN_TOO_SHORT = "run_too_short"
    TABLE_RISES = "table_rises"
    POOR_DRAINAGE = "poor_drainage"

    SHORT_OF_WATER = "short_of_water"
    USE_OFF = "use_off"
    FULL_POINT_OFF = "full_point_off"
    ROOTS_OFF = "roots_off"


class CauseGroup(StrEnum):
    """What a cause lies in."""

    INSTRUMENT = "instrument"
    APPLICATION = "application"
    SOIL_WATER = "soil_water"
    SETTINGS = "settings"


@dataclass(frozen=True)
class CauseWords:
    """A cause in words: what it is called, what was seen, what settles it and what it changes."""

    cause: Cause
    group: CauseGroup
    name: str
    seen: str
    check: str
    changes: str
    source: str


@cache
def cause_words() -> dict[Cause, CauseWords]:
    """Every cause in words, the gravest group first."""
    data = json.loads(resources.files("core.diagnosis").joinpath("causes.json").read_text("utf-8"))
    return {
        Cause(row["key"]): CauseWords(
            cause=Cause(row["key"]),
            group=CauseGroup(row["group"]),
            name=row["name"],
            seen=row["seen"],
            check=row["check"],
            changes=row["changes"],
            source=row["source"],
        )
        for row in data
    }
