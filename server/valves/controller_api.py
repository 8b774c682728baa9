"""The door for controllers in the field."""

from typing import cast

from django.http import HttpRequest
from ninja import Router

from server.base.error_schema import ErrorOut
from server.valves.auth import ControllerToken
from server.valves.exchange import exchange
from server.valves.models import ValveController
from server.valves.protocol import MessagesIn, MessagesOut

router = Router(tags=["valves"])


@router.post(
    "/controller/messages",
    auth=ControllerToken(),
    response={200: MessagesOut, frozenset({401, 422}): ErrorOut},
    operation_id="controller_messages",
)
def post_messages(request: HttpRequest, data: MessagesIn) -> MessagesOut:
    """Tell states, events and answers, and get commands; every exchange is contact."""
    controller = cast(ValveController, request.auth)  # type: ignore[attr-defined]
    return exchange(controller, data)
