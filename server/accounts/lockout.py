"""What is answered once a door is locked."""

from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse


def locked_out(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
    """The refusal in the API's own shape."""
    message = "Too many wrong passwords. Wait half an hour and try again."
    return JsonResponse({"message": message, "problems": []}, status=429)
