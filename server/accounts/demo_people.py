"""The demo's invented people, one for each role."""

from server.accounts.models import User
from server.farms.models import Role

PEOPLE: dict[Role, tuple[str, str]] = {
    Role.MANAGER: ("Maud Pellander", "maud@thistlewick.example"),
    Role.IRRIGATOR: ("Tam Orrowby", "tam@thistlewick.example"),
    Role.SCOUT: ("Wren Haskett", "wren@thistlewick.example"),
    Role.ADVISER: ("Ines Marrowby", "ines@thistlewick.example"),
    Role.VIEWER: ("Odo Fenwether", "odo@thistlewick.example"),
}


def demo_user(role: Role) -> User | None:
    """The demo's person of a role; None before the demo is seeded."""
    return User.objects.filter(email=PEOPLE[role][1]).first()
