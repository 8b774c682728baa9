"""Signing in and out, and a person's own preferences."""

from typing import Literal

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Field, Router
from ninja.utils import check_csrf

from core.sentence import sentence
from server.accounts.address import client_address
from server.accounts.demo_people import demo_user
from server.accounts.known_device import known_device, remember_device
from server.accounts.models import User
from server.accounts.tries import counted
from server.base.error_schema import ERRORS, ErrorOut
from server.base.errors import NotAllowed, NotFound, RequestError
from server.base.schema import Body, Schema
from server.base.signed_in import person
from server.farms.models import Membership, Role
from server.farms.rules import Action, may
from server.valves.models import ValveControl

router = Router(tags=["session"])
LOOPBACK = frozenset({"127.0.0.1", "::1"})
# Headers that proxies add.
PASSED_ON = (
    "HTTP_X_FORWARDED_FOR",
    "HTTP_X_FORWARDED_HOST",
    "HTTP_X_FORWARDED_PROTO",
    "HTTP_X_REAL_IP",
    "HTTP_FORWARDED",
    "HTTP_VIA",
)


class FarmRef(Schema):
    slug: str
    name: str
    role: Role
    may: list[Action]
    valve_control: bool
    simulated: bool


class PersonOut(Schema):
    name: str
    email: str
    units: User.Units
    theme: User.Theme


class SessionOut(Schema):
    """Who is signed in, if anyone; ``demo`` when one-click sign-in is open."""

    person: PersonOut | None
    farms: list[FarmRef]
    demo: bool
    csrf_token: str


class SignIn(Body):
    email: str = Field(max_length=254)
    password: str = Field(max_length=1000)


class DemoSignIn(Body):
    role: Role


class Preferences(Body):
    units: Literal["metric", "us"] | None = None
    theme: Literal["system", "light", "dark"] | None = None


def demo_open(request: HttpRequest) -> bool:
    """Whether one-click sign-in answers: demo mode, and the caller on this very machine.

    What came through a proxy has the proxy's address, and may be anybody's.
    """
    passed_on = any(request.META.get(name) for name in PASSED_ON)
    return settings.CONFIG.demo and request.META.get("REMOTE_ADDR") in LOOPBACK and not passed_on


def session_of(request: HttpRequest) -> SessionOut:
    """The session as the interface needs it."""
    token = get_token(request)
    if not request.user.is_authenticated:
        return SessionOut(person=None, farms=[], demo=demo_open(request), csrf_token=token)
    user = person(request)
    rows = Membership.objects.filter(user=user).select_related("farm").order_by("farm__name")
    with_valves = set(
        ValveControl.unscoped.filter(farm__memberships__user=user, on=True).values_list(
            "farm_id", flat=True
        )
    )
    return SessionOut(
        person=PersonOut.model_validate(user, from_attributes=True),
        farms=[
            FarmRef(
                slug=m.farm.slug,
                name=m.farm.name,
                role=Role(m.role),
                may=[a for a in Action if may(Role(m.role), a)],
                simulated=m.farm.simulated,
                valve_control=m.farm_id in with_valves,
            )
            for m in rows
        ],
        demo=demo_open(request),
        csrf_token=token,
    )


def guard_csrf(request: HttpRequest) -> None:
    """Refuse what another site sends; for what runs before anybody is signed in."""
    if check_csrf(request) is not None:
        raise NotAllowed(sentence("The page is out of date. Reload it and sign in."))


@router.get("/session", response={200: SessionOut, **ERRORS}, auth=None, operation_id="session")
def session(request: HttpRequest) -> SessionOut:
    return session_of(request)


@router.post(
    "/session",
    response={200: SessionOut, 429: ErrorOut, **ERRORS},
    auth=None,
    operation_id="sign_in",
)
def sign_in(request: HttpRequest, response: HttpResponse, data: SignIn) -> SessionOut:
    guard_csrf(request)
    email = data.email.strip().lower()
    with counted(email, client_address(request), known_device(request, email)):
        user = authenticate(request, username=email, password=data.password)
        if user is None:
            raise RequestError(sentence("That e-mail address or password is wrong."))
    login(request, user)
    remember_device(response, request, person(request))
    return session_of(request)


@router.post(
    "/session/demo", response={200: SessionOut, **ERRORS}, auth=None, operation_id="demo_sign_in"
)
def demo_sign_in(request: HttpRequest, data: DemoSignIn) -> SessionOut:
    """One click into the demo; answers in demo mode on loopback only."""
    if not demo_open(request):
        raise NotFound(sentence("This is not a demo."))
    guard_csrf(request)
    user = demo_user(data.role)
    if user is None:
        raise NotFound(sentence("The demo's people are missing. Run './furrow demo --fresh'."))
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    return session_of(request)


@router.delete("/session", response={200: SessionOut, **ERRORS}, operation_id="sign_out")
def sign_out(request: HttpRequest) -> SessionOut:
    logout(request)
    return session_of(request)


@router.patch("/me", response={200: SessionOut, **ERRORS}, operation_id="set_preferences")
def set_preferences(request: HttpRequest, data: Preferences) -> SessionOut:
    user = person(request)
    for name, value in data.model_dump(exclude_none=True).items():
        setattr(user, name, value)
    user.save(update_fields=["units", "theme"])
    return session_of(request)
