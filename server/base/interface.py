"""The built interface: one page, given its nonce at each request."""

from functools import cache

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.views.decorators.cache import never_cache
from django.views.decorators.http import require_safe

from core.sentence import sentence
from server.base.language import translated

PLACEHOLDER = "__CSP_NONCE__"


@cache
def _page() -> str:
    path = settings.WEB_DIST / "index.html"
    if not path.exists():
        return ""
    return str(path.read_text("utf-8"))


def nothing_there(request: HttpRequest) -> HttpResponse:
    """An address of the API that has nothing behind it."""
    message = sentence("There is nothing at {path}.", path=request.path[:200])
    return JsonResponse({"message": translated(message), "problems": []}, status=404)


@never_cache
@require_safe
def index(request: HttpRequest) -> HttpResponse:
    """The page behind every address of the interface."""
    page = _page()
    if not page:
        return HttpResponse(
            "The interface is not built. Run './furrow demo'.",
            status=503,
            content_type="text/plain",
        )
    return HttpResponse(page.replace(PLACEHOLDER, str(request.csp_nonce)))  # type: ignore[attr-defined]
