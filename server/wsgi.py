"""WSGI entry point."""

import os
from collections.abc import Iterable
from typing import TYPE_CHECKING

from django.core.exceptions import SuspiciousOperation
from django.core.wsgi import get_wsgi_application

if TYPE_CHECKING:
    from wsgiref.types import StartResponse, WSGIEnvironment

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings")
_django = get_wsgi_application()

# What zones are made with: a second that whoever opens a block's layers first need not wait.
import sklearn.cluster  # noqa: E402
import sklearn.metrics  # noqa: E402, F401
from django.urls import get_resolver  # noqa: E402 - needs the settings

from server.files.confined import warm  # noqa: E402

warm()
# Every address and what answers it is imported now, not while somebody waits for the first.
list(get_resolver().url_patterns)


def application(environ: "WSGIEnvironment", start_response: "StartResponse") -> Iterable[bytes]:
    """Django; what its request can't even be made of is answered here."""
    try:
        return _django(environ, start_response)
    except SuspiciousOperation:
        body = b'{"message": "The request could not be read.", "problems": []}'
        start_response("400 Bad Request", [("Content-Type", "application/json")])
        return [body]
