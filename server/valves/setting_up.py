"""Controllers and valves as a person sets them up."""

from dataclasses import dataclass

from django.utils import timezone

from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.base.tokens import new_token, token_hash
from server.blocks.models import Block
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.valves.models import Valve, ValveController, ValveRun

PREFIX = "efv_"


@dataclass(frozen=True)
class IssuedController:
    """A controller and its token, which is shown this once."""

    controller: ValveController
    token: str


@dataclass(frozen=True)
class ValveFigures:
    """A valve as a person describes it: flow by its block's design [L/s], None unknown."""

    controller_id: int
    number: int
    name: str
    block_id: int | None
    expected_ls: float | None


def find_controller(access: Access, controller_id: int) -> ValveController:
    """A controller of the farm."""
    rows = ValveController.objects.for_farm(access.farm)
    row: ValveController | None = rows.filter(pk=controller_id).first()
    if row is None:
        raise NotFound(sentence("There is no such controller on this farm."))
    return row


def find_valve(access: Access, valve_id: int) -> Valve:
    """A valve of the farm, its controller and block loaded."""
    rows = Valve.objects.for_farm(access.farm).select_related("controller", "block")
    row: Valve | None = rows.filter(pk=valve_id).first()
    if row is None:
        raise NotFound(sentence("There is no such valve on this farm."))
    return row


def _give_token(row: ValveController) -> str:
    token = new_token(PREFIX)
    row.token_sha256, row.token_hint = token_hash(token), token[-4:]
    return token


@acting(Action.MANAGE_VALVES)
def add_controller(access: Access, name: str, *, simulated: bool = False) -> IssuedController:
    """A new controller and the token it signs in with.

    Raises
    ------
    RequestError
        Where its name is empty or taken.
    """
    name = name.strip()
    problem = None
    if not name:
        problem = sentence("Enter a name for the controller.")
    elif ValveController.objects.for_farm(access.farm).filter(name__iexact=name).exists():
        problem = sentence("There is a controller {name} already.", name=name)
    if problem:
        raise RequestError(
            sentence("The controller was not saved."), (Problem(field="name", message=problem),)
        )
    row = ValveController(farm=access.farm, name=name, simulated=simulated)
    token = _give_token(row)
    row.save()
    record(access, Done.CONTROLLER_ADDED, name)
    return IssuedController(row, token)


@acting(Action.MANAGE_VALVES)
def renew_controller_token(access: Access, controller_id: int) -> IssuedController:
    """A new token for a controller; the old one ends, and a revoked controller may sign in."""
    row = find_controller(access, controller_id)
    token = _give_token(row)
    row.revoked_at = None
    row.save(update_fields=["token_sha256", "token_hint", "revoked_at"])
    record(access, Done.CONTROLLER_TOKEN_RENEWED, row.name)
    return IssuedController(row, token)


@acting(Action.MANAGE_VALVES)
def revoke_controller(access: Access, controller_id: int) -> ValveController:
    """End a controller's token: cut off, it closes its valves."""
    row = find_controller(access, controller_id)
    if row.revoked_at is None:
        row.revoked_at = timezone.now()
        row.save(update_fields=["revoked_at"])
        record(access, Done.CONTROLLER_REVOKED, row.name)
    return row


@acting(Action.MANAGE_VALVES)
def add_valve(access: Access, figures: ValveFigures) -> Valve:
    """A new valve on a controller."""
    row = Valve()
    _describe(access, row, figures)
    record(access, Done.VALVE_ADDED, row.name, thing=row.pk, block=row.block_id)
    return row


@acting(Action.MANAGE_VALVES)
def change_valve(access: Access, valve_id: int, figures: ValveFigures) -> Valve:
    """Describe a valve anew; not while it is open."""
    row = find_valve(access, valve_id)
    _must_be_closed(row)
    _describe(access, row, figures)
    record(access, Done.VALVE_CHANGED, row.name, thing=row.pk, block=row.block_id)
    return row


@acting(Action.MANAGE_VALVES)
def remove_valve(access: Access, valve_id: int) -> None:
    """Remove a valve; the record keeps what it did under its name."""
    row = find_valve(access, valve_id)
    _must_be_closed(row)
    name, block_id = row.name, row.block_id
    row.delete()
    record(access, Done.VALVE_REMOVED, name, block=block_id)


def _must_be_closed(row: Valve) -> None:
    runs = ValveRun.unscoped.filter(valve=row, closed_at=None)
    if row.is_open or runs.exists():
        raise RequestError(sentence("The valve is open. Close it first."))


def _describe(access: Access, row: Valve, figures: ValveFigures) -> None:
    controller = find_controller(access, figures.controller_id)
    name, problems = figures.name.strip(), []
    if not name:
        problems.append(Problem(field="name", message=sentence("Enter a name for the valve.")))
    others = Valve.objects.for_farm(access.farm).filter(
        controller=controller, number=figures.number
    )
    if others.exclude(pk=row.pk).exists():
        problems.append(
            Problem(
                field="number",
                message=sentence(
                    "{controller} has a valve {number} already.",
                    controller=controller.name,
                    number=figures.number,
                ),
            )
        )
    block = None
    if figures.block_id is not None:
        block = Block.objects.for_farm(access.farm).filter(pk=figures.block_id).first()
        if block is None:
            problems.append(
                Problem(field="block_id", message=sentence("Choose a block of this farm."))
            )
    if problems:
        raise RequestError(sentence("The valve was not saved."), tuple(problems))
    fields = ["controller", "number", "name", "block", "expected_ls"]
    if row.pk and (row.controller_id, row.number) != (controller.pk, figures.number):
        # What another output told is nothing of this one.
        row.is_open, row.flow_ls, row.told_at, row.locked_out = None, None, None, False
        fields += ["is_open", "flow_ls", "told_at", "locked_out"]
    row.controller, row.number, row.name = controller, figures.number, name
    row.block, row.expected_ls = block, figures.expected_ls
    # Its controller may be telling of it at this moment.
    row.save(update_fields=fields if row.pk else None)
