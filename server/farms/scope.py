"""Every query goes through a farm, and forgetting it fails loudly."""

from typing import TYPE_CHECKING, Any, ClassVar, TypeVar

from django.db import models

from server.farms.touches import Touches

if TYPE_CHECKING:
    from server.farms.models import Farm

M_co = TypeVar("M_co", bound=models.Model, covariant=True)


class UnscopedQuery(RuntimeError):
    """A query on a farm's data that names no farm."""


class FarmManager(models.Manager[M_co]):
    """Gives rows of one farm only; any other query is an error."""

    def for_farm(self, farm: "Farm") -> models.QuerySet[M_co]:
        """Rows that belong to the farm."""
        path: str = self.model.farm_path  # type: ignore[attr-defined]
        return super().get_queryset().filter(**{path: farm})

    def get_queryset(self) -> models.QuerySet[M_co]:
        raise UnscopedQuery(
            f"{self.model.__name__}.objects was asked without a farm: use .objects.for_farm(farm)"
        )


class FarmOwned(models.Model):
    """A row that belongs to a farm, directly or through ``farm_path``.

    ``objects`` insists on a farm. ``unscoped`` is what Django's own relations use; naming it
    elsewhere is a decision to be seen in review. ``touches`` says which answers a change of it
    makes wrong, or that it makes none; every model says so itself.
    """

    farm_path: ClassVar[str] = "farm"
    touches: ClassVar[Touches | None]

    unscoped: ClassVar[models.Manager[Any]] = models.Manager()
    objects: ClassVar[FarmManager[Any]] = FarmManager()

    class Meta:
        abstract = True
        default_manager_name = "unscoped"
        base_manager_name = "unscoped"
