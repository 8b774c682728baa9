"""A controller's messages taken, and what it is told in return; each exchange is contact."""

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.db import transaction
from django.utils import timezone

from core.valves.flow_check import flow_fault
from server.farms.models import Farm
from server.valves.control import control_of
from server.valves.models import (
    TOLD_OF_CONTROLLER,
    TOLD_OF_VALVE,
    CommandKind,
    CommandState,
    EndedBy,
    EntryKind,
    Valve,
    ValveAlarm,
    ValveCommand,
    ValveController,
    ValveRun,
)
from server.valves.protocol import (
    HappenedAtValve,
    Heard,
    MessageOut,
    MessagesIn,
    MessagesOut,
    ValveEventKind,
    ValveState,
    read_messages,
)
from server.valves.record import write_entry
from server.valves.running import log_runs

# Often enough for an emergency stop.
ASK_AGAIN_S = 2.0
_OF_EVENT: dict[ValveEventKind, EntryKind] = {
    ValveEventKind.OPENED: EntryKind.OPENED,
    ValveEventKind.CLOSED: EntryKind.CLOSED,
    ValveEventKind.LOCKED_OUT: EntryKind.LOCKED_OUT,
    ValveEventKind.LOCK_REMOVED: EntryKind.LOCK_REMOVED,
}


@dataclass(frozen=True)
class _Moment:
    """The farm's instant, and the real one."""

    farm: datetime
    real: datetime


def exchange(controller: ValveController, sent: MessagesIn) -> MessagesOut:
    """Take what a controller tells, each thing once, and answer with what is asked of it."""
    heard = read_messages(sent.messages)
    farm = controller.farm
    with transaction.atomic():
        rows = ValveController.objects.for_farm(farm).select_for_update()
        box: ValveController = rows.get(pk=controller.pk)
        moment = _Moment(farm.now(), timezone.now())
        valves = {v.number: v for v in Valve.unscoped.filter(controller=box)}
        if box.boot != sent.boot:
            _restarted(farm, box, sent.boot, valves, moment)
        elif box.heard_at and (moment.real - box.heard_at).total_seconds() > box.contact_s:
            lost_at = moment.farm - (moment.real - box.heard_at) * _pace(farm)
            write_entry(farm, EntryKind.CONTACT_LOST, lost_at, about=box.name)
        _take_answers(farm, valves, heard, moment)
        _take_events(farm, box, valves, heard, moment)
        for number, state in heard.states.items():
            if number in valves:
                _take_state(farm, valves[number], state, moment)
        if heard.controller is not None:
            box.longest_s, box.contact_s = heard.controller.longest_s, heard.controller.contact_s
            box.stopped = heard.controller.stopped
        box.heard_at = moment.real
        box.save(update_fields=TOLD_OF_CONTROLLER)
        out = _told(farm, box, heard, moment)
    # Whatever the log says to it, what the controller told stays told.
    log_runs(farm)
    return out


def _pace(farm: Farm) -> float:
    """Farm seconds in a real one; 0 while a demo's clock stands."""
    if farm.fixed_now is None:
        return 1.0
    return 0.0 if farm.clock_started_at is None else farm.clock_rate


def rate_of(farm: Farm) -> float:
    """Seconds of a controller in a real one: the farm's, but a demo's clock that stands does not
    keep a valve open for ever."""
    return _pace(farm) or 1.0


def _restarted(
    farm: Farm, box: ValveController, boot: str, valves: dict[int, Valve], moment: _Moment
) -> None:
    """A box that started anew has all valves closed: what was open closed when it lost power."""
    if box.boot:
        write_entry(farm, EntryKind.CONTROLLER_RESTARTED, moment.farm, about=box.name)
    box.boot, box.event_seen = boot, 0
    runs = ValveRun.unscoped.filter(valve__in=valves.values(), closed_at=None)
    for run in runs.select_related("valve"):
        _end(farm, run, EndedBy.RESTART, moment.farm, run.valve.volume_m3)


def _end(
    farm: Farm, run: ValveRun, ended_by: EndedBy, at: datetime, volume_m3: float | None
) -> None:
    run.closed_at, run.ended_by, run.volume_m3 = max(at, run.opened_at), ended_by, volume_m3
    run.save(update_fields=["closed_at", "ended_by", "volume_m3"])
    write_entry(farm, EntryKind.CLOSED, run.closed_at, valve=run.valve, why=ended_by)


