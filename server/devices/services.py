"""Loggers and gateways: making one, giving it a new token, revoking it."""

from dataclasses import dataclass

from core.sentence import sentence
from server.base.errors import NotFound, Problem, RequestError
from server.base.tokens import new_token, token_hash
from server.devices.models import Device
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.rules import Action
from server.instruments.models import Instrument

PREFIX = "efd_"


@dataclass(frozen=True)
class Issued:
    """A device and its token, which is shown this once."""

    device: Device
    token: str


def find_device(access: Access, device_id: int) -> Device:
    """A device of the farm."""
    row: Device | None = Device.objects.for_farm(access.farm).filter(pk=device_id).first()
    if row is None:
        raise NotFound(sentence("There is no such logger on this farm."))
    return row


def _give_token(device: Device) -> str:
    token = new_token(PREFIX)
    device.token_sha256, device.token_hint = token_hash(token), token[-4:]
    return token


@acting(Action.MANAGE_DEVICES)
def add_device(
    access: Access, name: str, instrument_ids: list[int], *, simulated: bool = False
) -> Issued:
    """A new device; ``instrument_ids`` limits what it may write to, none means the whole farm.

    Raises
    ------
    RequestError
    """
    name = name.strip()
    problems = []
    if not name:
        problems.append(Problem(field="name", message=sentence("Enter a name for the logger.")))
    elif Device.objects.for_farm(access.farm).filter(name__iexact=name).exists():
        problems.append(
            Problem(field="name", message=sentence("There is a logger {name} already.", name=name))
        )
    scope = list(Instrument.objects.for_farm(access.farm).filter(pk__in=instrument_ids))
    if len(scope) < len(set(instrument_ids)):
        problems.append(
            Problem(
                field="instruments", message=sentence("One of the instruments is not of this farm.")
            )
        )
    if problems:
        raise RequestError(sentence("The logger was not saved."), tuple(problems))
    device = Device(farm=access.farm, name=name, made_by=access.user, simulated=simulated)
    token = _give_token(device)
    device.save()
    device.instruments.set(scope)
    record(access, Done.LOGGER_ADDED, name)
    return Issued(device, token)


@acting(Action.MANAGE_DEVICES)
def renew_token(access: Access, device_id: int) -> Issued:
    """A new token for a device; the old one ends, and a revoked device may send again."""
    device = find_device(access, device_id)
    token = _give_token(device)
    device.revoked_at = None
    device.save(update_fields=["token_sha256", "token_hint", "revoked_at"])
    record(access, Done.LOGGER_TOKEN_RENEWED, device.name)
    return Issued(device, token)


@acting(Action.MANAGE_DEVICES)
def revoke(access: Access, device_id: int) -> Device:
    """End a device's token; its readings stay."""
    device = find_device(access, device_id)
    if device.revoked_at is None:
        device.revoked_at = access.now()
        device.save(update_fields=["revoked_at"])
        record(access, Done.LOGGER_REVOKED, device.name)
    return device
