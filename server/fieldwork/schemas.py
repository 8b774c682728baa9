"""Instruments at work on the wire. Depths in mm; times are instants; null is unknown."""

from datetime import datetime

from ninja import Field, Schema

from core.instrument.kinds import InstrumentKind, Quantity
from core.instrument.life import LifeStatus, LogKind
from core.instrument.reading_units import ReadingUnit
from server.instruments.schemas import CalibrationOut, ChannelOut, PhotoOut


class TaskOut(Schema):
    key: str
    name: str
    last: datetime | None
    due: datetime | None
    overdue: bool


class HealthOut(Schema):
    """One instrument at a glance. ``trusted`` is the share of the past week's readings.

    ``silent`` when its newest reading is older than its kind allows.
    """

    id: int
    label: str
    kind: InstrumentKind
    kind_name: str
    block_id: int
    block: str
    serial: str
    site: str
    depths_mm: list[float]
    status: LifeStatus
    simulated: bool
    last_at: datetime | None
    silent: bool
    readings: int
    trusted: float | None
    flags: list[str]
    battery_v: float | None
    signal_dbm: float | None
    next_task: TaskOut | None
    needs_calibration: bool


class LogEntryOut(Schema):
    id: int
    kind: LogKind
    at: datetime
    note: str
    done: list[str]
    proof: float | None
    passed: bool | None
    made_by: str


class LogEntryIn(Schema):
    """``at`` without an offset is the farm's local time; null is now.

    ``done`` are ticked steps of the install list, or keys of tasks.
    """

    kind: LogKind
    at: datetime | None = None
    note: str = Field("", max_length=500)
    done: list[str] = []
    proof: float | None = None


class CautionOut(Schema):
    title: str
    text: str


class InstrumentDetail(Schema):
    """All of one instrument; ``cautions`` by its kind."""

    health: HealthOut
    now: datetime
    time_zone: str
    quantity: Quantity
    units: list[ReadingUnit]
    channels: list[ChannelOut]
    position: list[float] | None
    constants: dict[str, float]
    lies: str
    install: list[str]
    proof: str
    proof_low: float | None
    proof_high: float | None
    proof_unit: ReadingUnit
    settles_days: int
    tasks: list[TaskOut]
    cautions: list[CautionOut]
    events: list[LogEntryOut]
    curves: list[CalibrationOut]
    photos: list[PhotoOut]
