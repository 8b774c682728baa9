"""Addresses: the API, and the interface for everything else."""

from django.urls import path, re_path

from server.api import api
from server.interface import index, nothing_there

urlpatterns = [
    path("api/", nothing_there),
    path("api/", api.urls),
    re_path(r"^api(?:/.*)?$", nothing_there),
    re_path(r"^(?!api/|assets/).*$", index),
]
