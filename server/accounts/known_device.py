"""Devices on which a person has signed in before: strangers' wrong passwords don't slow them.

A cookie that only this application can sign says so. It opens nothing by itself.
"""

import secrets
from datetime import timedelta

from django.conf import settings
from django.core import signing
from django.http import HttpRequest, HttpResponse

from server.accounts.models import User

COOKIE = "known_device"
KEPT = timedelta(days=400)
_SALT = "server.accounts.known_device"


def known_device(request: HttpRequest, email: str) -> str | None:
    """The device's own number, when this person has signed in on it; else None."""
    cookie = request.COOKIES.get(COOKIE, "")
    try:
        who, device = signing.loads(cookie, salt=_SALT, max_age=KEPT)
    except (signing.BadSignature, ValueError, TypeError):
        return None
    return str(device) if who == email else None


def remember_device(answer: HttpResponse, request: HttpRequest, user: User) -> None:
    """Leave the cookie with whoever has just signed in."""
    device = known_device(request, user.email) or secrets.token_hex(8)
    answer.set_cookie(
        COOKIE,
        signing.dumps([user.email, device], salt=_SALT),
        max_age=KEPT,
        path="/api/session",
        secure=settings.SESSION_COOKIE_SECURE,
        httponly=True,
        samesite="Strict",
    )
