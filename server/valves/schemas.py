"""Valve control as the API shows and takes it: times of runs [s or min], flow [L/s], water [m3]."""

from datetime import datetime

from pydantic import Field

from core.valves.flow_check import FlowFault
from server.base.language import Translated
from server.base.schema import Body, Name, Schema
from server.valves.models import EntryKind
from server.valves.setting_up import ValveFigures

LONGEST_MIN = 10 * 24 * 60


class EmergencyStopOut(Schema):
    """The emergency stop; ``not_confirmed`` names controllers that have not told that all their
    valves are closed."""

    at: datetime
    by: str | None
    not_confirmed: list[str]


class ControllerOut(Schema):
    """``heard_s_ago`` null: never; ``silent`` when it has to be taken for cut off."""

    id: int
    name: str
    simulated: bool
    token_hint: str
    revoked: bool
    heard_s_ago: float | None
    silent: bool
    longest_min: float | None
    contact_s: float


class ValveOut(Schema):
    """A valve as its controller told last; ``is_open`` null where nothing is known. ``opening`` and
    ``closing``: asked for and not answered yet."""

    id: int
    controller_id: int
    controller: str
    number: int
    name: str
    block_id: int | None
    block: str | None
    expected_ls: float | None
    is_open: bool | None
    flow_ls: float | None
    volume_m3: float | None
    closes_in_s: float | None
    locked_out: bool
    silent: bool
    opening: bool
    closing: bool


class ValveAlarmOut(Schema):
    """``ended_at`` null while it lasts."""

    id: int
    valve_id: int
    valve: str
    block: str | None
    fault: FlowFault
    flow_ls: float
    expected_ls: float | None
    began_at: datetime
    ended_at: datetime | None
    what_to_do: Translated


class ValveEntryOut(Schema):
    at: datetime
    about: str
    kind: EntryKind
    why: str
    by: str | None


class ToOpenOut(Schema):
    """An irrigation scheduled on a valve's block."""

    id: int
    block_id: int
    starts_at: datetime
    minutes: float
    gross_mm: float


class ValvesOut(Schema):
    """Everything of a farm's valves."""

    now: datetime
    time_zone: str
    on: bool
    stop: EmergencyStopOut | None
    controllers: list[ControllerOut]
    valves: list[ValveOut]
    alarms: list[ValveAlarmOut]
    scheduled: list[ToOpenOut]
    record: list[ValveEntryOut]


class ValveWatchOut(Schema):
    """What every screen shows of the valves. ``out_of_contact``: open when their controller was
    heard last, which is silent now."""

    on: bool
    stop: EmergencyStopOut | None
    open: int
    out_of_contact: list[str]
    alarms: list[ValveAlarmOut]


class SwitchIn(Body):
    on: bool
    cautions_read: bool = False


class ControllerIn(Body):
    name: Name
    simulated: bool = False


class ControllerIssuedOut(Schema):
    """The token is shown this once; only its hash is kept."""

    controller: ControllerOut
    token: str


class ValveIn(Body):
    """Flow expected [L/s]; null where it is not known."""

    controller_id: int
    number: int = Field(ge=1, le=999)
    name: Name
    block_id: int | None = None
    expected_ls: float | None = Field(None, gt=0, le=10_000)

    def figures(self) -> ValveFigures:
        return ValveFigures(**self.model_dump())


class OpenIn(Body):
    minutes: float = Field(gt=0, le=LONGEST_MIN)
    irrigation_id: int | None = None


class PreparedOut(Schema):
    """What opening would do; to be confirmed within ``confirm_within_s`` by who asked."""

    command_id: int
    valve: str
    block: str | None
    minutes: float
    closes_at: datetime
    expected_m3: float | None
    confirm_within_s: float
