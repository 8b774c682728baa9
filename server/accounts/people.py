"""Who belongs to a farm, and as what: adding people, changing their roles, removing them."""

from dataclasses import dataclass

from django.core.exceptions import ValidationError
from django.core.validators import validate_email

from core.sentence import sentence
from server.accounts.invitations import invite, is_awaited
from server.accounts.models import Invitation, User
from server.base.errors import NotFound, Problem, RequestError
from server.farms.access import Access
from server.farms.acting import acting
from server.farms.changes import Done, record
from server.farms.models import Membership, Role
from server.farms.rules import Action


@dataclass(frozen=True)
class Added:
    """A person of the farm; with a token where he has yet to choose a password."""

    member: Membership
    token: str | None


def find_member(access: Access, person_id: int) -> Membership:
    """A person of the farm."""
    row = Membership.objects.filter(farm=access.farm, user=person_id).select_related("user").first()
    if row is None:
        raise NotFound(sentence("There is no such person on this farm."))
    return row


@acting(Action.MANAGE_PEOPLE)
def add_person(access: Access, name: str, email: str, role: Role) -> Added:
    """Let a person into the farm; who has an account keeps its name and password.

    Raises
    ------
    RequestError
        When he belongs to the farm already, or has yet to accept another farm's invitation:
        whoever holds that link could come into this farm by it.
    """
    name, email = name.strip(), email.strip().lower()
    problems = []
    if not name:
        problems.append(Problem(field="name", message=sentence("Enter the person's name.")))
    try:
        validate_email(email)
    except ValidationError:
        problems.append(
            Problem(
                field="email",
                message=sentence(
                    "{email!r} is not an e-mail address: name@farm.example", email=email
                ),
            )
        )
    user = None if problems else User.objects.filter(email=email).first()
    if user and Membership.objects.filter(farm=access.farm, user=user).exists():
        problems.append(
            Problem(
                field="email",
                message=sentence("{user} belongs to this farm already.", user=user.name),
            )
        )
    elif user and is_awaited(user) and user.memberships.exists():
        problems.append(
            Problem(
                field="email",
                message=sentence(
                    "This person has yet to accept an invitation to another farm. Add them "
                    "once they have signed in with it."
                ),
            )
        )
    if problems:
        raise RequestError(sentence("The person was not added."), tuple(problems))
    if user is None:
        user = User.objects.create_user(email, name)
    token = invite(user) if is_awaited(user) else None
    member = Membership(farm=access.farm, user=user, role=role)
    member.save()
    record(access, Done.PERSON_ADDED, name)
    return Added(member, token)


@acting(Action.MANAGE_PEOPLE)
def change_role(access: Access, person_id: int, role: Role) -> Membership:
    """Give a person another role.

    Raises
    ------
    RequestError
        When the farm would have no manager left.
    """
    member = find_member(access, person_id)
    if role != Role.MANAGER:
        _keep_a_manager(access, member)
    was, member.role = member.role, role
    member.save(update_fields=["role"])
    record(access, Done.ROLE_CHANGED, f"{member.user.name}: {was} → {member.role}")
    return member


@acting(Action.MANAGE_PEOPLE)
def remove_person(access: Access, person_id: int) -> None:
    """Shut a person out of the farm; what he recorded stays, with his name.

    Raises
    ------
    RequestError
        When the farm would have no manager left.
    """
    member = find_member(access, person_id)
    _keep_a_manager(access, member)
    member.delete()
    if is_awaited(member.user):
        Invitation.objects.filter(user=member.user).delete()
    record(access, Done.PERSON_REMOVED, member.user.name)


@acting(Action.MANAGE_PEOPLE)
def renew_invitation(access: Access, person_id: int) -> str:
    """A new link for a person who has yet to choose a password; the old one stops working.

    Raises
    ------
    RequestError
        When he has signed in already: nobody but himself changes his password.
    """
    member = find_member(access, person_id)
    if not is_awaited(member.user):
        raise RequestError(
            sentence(
                "{user} has signed in already. Nobody else can change the password here; whoever "
                "runs Even Furrow can, with: ./furrow manage changepassword",
                user=member.user.name,
            )
        )
    record(access, Done.INVITATION_RENEWED, member.user.name)
    return invite(member.user)


def _keep_a_manager(access: Access, but: Membership) -> None:
    managers = Membership.objects.filter(farm=access.farm, role=Role.MANAGER)
    if not managers.exclude(pk=but.pk).exists():
        raise RequestError(
            sentence("The farm would have no manager left. Make somebody else a manager first.")
        )
