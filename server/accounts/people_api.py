"""A farm's people, and the invitations by which they come in."""

from datetime import datetime

from django.contrib.auth import login, update_session_auth_hash
from django.http import HttpRequest, HttpResponse
from ninja import Field, Router, Status

from core.sentence import sentence
from server.accounts import people
from server.accounts.address import client_address
from server.accounts.api import SessionOut, guard_csrf, session_of
from server.accounts.invitations import accept, invited, is_awaited, set_password
from server.accounts.known_device import remember_device
from server.accounts.tries import counted
from server.base.error_schema import ERRORS, ErrorOut
from server.base.errors import Problem, RequestError
from server.base.schema import Body, DoneOut, Schema
from server.base.signed_in import person
from server.farms.access import Access, enter
from server.farms.models import Membership, Role
from server.farms.people import people_of
from server.farms.rules import Action, may

router = Router(tags=["people"])


class PersonRef(Schema):
    """A person of the farm. ``email``, ``signed_in_at`` and ``invited`` are for who manages them:
    null for others, and ``signed_in_at`` also for who never did."""

    id: int
    name: str
    role: Role
    you: bool
    email: str | None
    signed_in_at: datetime | None
    invited: bool | None


class PersonIn(Body):
    name: str = Field(max_length=120)
    email: str = Field(max_length=254)
    role: Role


class RoleIn(Body):
    role: Role


class AddedOut(Schema):
    """``token`` ends the link to choose a password by, ``/join#token``; null where the person has
    an account already."""

    person: PersonRef
    token: str | None


class InvitationOut(Schema):
    token: str


class TokenIn(Body):
    token: str = Field(max_length=200)


class JoinIn(TokenIn):
    password: str = Field(max_length=1000)


class InvitedOut(Schema):
    """Whom an invitation is for, and to which farms."""

    name: str
    email: str
    farms: list[str]


class PasswordIn(Body):
    current: str = Field(max_length=1000)
    password: str = Field(max_length=1000)


def _person(access: Access, member: Membership) -> PersonRef:
    user, manages = member.user, may(access.role, Action.MANAGE_PEOPLE)
    return PersonRef(
        id=user.pk,
        name=user.name,
        role=Role(member.role),
        you=user.pk == access.user.pk,
        email=user.email if manages else None,
        signed_in_at=user.last_login if manages else None,
        invited=is_awaited(user) if manages else None,
    )


@router.get(
    "/farms/{slug}/people", response={200: list[PersonRef], **ERRORS}, operation_id="people"
)
def get_people(request: HttpRequest, slug: str) -> list[PersonRef]:
    """Who belongs to the farm."""
    access = enter(person(request), slug)
    return [_person(access, m) for m in people_of(access.farm)]


@router.post("/farms/{slug}/people", response={201: AddedOut, **ERRORS}, operation_id="add_person")
def post_person(request: HttpRequest, slug: str, data: PersonIn) -> Status[AddedOut]:
    """Add a person to the farm."""
    access = enter(person(request), slug)
    added = people.add_person(access, data.name, data.email, data.role)
    return Status(201, AddedOut(person=_person(access, added.member), token=added.token))


@router.patch(
    "/farms/{slug}/people/{person_id}",
    response={200: PersonRef, **ERRORS},
    operation_id="change_role",
)
def patch_person(request: HttpRequest, slug: str, person_id: int, data: RoleIn) -> PersonRef:
    """Give a person another role."""
    access = enter(person(request), slug)
    return _person(access, people.change_role(access, person_id, data.role))


@router.delete(
    "/farms/{slug}/people/{person_id}",
    response={200: DoneOut, **ERRORS},
    operation_id="remove_person",
)
def delete_person(request: HttpRequest, slug: str, person_id: int) -> DoneOut:
    """Remove a person from the farm; what he recorded stays."""
    people.remove_person(enter(person(request), slug), person_id)
    return DoneOut()


@router.post(
    "/farms/{slug}/people/{person_id}/invitation",
    response={200: InvitationOut, **ERRORS},
    operation_id="renew_invitation",
)
def post_invitation(request: HttpRequest, slug: str, person_id: int) -> InvitationOut:
    """Make a new link for a person who has yet to choose a password."""
    access = enter(person(request), slug)
    return InvitationOut(token=people.renew_invitation(access, person_id))


@router.post(
    "/invitation", response={200: InvitedOut, **ERRORS}, auth=None, operation_id="invitation"
)
def post_look(request: HttpRequest, data: TokenIn) -> InvitedOut:
    """Tell whom an invitation is for; nothing changes."""
    guard_csrf(request)
    user = invited(data.token)
    farms = user.memberships.order_by("farm__name").values_list("farm__name", flat=True)
    return InvitedOut(name=user.name, email=user.email, farms=list(farms))


@router.post(
    "/invitation/accept",
    response={200: SessionOut, **ERRORS},
    auth=None,
    operation_id="accept_invitation",
)
def post_accept(request: HttpRequest, response: HttpResponse, data: JoinIn) -> SessionOut:
    """Choose a password and sign in; the invitation is used up."""
    guard_csrf(request)
    user = accept(data.token, data.password)
    login(request, user, backend="django.contrib.auth.backends.ModelBackend")
    remember_device(response, request, user)
    return session_of(request)


@router.put(
    "/me/password",
    response={200: SessionOut, 429: ErrorOut, **ERRORS},
    operation_id="change_password",
)
def put_password(request: HttpRequest, data: PasswordIn) -> SessionOut:
    """Change the password; every other device is signed out."""
    user = person(request)
    # Who found a device signed in may not guess on it either.
    with counted(user.email, client_address(request), None):
        if not user.check_password(data.current):
            problem = Problem(
                field="current", message=sentence("This is not your current password.")
            )
            raise RequestError(sentence("The password was not saved."), (problem,))
    set_password(user, data.password)
    update_session_auth_hash(request, user)
    return session_of(request)
