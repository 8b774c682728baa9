"""What a controller and the application say to each other: topics with a message each, as in MQTT,
carried by HTTP; docs/valves.md describes it.

A state is retained: the last one counts. Events and answers are sent until they are confirmed, and
commands until they are answered; whoever gets one twice does it once.
"""

import re
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any
from uuid import UUID

from pydantic import Field, ValidationError

from server.base.schema import Body, Schema

MOST_MESSAGES = 200
_VALVE_TOPIC = re.compile(r"valve/(\d{1,4})/(state|event|answer)")
_MONTH_S = 31 * 86_400.0


class Refusal(StrEnum):
    """Why a controller did not open a valve."""

    LOCKED_OUT = "locked_out"
    STOPPED = "stopped"
    TOO_LONG = "too_long"
    TOO_LATE = "too_late"
    NO_VALVE = "no_valve"


class ValveEventKind(StrEnum):
    """What happened at a valve."""

    OPENED = "opened"
    CLOSED = "closed"
    LOCKED_OUT = "locked_out"
    LOCK_REMOVED = "lock_removed"


class Ended(StrEnum):
    """Why a controller closed a valve; after a restart it does not know that it did."""

    COMMAND = "command"
    RUN_TIME = "run_time"
    CONTACT_LOST = "contact_lost"
    LOCKED_OUT = "locked_out"
    STOPPED = "stopped"


class ControllerState(Body):
    """Topic ``controller/state``: the longest run it allows, how long it leaves valves open without
    contact [s], and whether it is stopped."""

    longest_s: float = Field(gt=0, le=_MONTH_S)
    contact_s: float = Field(gt=0, le=86_400)
    stopped: bool


class ValveState(Body):
    """Topic ``valve/N/state``: open or closed for how long [s], the mean flow of the last minute
    [L/s] and the volume of this run [m3] where it has a meter, in how long it closes [s]."""

    open: bool
    since_s: float = Field(ge=0, le=1e9)
    flow_ls: float | None = Field(None, ge=0, le=1e5)
    volume_m3: float | None = Field(None, ge=0, le=1e8)
    closes_in_s: float | None = Field(None, ge=0, le=_MONTH_S)
    locked_out: bool = False


class HappenedAtValve(Body):
    """Topic ``valve/N/event``, numbered from 1 since the controller's last start; ``age_s`` ago."""

    id: int = Field(ge=1, le=2**53)
    kind: ValveEventKind
    age_s: float = Field(ge=0, le=_MONTH_S)
    command: UUID | None = None
    why: Ended | None = None
    volume_m3: float | None = Field(None, ge=0, le=1e8)


class CommandAnswer(Body):
    """Topic ``valve/N/answer``: whether a command was done, and if not why."""

    command: UUID
    done: bool
    why: Refusal | None = None


class MessageIn(Body):
    topic: str = Field(max_length=60)
    payload: dict[str, Any]


class MessagesIn(Body):
    """``boot`` names the controller's last start."""

    boot: str = Field(min_length=1, max_length=40, pattern=r"^[A-Za-z0-9-]+$")
    messages: list[MessageIn] = Field(max_length=MOST_MESSAGES)


class MessageOut(Schema):
    topic: str
    payload: dict[str, Any]


class RefusedMessage(Schema):
    """A message that can't be read, by its place from 0: sending it again would bring nothing."""

    place: int
    reason: str


class MessagesOut(Schema):
    """What a controller is told: events up to ``events_until`` need not be sent again; it asks
    again after ``ask_again_s`` [s], and ``rate`` farm seconds pass in a real one (1, but for a
    demo)."""

    events_until: int
    ask_again_s: float
    rate: float
    messages: list[MessageOut]
    refused: list[RefusedMessage]


@dataclass
class Heard:
    """Messages by what they are, each with the number of its valve."""

    controller: ControllerState | None = None
    states: dict[int, ValveState] = field(default_factory=dict)
    events: list[tuple[int, HappenedAtValve]] = field(default_factory=list)
    answers: list[tuple[int, CommandAnswer]] = field(default_factory=list)
    refused: list[RefusedMessage] = field(default_factory=list)


def read_messages(sent: list[MessageIn]) -> Heard:
    """Parse messages by their topics; one that can't be read is named and keeps no other from being
    taken, for a controller that is not heard closes its valves."""
    heard = Heard()
    for k, message in enumerate(sent):
        try:
            _put(heard, message)
        except (ValidationError, LookupError) as problem:
            heard.refused.append(RefusedMessage(place=k, reason=_reason(problem)))
    heard.events.sort(key=lambda pair: pair[1].id)
    return heard


def _reason(problem: ValidationError | LookupError) -> str:
    if isinstance(problem, LookupError):
        return "there is no such topic"
    first = problem.errors()[0]
    return f"{'.'.join(map(str, first['loc']))}: {first['msg']}"


def _put(heard: Heard, message: MessageIn) -> None:
    if message.topic == "controller/state":
        heard.controller = ControllerState.model_validate(message.payload)
        return
    found = _VALVE_TOPIC.fullmatch(message.topic)
    if found is None:
        raise LookupError(message.topic)
    number, what = int(found[1]), found[2]
    if what == "state":
        heard.states[number] = ValveState.model_validate(message.payload)
    elif what == "event":
        heard.events.append((number, HappenedAtValve.model_validate(message.payload)))
    else:
        heard.answers.append((number, CommandAnswer.model_validate(message.payload)))
