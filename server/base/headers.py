"""What every answer says of itself to browsers and to whatever stands between."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

# Of a device's senses its position alone is needed, to find a spot; pictures are taken by the
# phone's own camera.
POLICY = "camera=(), geolocation=(self), microphone=(), payment=(), usb=()"


class AnswerHeaders:
    """What browsers may use, and that answers about a farm are kept by nobody on the way."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        answer = self.get_response(request)
        answer.setdefault("Permissions-Policy", POLICY)
        if request.path.startswith("/api"):
            answer.setdefault("Cache-Control", "no-store")
        return answer
