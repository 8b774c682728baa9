"""Whether a farm opens valves from afar, and its emergency stop."""

from core.sentence import sentence
from server.base.errors import Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.models import Farm
from server.farms.rules import Action
from server.valves.models import (
    CommandKind,
    CommandState,
    EntryKind,
    ValveCommand,
    ValveControl,
)
from server.valves.record import write_entry

_OPEN_STATES = (CommandState.PREPARED, CommandState.WAITING)


def control_of(farm: Farm) -> ValveControl:
    """The farm's valve control; one that is off, and not on record, where there is none."""
    row: ValveControl | None = ValveControl.objects.for_farm(farm).first()
    return row or ValveControl(farm=farm)


def forget_openings(farm: Farm) -> None:
    """No opening that was asked for is sent any more."""
    ValveCommand.objects.for_farm(farm).filter(
        kind=CommandKind.OPEN, state__in=_OPEN_STATES
    ).update(state=CommandState.EXPIRED)


@acting(Action.MANAGE_VALVES)
def switch_on(access: Access, cautions_read: bool) -> ValveControl:
    """Let valves be opened from afar, by people who read what to watch for.

    Raises
    ------
    RequestError
        Where the cautions were not read.
    """
    if not cautions_read:
        raise RequestError(
            sentence("Valve control stays off."),
            (
                Problem(
                    field="cautions_read",
                    message=sentence("Read the cautions and confirm that you did."),
                ),
            ),
        )
    row = control_of(access.farm)
    row.on = True
    row.save()
    record(access, Done.VALVE_CONTROL_ON)
    return row


@acting(Action.MANAGE_VALVES)
def switch_off(access: Access) -> ValveControl:
    """No valve is opened any more, and what is open closes."""
    row = control_of(access.farm)
    row.on = False
    row.save()
    forget_openings(access.farm)
    record(access, Done.VALVE_CONTROL_OFF)
    return row


@acting(Action.STOP_VALVES)
def stop_all(access: Access) -> ValveControl:
    """Emergency stop, for whoever sees the farm: close every valve and open none."""
    row = control_of(access.farm)
    forget_openings(access.farm)
    if row.stopped_at is None:
        row.stopped_at, row.stopped_by = access.now(), access.user
        row.save()
        write_entry(access.farm, EntryKind.EMERGENCY_STOP, access.now(), by=access.user)
        record(access, Done.EMERGENCY_STOP)
    return row


@acting(Action.OPERATE_VALVES)
def release_stop(access: Access) -> ValveControl:
    """End the emergency stop; no valve opens by that."""
    row = control_of(access.farm)
    if row.stopped_at is None:
        raise RequestError(sentence("The emergency stop is not on."))
    row.stopped_at, row.stopped_by = None, None
    row.save()
    write_entry(access.farm, EntryKind.STOP_RELEASED, access.now(), by=access.user)
    record(access, Done.EMERGENCY_STOP_RELEASED)
    return row
