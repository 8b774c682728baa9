"""A device's way in: its token, and how much it may send."""

from datetime import datetime, timedelta

from django.http import HttpRequest
from ninja.security import HttpBearer

from core.sentence import sentence
from server.base.errors import TryLater
from server.base.tokens import token_hash
from server.devices.models import Device

WINDOW = timedelta(minutes=1)
MAX_REQUESTS = 120  # a minute
MAX_ROWS = 2_000_000  # a minute


class TooMuch(TryLater):
    """More than a device may send; ``seconds`` until it may again."""

    status = 429

    def __init__(self, seconds: int) -> None:
        super().__init__(
            sentence("This device sends too much. Try again in {seconds} s.", seconds=seconds),
            seconds,
        )


class DeviceToken(HttpBearer):
    """Accepts the bearer token of a device that is not revoked."""

    def authenticate(self, request: HttpRequest, token: str) -> Device | None:
        return (
            Device.unscoped.select_related("farm")
            .filter(token_sha256=token_hash(token), revoked_at=None)
            .first()
        )


def count_request(device: Device, rows: int, at: datetime) -> None:
    """Count a request against the device's minute; its row should be locked.

    Raises
    ------
    TooMuch
    """
    start = device.window_start
    if start is None or not timedelta(0) <= at - start < WINDOW:
        device.window_start, device.window_requests, device.window_rows = at, 0, 0
        start = at
    if device.window_requests >= MAX_REQUESTS or device.window_rows + rows > MAX_ROWS:
        raise TooMuch(max(int((start + WINDOW - at).total_seconds()), 1))
    device.window_requests += 1
    device.window_rows += rows
