"""Addresses: the API, the one-time sign-in link, and the application for everything else."""

from django.http import HttpRequest, HttpResponse
from django.urls import path, re_path

from hobrix.web.api import api
from hobrix.web.api.operator import health, metrics
from hobrix.web.api.pages import application, sign_in_by_link
from hobrix.web.api.problems import problem

urlpatterns = [
    path("health", health),
    path("metrics", metrics),
    path("api/", api.urls),
    path("enter/<str:user>/<str:token>", sign_in_by_link),
    re_path(r"^(?!api/|static/|health$|metrics$).*$", application),
]


def handler404(request: HttpRequest, exception: Exception) -> HttpResponse:  # noqa: ARG001
    """What the API does not know; every other address belongs to the front end."""
    return problem(404, "not-found", "Not found", "There is no such thing here.")
