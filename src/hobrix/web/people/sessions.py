"""Where people are signed in."""

from datetime import datetime, timedelta
from typing import Any

from cachetools import LRUCache
from django.contrib.auth.signals import user_logged_in, user_logged_out
from django.contrib.sessions.models import Session
from django.http import HttpRequest
from django.utils import timezone

from hobrix.web.people.models import SignIn

# How exactly it is known when a session was last used.
_EXACT = timedelta(minutes=5)


def listen() -> None:
    """Called once, when the application starts."""
    user_logged_in.connect(_signed_in)
    user_logged_out.connect(_signed_out)


def _signed_in(request: HttpRequest, user: Any, **_: Any) -> None:
    if request.session.session_key is None:
        request.session.save()
    SignIn.objects.update_or_create(
        session=request.session.session_key,
        defaults={"user": user, "browser": browser_of(request), "seen_at": timezone.now()},
    )


def _signed_out(request: HttpRequest, **_: Any) -> None:
    SignIn.objects.filter(session=request.session.session_key or "").delete()


_last_kept: LRUCache[str, datetime] = LRUCache(10_000)


def seen(request: HttpRequest) -> None:
    """The session is in use. Kept now and then only: every keeping waits for the database."""
    key, now = request.session.session_key or "", timezone.now()
    last = _last_kept.get(key)
    if last is None or now - last > _EXACT:
        _last_kept[key] = now
        SignIn.objects.filter(session=key).update(seen_at=now)


def of(user: Any) -> list[SignIn]:
    """Where somebody is signed in now."""
    signed = SignIn.objects.filter(user=user)
    alive = Session.objects.filter(expire_date__gt=timezone.now())
    return list(signed.filter(session__in=alive.values("session_key")))


def end(user: Any, which: int) -> None:
    """Sign somebody out there."""
    for signed in SignIn.objects.filter(user=user, id=which):
        Session.objects.filter(session_key=signed.session).delete()
        signed.delete()


def browser_of(request: HttpRequest) -> str:
    """In words, as far as the browser says."""
    told = request.headers.get("User-Agent", "")
    name = next((name for mark, name in _BROWSERS if mark in told), "A browser")
    place = next((place for mark, place in _PLACES if mark in told), "")
    return f"{name} on {place}" if place else name


_BROWSERS = (
    ("Firefox/", "Firefox"),
    ("Edg/", "Edge"),
    ("Chrome/", "Chrome or Chromium"),
    ("Safari/", "Safari"),
)
_PLACES = (
    ("Android", "Android"),
    ("iPhone", "iPhone"),
    ("iPad", "iPad"),
    ("Windows", "Windows"),
    ("Mac OS", "macOS"),
    ("Linux", "Linux"),
)
