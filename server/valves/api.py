"""Valve control for people: the switch, the emergency stop, controllers, valves, openings."""

from django.http import HttpRequest
from ninja import Router, Status

from server.base.error_schema import ERRORS
from server.base.schema import DoneOut
from server.base.signed_in import person
from server.farms.access import enter
from server.valves.control import release_stop, stop_all, switch_off, switch_on
from server.valves.opening import close_valve, confirm_alarm, confirm_opening, prepare_opening
from server.valves.present import controller_out, prepared_out, valves_out, watch_out
from server.valves.schemas import (
    ControllerIn,
    ControllerIssuedOut,
    ControllerOut,
    OpenIn,
    PreparedOut,
    SwitchIn,
    ValveIn,
    ValvesOut,
    ValveWatchOut,
)
from server.valves.setting_up import (
    IssuedController,
    add_controller,
    add_valve,
    change_valve,
    remove_valve,
    renew_controller_token,
    revoke_controller,
)

router = Router(tags=["valves"])


def _issued(made: IssuedController) -> ControllerIssuedOut:
    return ControllerIssuedOut(controller=controller_out(made.controller), token=made.token)


@router.get("/farms/{slug}/valves", response={200: ValvesOut, **ERRORS}, operation_id="valves")
def get_valves(request: HttpRequest, slug: str) -> ValvesOut:
    return valves_out(enter(person(request), slug))


@router.get(
    "/farms/{slug}/valves/watch",
    response={200: ValveWatchOut, **ERRORS},
    operation_id="valve_watch",
)
def get_watch(request: HttpRequest, slug: str) -> ValveWatchOut:
    """What every screen shows: the stop, what is open, alarms."""
    return watch_out(enter(person(request), slug).farm)


@router.put(
    "/farms/{slug}/valves/switch",
    response={200: ValvesOut, **ERRORS},
    operation_id="switch_valve_control",
)
def put_switch(request: HttpRequest, slug: str, data: SwitchIn) -> ValvesOut:
    """Switch valve control on, with the cautions read, or off: then everything closes."""
    access = enter(person(request), slug)
    if data.on:
        switch_on(access, data.cautions_read)
    else:
        switch_off(access)
    return valves_out(access)


@router.post(
    "/farms/{slug}/valves/stop",
    response={200: ValveWatchOut, **ERRORS},
    operation_id="stop_valves",
)
def post_stop(request: HttpRequest, slug: str) -> ValveWatchOut:
    """Emergency stop: every valve closes and none opens until it is released."""
    access = enter(person(request), slug)
    stop_all(access)
    return watch_out(access.farm)


@router.delete(
    "/farms/{slug}/valves/stop",
    response={200: ValveWatchOut, **ERRORS},
    operation_id="release_valve_stop",
)
def delete_stop(request: HttpRequest, slug: str) -> ValveWatchOut:
    """Release the emergency stop; no valve opens by that."""
    access = enter(person(request), slug)
    release_stop(access)
    return watch_out(access.farm)


@router.post(
    "/farms/{slug}/valves/controllers",
    response={201: ControllerIssuedOut, **ERRORS},
    operation_id="add_valve_controller",
)
def post_controller(
    request: HttpRequest, slug: str, data: ControllerIn
) -> Status[ControllerIssuedOut]:
    access = enter(person(request), slug)
    return Status(201, _issued(add_controller(access, data.name, simulated=data.simulated)))


@router.post(
    "/farms/{slug}/valves/controllers/{controller_id}/token",
    response={200: ControllerIssuedOut, **ERRORS},
    operation_id="renew_controller_token",
)
def post_token(request: HttpRequest, slug: str, controller_id: int) -> ControllerIssuedOut:
    return _issued(renew_controller_token(enter(person(request), slug), controller_id))


@router.delete(
    "/farms/{slug}/valves/controllers/{controller_id}/token",
    response={200: ControllerOut, **ERRORS},
    operation_id="revoke_valve_controller",
)
def delete_token(request: HttpRequest, slug: str, controller_id: int) -> ControllerOut:
    return controller_out(revoke_controller(enter(person(request), slug), controller_id))


@router.post("/farms/{slug}/valves", response={201: ValvesOut, **ERRORS}, operation_id="add_valve")
def post_valve(request: HttpRequest, slug: str, data: ValveIn) -> Status[ValvesOut]:
    access = enter(person(request), slug)
    add_valve(access, data.figures())
    return Status(201, valves_out(access))


@router.put(
    "/farms/{slug}/valves/{valve_id}",
    response={200: ValvesOut, **ERRORS},
    operation_id="change_valve",
)
def put_valve(request: HttpRequest, slug: str, valve_id: int, data: ValveIn) -> ValvesOut:
    access = enter(person(request), slug)
    change_valve(access, valve_id, data.figures())
    return valves_out(access)


@router.delete(
    "/farms/{slug}/valves/{valve_id}",
    response={200: ValvesOut, **ERRORS},
    operation_id="remove_valve",
)
def delete_valve(request: HttpRequest, slug: str, valve_id: int) -> ValvesOut:
    access = enter(person(request), slug)
    remove_valve(access, valve_id)
    return valves_out(access)


@router.post(
    "/farms/{slug}/valves/{valve_id}/openings",
    response={201: PreparedOut, **ERRORS},
    operation_id="prepare_opening",
)
def post_opening(
    request: HttpRequest, slug: str, valve_id: int, data: OpenIn
) -> Status[PreparedOut]:
    """What opening a valve would do; it opens once the same person confirms it."""
    access = enter(person(request), slug)
    made = prepare_opening(access, valve_id, data.minutes * 60, data.irrigation_id)
    return Status(201, prepared_out(made))


@router.post(
    "/farms/{slug}/valves/openings/{command_id}/confirm",
    response={200: DoneOut, **ERRORS},
    operation_id="confirm_opening",
)
def post_confirmation(request: HttpRequest, slug: str, command_id: int) -> DoneOut:
    confirm_opening(enter(person(request), slug), command_id)
    return DoneOut()


@router.post(
    "/farms/{slug}/valves/{valve_id}/close",
    response={200: DoneOut, **ERRORS},
    operation_id="close_valve",
)
def post_close(request: HttpRequest, slug: str, valve_id: int) -> DoneOut:
    close_valve(enter(person(request), slug), valve_id)
    return DoneOut()


@router.post(
    "/farms/{slug}/valves/alarms/{alarm_id}/confirm",
    response={200: DoneOut, **ERRORS},
    operation_id="confirm_valve_alarm",
)
def post_seen(request: HttpRequest, slug: str, alarm_id: int) -> DoneOut:
    confirm_alarm(enter(person(request), slug), alarm_id)
    return DoneOut()
