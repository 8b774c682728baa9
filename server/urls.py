"""Addresses: the API, and the interface for everything else."""

from django.urls import path, re_path

from server.api import api
from server.base.interface import index, nothing_there
from server.jobs.readiness import healthz
from server.reference.views import description, page, part

handler500 = "server.base.failures.handler500"
urlpatterns = [
    path("healthz", healthz),
    path("api/", nothing_there),
    path("api/docs", page),
    path("api/docs/<str:name>", part),
    path("api/openapi.json", description),
    path("api/", api.urls),
    re_path(r"^api(?:/.*)?$", nothing_there),
    re_path(r"^(?!api/|assets/).*$", index),
]
