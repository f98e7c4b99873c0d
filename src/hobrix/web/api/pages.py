"""The two addresses that are pages: the application itself, and the one-time sign-in link."""

from pathlib import Path

from django.conf import settings
from django.contrib.auth import get_user_model, login
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie
from django.views.decorators.http import require_GET, require_safe

from hobrix.web.sign_in_link import sign_in_link


@require_safe
@never_cache
@ensure_csrf_cookie
def application(request: HttpRequest) -> HttpResponse:
    """The front end; it finds its own way from the address."""
    index = Path(settings.FRONTEND) / "index.html"
    if not index.exists():
        return HttpResponse("The front end has not been built: run make build.", status=503)
    page = index.read_text(encoding="utf-8").replace("__CSP_NONCE__", str(request.csp_nonce))  # type: ignore[attr-defined]
    return HttpResponse(page)


@require_GET
@never_cache
def sign_in_by_link(request: HttpRequest, user: str, token: str) -> HttpResponse:
    """Sign in by the link that `hobrix demo` prints; it works once."""
    found = get_user_model().objects.filter(username=user).first()
    if found is None or not sign_in_link.check_token(found, token):
        return HttpResponseRedirect("/sign-in?link=used")
    login(request, found, backend="django.contrib.auth.backends.ModelBackend")
    return HttpResponseRedirect("/")
