"""A person's way into a farm: found by slug among his own, or not at all."""

from dataclasses import dataclass, replace
from datetime import datetime

from core.sentence import sentence
from server.accounts.models import User
from server.base.errors import NotAllowed, NotFound
from server.base.vocabulary import vocabulary
from server.farms.models import Farm, Membership, Role
from server.farms.rules import SPOKEN, Action, may


@dataclass(frozen=True)
class Access:
    """One person on one farm; while he acts, at the moment when he began to."""

    user: User
    farm: Farm
    role: Role
    moment: datetime | None = None

    def now(self) -> datetime:
        """The moment of the act under way, or else this instant; in the farm's time zone."""
        return self.moment or self.farm.now()

    def at_one_moment(self) -> "Access":
        """The same access with its clock held; one that is held already stays."""
        return self if self.moment else replace(self, moment=self.farm.now())

    def require(self, action: Action) -> None:
        """Refuse when the role does not permit the action."""
        if not may(self.role, action):
            raise NotAllowed(
                sentence(
                    "As {role} you can't {action}. Ask the farm's manager to do it or to change "
                    "your role.",
                    role=sentence(vocabulary()["role"][self.role]),
                    action=SPOKEN[action],
                )
            )


def enter(user: User, slug: str) -> Access:
    """Access of a person to a farm; what he may do there is asked by each act, see `acting`.

    Raises
    ------
    NotFound
        Also when the farm exists and the person is no member, so that names don't leak.
    """
    membership = (
        Membership.objects.select_related("farm").filter(user=user, farm__slug=slug).first()
    )
    if membership is None:
        raise NotFound(sentence("You have no such farm."))
    access = Access(user=user, farm=membership.farm, role=Role(membership.role))
    access.require(Action.SEE)
    return access
