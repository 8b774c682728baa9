"""A controller's way in: its own token."""

from django.http import HttpRequest
from ninja.security import HttpBearer

from server.base.tokens import token_hash
from server.valves.models import ValveController


class ControllerToken(HttpBearer):
    """Accepts the bearer token of a controller that is not revoked."""

    def authenticate(self, request: HttpRequest, token: str) -> ValveController | None:
        rows = ValveController.unscoped.select_related("farm")
        return rows.filter(token_sha256=token_hash(token), revoked_at=None).first()
