"""Who belongs to a farm."""

from server.farms.models import Farm, Membership


def is_member(farm: Farm, user_id: int) -> bool:
    """Whether a person belongs to the farm."""
    return Membership.objects.filter(farm=farm, user=user_id).exists()


def people_of(farm: Farm) -> list[Membership]:
    """The farm's people by name, with their roles."""
    return list(
        Membership.objects.filter(farm=farm).select_related("user").order_by("user__name", "pk")
    )
