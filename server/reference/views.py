"""The API's description for people: a page on which every operation can be read and tried."""

from pathlib import Path

import ninja
from django.http import Http404, HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from django.shortcuts import render
from django.views.decorators.cache import cache_control
from django.views.decorators.http import require_safe
from django.views.static import serve

# The viewer comes with the framework; what starts it is ours.
VIEWER = Path(ninja.__file__).parent / "static" / "ninja"
OWN = Path(__file__).parent
PARTS = {
    "swagger-ui.css": VIEWER,
    "swagger-ui-bundle.js": VIEWER,
    "start.js": OWN,
}
DESCRIPTION = OWN.parent / "openapi.json"
DAY_S = 86_400


@require_safe
def page(request: HttpRequest) -> HttpResponse:
    """Every operation, with its examples."""
    return render(request, "reference/page.html")


@require_safe
def description(request: HttpRequest) -> HttpResponse:
    """The API's description as OpenAPI 3.1."""
    return HttpResponse(DESCRIPTION.read_bytes(), content_type="application/json")


@require_safe
@cache_control(max_age=DAY_S)
def part(request: HttpRequest, name: str) -> HttpResponseBase:
    """A script or style of the page."""
    if name not in PARTS:
        raise Http404
    return serve(request, name, document_root=str(PARTS[name]))
