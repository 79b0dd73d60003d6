"""Addresses: the API, and the page that the web application lives in."""

from django.urls import path, re_path
from studio.api import api
from studio.page import health, page, shared_page

urlpatterns = [
    path("api/health", health),
    path("api/", api.urls),
    path("l/<path:token>", shared_page),
    re_path(r"^(?!api/|assets/).*$", page, name="page"),
]
