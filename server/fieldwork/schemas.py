"""Instruments at work on the wire. Depths in mm; times are instants; null is unknown."""

from datetime import datetime
from uuid import UUID

from ninja import Field

from core.instrument.kinds import InstrumentKind, Quantity
from core.instrument.life import LifeStatus, LogKind
from core.instrument.reading_units import ReadingUnit
from server.base.language import Translated
from server.base.moment import Moment
from server.base.schema import Body, Keys, Name, Schema
from server.fieldwork.checks import CheckOut
from server.instruments.models import DEEPEST_NOTE_MM
from server.instruments.schemas import CalibrationOut, ChannelOut, PhotoOut


class TaskOut(Schema):
    key: str
    name: Translated
    last: datetime | None
    due: datetime | None
    overdue: bool


class HealthOut(Schema):
    """One instrument at a glance. ``trusted`` is the share of the past week's readings.

    ``silent`` when its newest reading is older than its kind allows; ``unreliable`` when too small
    a share of its readings is trusted for it to be left alone.
    """

    id: int
    label: str
    kind: InstrumentKind
    kind_name: Translated
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
    unreliable: bool
    flags: list[Translated]
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
    depth_mm: float | None
    made_by: str


class LogEntryIn(Body):
    """``at`` without an offset is the farm's local time; null is now.

    ``done`` are keys of ticked steps of the install list, or of tasks; ``depth_mm`` is where in the
    soil a note is about.
    """

    kind: LogKind
    at: Moment | None = None
    note: str = Field("", max_length=500)
    done: list[Name] = Field([], max_length=50)
    proof: float | None = None
    depth_mm: float | None = Field(None, gt=0, le=DEEPEST_NOTE_MM)


class NoteOut(Schema):
    """A note of an instrument's log, about a time and, where it says so, a depth."""

    id: int
    instrument_id: int
    instrument: str
    at: datetime
    depth_mm: float | None
    note: str
    made_by: str


class CautionOut(Schema):
    title: Translated
    text: Translated


class InstallStep(Schema):
    """One line of the checklist of an installation; ``key`` is what a log entry names it by."""

    key: str
    text: Translated


class InstrumentDetail(Schema):
    """All of one instrument; ``cautions`` by its kind.

    ``pass_place`` is where it stands on the way of what waters its block part by part, where the
    block is so watered, ``passed``; a share of it [-].
    """

    health: HealthOut
    now: datetime
    time_zone: str
    quantity: Quantity
    units: list[ReadingUnit]
    channels: list[ChannelOut]
    position: list[float] | None
    pass_place: float | None
    passed: bool
    constants: dict[str, float]
    lies: Translated
    install: list[InstallStep]
    proof: Translated
    proof_low: float | None
    proof_high: float | None
    proof_unit: ReadingUnit
    settles_days: int
    tasks: list[TaskOut]
    cautions: list[CautionOut]
    events: list[LogEntryOut]
    curves: list[CalibrationOut]
    photos: list[PhotoOut]


class RoundIn(Body):
    """``instruments`` in walking order."""

    name: str = Field(max_length=80)
    every_days: int = Field(7, ge=1, le=60)
    instruments: Keys


class RoundChannel(Schema):
    """A figure to read. Bounds in ``unit``: beyond the usual it is asked again, beyond the
    possible it can't be taken. ``signed``: it may well be below zero."""

    id: int
    depth_mm: float | None
    unit: ReadingUnit
    last: float | None
    last_at: datetime | None
    signed: bool
    usual_low: float
    usual_high: float
    possible_low: float
    possible_high: float


class StopOut(Schema):
    """A card of the round. ``by_hand``: nobody else reads it."""

    instrument_id: int
    label: str
    kind_name: Translated
    by_hand: bool
    block: str
    site: str
    channels: list[RoundChannel]
    tasks: list[TaskOut]
    checks: list[CheckOut]


class RoundOut(Schema):
    id: int
    name: str
    every_days: int
    last_at: datetime | None
    stops: list[StopOut]


class RoundsOut(Schema):
    now: datetime
    time_zone: str
    rounds: list[RoundOut]


class ReadValue(Body):
    channel_id: int
    value: float


class VisitIn(Body):
    """One card as the phone sends it; ``key`` is made there, and stays the same when sent again.

    ``age_seconds``: how long before sending it was made; where it is given it goes before
    ``at``, so that a phone's wrong clock does no harm.
    """

    key: UUID
    instrument_id: int
    round_id: int | None = None
    at: Moment
    age_seconds: float | None = Field(None, ge=0, le=400 * 86400)
    unit: ReadingUnit | None = None
    values: list[ReadValue] = Field([], max_length=200)
    done: list[Name] = Field([], max_length=50)
    skipped: str = Field("", max_length=200)
    note: str = Field("", max_length=500)


class VisitsIn(Body):
    visits: list[VisitIn] = Field(max_length=500)


class VisitProblem(Schema):
    field: str
    message: Translated


class VisitOut(Schema):
    """What became of a visit: taken (``repeated``: before), or refused with its problems."""

    key: UUID
    taken: bool
    repeated: bool
    message: Translated
    problems: list[VisitProblem]
