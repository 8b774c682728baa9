"""Valve control as the API shows it."""

from collections.abc import Sequence
from datetime import timedelta

from django.utils import timezone

from core.valves.flow_check import WHAT_TO_DO, FlowFault
from core.valves.opening import is_silent
from server.farms.access import Access
from server.farms.models import Farm
from server.valves.control import control_of
from server.valves.models import (
    CommandKind,
    CommandState,
    EntryKind,
    Valve,
    ValveAlarm,
    ValveCommand,
    ValveControl,
    ValveController,
    ValveEntry,
)
from server.valves.opening import CONFIRM_WITHIN, Prepared, seconds_since
from server.valves.schemas import (
    ControllerOut,
    EmergencyStopOut,
    PreparedOut,
    ToOpenOut,
    ValveAlarmOut,
    ValveEntryOut,
    ValveOut,
    ValvesOut,
    ValveWatchOut,
)
from server.water.models import Irrigation

MOST_ENTRIES = 100
# Irrigations scheduled within so long can be chosen when a valve is opened.
AHEAD = timedelta(days=1)
BEHIND = timedelta(hours=12)


def controller_out(row: ValveController) -> ControllerOut:
    """A controller, and whether it is heard."""
    heard = seconds_since(row.heard_at)
    return ControllerOut(
        id=row.pk,
        name=row.name,
        simulated=row.simulated,
        token_hint=row.token_hint,
        revoked=row.revoked_at is not None,
        heard_s_ago=heard,
        silent=_is_cut_off(row),
        longest_min=None if row.longest_s is None else row.longest_s / 60,
        contact_s=row.contact_s,
    )


def prepared_out(made: Prepared) -> PreparedOut:
    """What opening a valve would do."""
    valve = made.command.valve
    return PreparedOut(
        command_id=made.command.pk,
        valve=valve.name,
        block=valve.block.name if valve.block else None,
        minutes=(made.command.run_s or 0.0) / 60,
        closes_at=made.closes_at,
        expected_m3=made.expected_m3,
        confirm_within_s=CONFIRM_WITHIN.total_seconds(),
    )


def valves_out(access: Access) -> ValvesOut:
    """Everything of a farm's valves."""
    farm = access.farm
    control = control_of(farm)
    boxes = list(ValveController.objects.for_farm(farm).order_by("name"))
    valves = _valves(farm)
    entries = ValveEntry.objects.for_farm(farm).select_related("by").order_by("-at", "-pk")
    return ValvesOut(
        now=access.now(),
        time_zone=farm.time_zone,
        on=control.on,
        stop=_stop(control, boxes, valves),
        controllers=[controller_out(b) for b in boxes],
        valves=_valves_out(farm, valves),
        alarms=_alarms(farm),
        scheduled=_scheduled(access, valves),
        record=[
            ValveEntryOut(
                at=e.at,
                about=e.about,
                kind=EntryKind(e.kind),
                why=e.why,
                by=e.by.name if e.by else None,
            )
            for e in entries[:MOST_ENTRIES]
        ],
    )


def watch_out(farm: Farm) -> ValveWatchOut:
    """What every screen shows of a farm's valves."""
    control = control_of(farm)
    boxes = list(ValveController.objects.for_farm(farm).order_by("name"))
    valves = _valves(farm)
    return ValveWatchOut(
        on=control.on,
        stop=_stop(control, boxes, valves),
        open=sum(bool(v.is_open) for v in valves),
        out_of_contact=[v.name for v in valves if v.is_open and _is_cut_off(v.controller)],
        alarms=_alarms(farm),
    )


def _valves(farm: Farm) -> list[Valve]:
    rows = Valve.objects.for_farm(farm).select_related("controller", "block")
    rows = rows.defer("block__outline", "block__design")
    return list(rows.order_by("controller__name", "number"))


def _is_cut_off(row: ValveController) -> bool:
    return row.revoked_at is not None or is_silent(seconds_since(row.heard_at), row.contact_s)


def _stop(
    control: ValveControl, boxes: Sequence[ValveController], valves: Sequence[Valve]
) -> EmergencyStopOut | None:
    if control.stopped_at is None:
        return None
    still_open = {v.controller_id for v in valves if v.is_open}
    return EmergencyStopOut(
        at=control.stopped_at,
        by=control.stopped_by.name if control.stopped_by else None,
        not_confirmed=[
            b.name for b in boxes if _is_cut_off(b) or not b.stopped or b.pk in still_open
        ],
    )


def _valves_out(farm: Farm, valves: Sequence[Valve]) -> list[ValveOut]:
    waiting = set(
        ValveCommand.objects.for_farm(farm)
        .filter(state=CommandState.WAITING, expires_at__gt=timezone.now())
        .values_list("valve_id", "kind")
    )
    return [
        ValveOut(
            id=v.pk,
            controller_id=v.controller_id,
            controller=v.controller.name,
            number=v.number,
            name=v.name,
            block_id=v.block_id,
            block=v.block.name if v.block else None,
            expected_ls=v.expected_ls,
            is_open=v.is_open,
            flow_ls=v.flow_ls,
            volume_m3=v.volume_m3,
            closes_in_s=v.closes_in_s,
            locked_out=v.locked_out,
            silent=_is_cut_off(v.controller),
            opening=(v.pk, CommandKind.OPEN) in waiting,
            closing=(v.pk, CommandKind.CLOSE) in waiting,
        )
        for v in valves
    ]


def _alarms(farm: Farm) -> list[ValveAlarmOut]:
    rows = ValveAlarm.objects.for_farm(farm).filter(confirmed_at=None)
    return [
        ValveAlarmOut(
            id=a.pk,
            valve_id=a.valve_id,
            valve=a.valve.name,
            block=a.valve.block.name if a.valve.block else None,
            fault=FlowFault(a.fault),
            flow_ls=a.flow_ls,
            expected_ls=a.valve.expected_ls,
            began_at=a.began_at,
            ended_at=a.ended_at,
            what_to_do=WHAT_TO_DO[FlowFault(a.fault)],
        )
        for a in rows.select_related("valve__block").order_by("-began_at", "-pk")
    ]


def _scheduled(access: Access, valves: Sequence[Valve]) -> list[ToOpenOut]:
    now = access.now()
    rows = Irrigation.objects.for_farm(access.farm).filter(
        status=Irrigation.Status.PLANNED,
        block__in=[v.block_id for v in valves if v.block_id is not None],
        started_at__range=(now - BEHIND, now + AHEAD),
    )
    return [
        ToOpenOut(
            id=r.pk,
            block_id=r.block_id,
            starts_at=r.started_at,
            minutes=(r.ended_at - r.started_at) / timedelta(minutes=1),
            gross_mm=r.gross_mm,
        )
        for r in rows.order_by("started_at", "pk")
    ]
