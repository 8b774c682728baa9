"""Opening a valve in two steps, each a person's: what would happen is shown, then confirmed.

Nothing else opens one: no plan, no job, no device.
"""

from dataclasses import dataclass
from datetime import datetime, timedelta

from django.utils import timezone

from core.sentence import sentence
from core.valves.flow_check import FlowFault
from core.valves.opening import ValveNow, against_opening
from server.base.errors import NotFound, Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.models import Farm
from server.farms.rules import Action
from server.valves.control import control_of
from server.valves.models import (
    CommandKind,
    CommandState,
    EntryKind,
    Valve,
    ValveAlarm,
    ValveCommand,
)
from server.valves.record import write_entry
from server.valves.setting_up import find_valve
from server.water.models import Hold, Irrigation

# A confirmation given to what was read so long ago is none; nor is a command obeyed so late.
CONFIRM_WITHIN = timedelta(seconds=60)
OBEY_WITHIN = timedelta(seconds=60)


@dataclass(frozen=True)
class Prepared:
    """An opening to be confirmed: when the valve will close again, and what it will give [m3]."""

    command: ValveCommand
    closes_at: datetime
    expected_m3: float | None


def seconds_since(at: datetime | None) -> float | None:
    """How long ago a machine was heard, or told something [s]."""
    return None if at is None else (timezone.now() - at).total_seconds()


def valve_now(farm: Farm, valve: Valve, at: datetime) -> ValveNow:
    """A valve as far as is known at a moment of the farm."""
    control, box = control_of(farm), valve.controller
    alarm = ValveAlarm.unscoped.filter(valve=valve, confirmed_at=None).order_by("-began_at").first()
    holds = Hold.objects.for_farm(farm).filter(
        block=valve.block_id, starts_at__lte=at, ends_at__gt=at
    )
    return ValveNow(
        control_on=control.on,
        stopped=control.stopped_at is not None,
        heard_s_ago=None if box.revoked_at else seconds_since(box.heard_at),
        contact_s=box.contact_s,
        longest_s=box.longest_s,
        is_open=valve.is_open,
        locked_out=valve.locked_out,
        fault=FlowFault(alarm.fault) if alarm else None,
        on_hold=valve.block_id is not None and holds.exists(),
    )


def _must_be_free(access: Access, valve: Valve, run_s: float) -> None:
    against = against_opening(valve_now(access.farm, valve, access.now()), run_s)
    if against:
        raise RequestError(
            sentence("{valve} can't be opened.", valve=valve.name),
            tuple(Problem(message=reason) for reason in against),
        )


@acting(Action.OPERATE_VALVES)
def prepare_opening(
    access: Access, valve_id: int, run_s: float, irrigation_id: int | None = None
) -> Prepared:
    """What opening a valve would do. Nothing opens before the same person confirms it.

    Parameters
    ----------
    run_s : how long it is to stay open [s]
    irrigation_id : the scheduled irrigation that it is for, if any

    Raises
    ------
    RequestError
        With every reason why it can't be opened.
    """
    valve = find_valve(access, valve_id)
    _must_be_free(access, valve, run_s)
    irrigation = None
    if irrigation_id is not None:
        rows = Irrigation.objects.for_farm(access.farm).filter(
            pk=irrigation_id, block=valve.block_id
        )
        irrigation = rows.filter(status=Irrigation.Status.PLANNED).first()
        if irrigation is None:
            raise RequestError(
                sentence("This irrigation is not scheduled on the valve's block any more.")
            )
    command = ValveCommand(
        valve=valve,
        kind=CommandKind.OPEN,
        state=CommandState.PREPARED,
        run_s=run_s,
        irrigation=irrigation,
        asked_at=access.now(),
        asked_by=access.user,
        expires_at=timezone.now() + CONFIRM_WITHIN,
    )
    command.save()
    expected = valve.expected_ls
    return Prepared(
        command,
        access.now() + timedelta(seconds=run_s),
        None if expected is None else expected * run_s / 1000,
    )


@acting(Action.OPERATE_VALVES)
def confirm_opening(access: Access, command_id: int) -> ValveCommand:
    """Send an opening that the same person prepared a moment ago; everything is looked at again.

    Raises
    ------
    NotFound
        Where he prepared no such opening.
    RequestError
        Where too much time went by, or something speaks against it now.
    """
    row: ValveCommand | None = (
        ValveCommand.objects.for_farm(access.farm)
        .select_for_update(of=("self",))
        .filter(pk=command_id, kind=CommandKind.OPEN, asked_by=access.user)
        .first()
    )
    if row is None:
        raise NotFound(sentence("There is no such opening to confirm."))
    if row.state in (CommandState.WAITING, CommandState.DONE):
        return row
    if row.state != CommandState.PREPARED or timezone.now() > row.expires_at:
        raise RequestError(
            sentence("The valve was not opened: too much time went by. Look at it again.")
        )
    valve = find_valve(access, row.valve_id)
    _must_be_free(access, valve, row.run_s or 0.0)
    row.state, row.expires_at = CommandState.WAITING, timezone.now() + OBEY_WITHIN
    row.save(update_fields=["state", "expires_at"])
    write_entry(access.farm, EntryKind.OPENING_CONFIRMED, access.now(), valve=valve, by=access.user)
    record(access, Done.VALVE_OPENED, valve.name, thing=row.pk, block=valve.block_id)
    return row


@acting(Action.OPERATE_VALVES)
def close_valve(access: Access, valve_id: int) -> ValveCommand:
    """Ask a valve to close; asked until its controller answers."""
    valve = find_valve(access, valve_id)
    commands = ValveCommand.objects.for_farm(access.farm).filter(
        valve=valve, state=CommandState.WAITING
    )
    commands.filter(kind=CommandKind.OPEN).update(state=CommandState.EXPIRED)
    waiting: ValveCommand | None = commands.filter(kind=CommandKind.CLOSE).first()
    if waiting is not None:
        return waiting
    row = ValveCommand(
        valve=valve,
        kind=CommandKind.CLOSE,
        state=CommandState.WAITING,
        asked_at=access.now(),
        asked_by=access.user,
        expires_at=timezone.now() + timedelta(days=1),
    )
    row.save()
    write_entry(access.farm, EntryKind.CLOSING_ASKED, access.now(), valve=valve, by=access.user)
    record(access, Done.VALVE_CLOSED, valve.name, block=valve.block_id)
    return row


@acting(Action.OPERATE_VALVES)
def confirm_alarm(access: Access, alarm_id: int) -> ValveAlarm:
    """Somebody looked at what an alarm tells of; the valve may be opened again."""
    rows = ValveAlarm.objects.for_farm(access.farm).select_related("valve")
    row: ValveAlarm | None = rows.filter(pk=alarm_id).first()
    if row is None:
        raise NotFound(sentence("There is no such alarm on this farm."))
    if row.confirmed_at is None:
        row.confirmed_at, row.confirmed_by = access.now(), access.user
        row.save(update_fields=["confirmed_at", "confirmed_by"])
        record(access, Done.VALVE_ALARM_CONFIRMED, row.valve.name, block=row.valve.block_id)
    return row