def _take_answers(farm: Farm, valves: dict[int, Valve], heard: Heard, moment: _Moment) -> None:
    for number, answer in heard.answers:
        rows = ValveCommand.unscoped.filter(valve=valves.get(number), key=answer.command)
        command = rows.exclude(state__in=[CommandState.DONE, CommandState.REFUSED]).first()
        if command is None:
            continue
        command.state = CommandState.DONE if answer.done else CommandState.REFUSED
        command.save(update_fields=["state"])
        if not answer.done:
            write_entry(
                farm,
                EntryKind.OPENING_REFUSED,
                moment.farm,
                valve=valves[number],
                why=answer.why or "",
            )


def _take_events(
    farm: Farm, box: ValveController, valves: dict[int, Valve], heard: Heard, moment: _Moment
) -> None:
    for number, event in heard.events:
        if event.id <= box.event_seen:
            continue
        box.event_seen = event.id
        valve = valves.get(number)
        if valve is not None:
            age_s = event.age_s * _pace(farm) / rate_of(farm)
            _take_event(farm, valve, event, moment.farm - timedelta(seconds=age_s))


def _take_event(farm: Farm, valve: Valve, event: HappenedAtValve, at: datetime) -> None:
    if event.kind is ValveEventKind.CLOSED:
        run = ValveRun.unscoped.filter(valve=valve, closed_at=None).select_related("valve").first()
        if run is not None:
            _end(farm, run, EndedBy(event.why or "command"), at, event.volume_m3)
            return
    command = ValveCommand.unscoped.filter(valve=valve, key=event.command).first()
    if event.kind is ValveEventKind.OPENED and command is not None:
        # A box that opens it again has closed it, whether or not it told.
        others = ValveRun.unscoped.filter(valve=valve, closed_at=None).exclude(command=command)
        for run in others.select_related("valve"):
            _end(farm, run, EndedBy.COMMAND, at, valve.volume_m3)
        ValveRun.unscoped.get_or_create(command=command, defaults={"valve": valve, "opened_at": at})
    write_entry(farm, _OF_EVENT[event.kind], at, valve=valve, why=event.why or "")


def _take_state(farm: Farm, valve: Valve, state: ValveState, moment: _Moment) -> None:
    valve.is_open, valve.since_s = state.open, state.since_s
    valve.flow_ls, valve.volume_m3 = state.flow_ls, state.volume_m3
    valve.closes_in_s, valve.locked_out = state.closes_in_s, state.locked_out
    valve.told_at = moment.real
    valve.save(update_fields=TOLD_OF_VALVE)
    fault = flow_fault(state.open, state.since_s, state.flow_ls, valve.expected_ls)
    standing = ValveAlarm.unscoped.filter(valve=valve, ended_at=None)
    standing.exclude(fault=fault or "").update(ended_at=moment.farm)
    if fault is not None and not standing.exists():
        ValveAlarm(
            valve=valve, fault=fault, flow_ls=state.flow_ls or 0.0, began_at=moment.farm
        ).save()
        write_entry(farm, EntryKind.ALARM, moment.farm, valve=valve, why=fault)


def _told(farm: Farm, box: ValveController, heard: Heard, moment: _Moment) -> MessagesOut:
    """What a controller is to do: stop or not, as it stands, and commands it did not answer."""
    control = control_of(farm)
    stopped = not control.on or control.stopped_at is not None
    waiting = ValveCommand.unscoped.filter(
        valve__controller=box, state=CommandState.WAITING
    ).select_related("valve")
    _expire(farm, [c for c in waiting if c.expires_at <= moment.real], moment)
    return MessagesOut(
        events_until=box.event_seen,
        ask_again_s=ASK_AGAIN_S,
        rate=rate_of(farm),
        messages=[
            MessageOut(topic="controller/stop", payload={"stopped": stopped}),
            *(
                _command(c, moment)
                for c in sorted(waiting, key=lambda c: c.pk)
                if c.expires_at > moment.real
            ),
        ],
        refused=heard.refused,
    )


def _expire(farm: Farm, late: list[ValveCommand], moment: _Moment) -> None:
    for command in late:
        command.state = CommandState.EXPIRED
        command.save(update_fields=["state"])
        if command.kind == CommandKind.OPEN:
            write_entry(farm, EntryKind.OPENING_EXPIRED, moment.farm, valve=command.valve)


def _command(command: ValveCommand, moment: _Moment) -> MessageOut:
    payload = {
        "command": str(command.key),
        "do": command.kind,
        "expires_in_s": round((command.expires_at - moment.real).total_seconds(), 1),
    }
    if command.run_s is not None:
        payload["run_s"] = command.run_s
    return MessageOut(topic=f"valve/{command.valve.number}/command", payload=payload)
