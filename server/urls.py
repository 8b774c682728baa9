"""Addresses: the API, and the interface for everything else."""

from django.urls import path, re_path

from server.api import api
from server.interface import index

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/).*$", index),
]
