"""Addresses: the API, and for everything else the interface, which routes itself."""

from django.urls import path, re_path

from rogatum.web.api import api
from rogatum.web.views import index

urlpatterns = [
    path("api/", api.urls),
    re_path(r"^(?!api/|assets/).*$", index),
]
