"""Horizons between the database, the wire and the core."""

from collections.abc import Iterable, Sequence
from typing import Any

from core.sentence import sentence
from core.soil.horizon import CurveShape, HorizonProblem, LimitMethod
from core.soil.horizon import Horizon as HorizonInput
from core.soil.profile import Profile
from core.soil.texture import TextureClass
from server.base.errors import Problem, RequestError
from server.soils.models import Horizon, SoilProfile
from server.soils.schemas import HorizonIn, Point

# Where the core's names of an input differ from the form's.
_FIELD = {"top": "top_mm", "bottom": "bottom_mm"}
_PLAIN = (
    "top_mm", "bottom_mm", "sand", "silt", "clay", "organic_matter", "gravel", "bulk_density",
    "ece", "stops_roots", "full_tension_kpa", "theta_full", "theta_wilt",
)  # fmt: skip


def stored_horizon(row: Horizon) -> HorizonInput:
    """A stored horizon as the core takes it."""
    return HorizonInput(
        **{name: getattr(row, name) for name in _PLAIN},
        texture=TextureClass(row.texture) if row.texture else None,
        method=LimitMethod(row.method),
        curve=CurveShape(row.curve) if row.curve else None,
        points=tuple((float(t), float(x)) for t, x in row.points),
    )


def typed_horizon(data: HorizonIn) -> HorizonInput:
    """A horizon of a form as the core takes it."""
    values = data.model_dump(exclude={"note", "points"})
    return HorizonInput(**values, points=tuple((p.tension_kpa, p.theta) for p in data.points))


def horizon_columns(data: HorizonIn) -> dict[str, Any]:
    """A horizon of a form as columns of the database."""
    values = {name: getattr(data, name) for name in (*_PLAIN, "note")}
    return {
        **values,
        "texture": str(data.texture or ""),
        "method": str(data.method),
        "curve": str(data.curve or ""),
        "points": [[p.tension_kpa, p.theta] for p in data.points],
    }


def horizon_in(row: Horizon) -> HorizonIn:
    """A stored horizon as it was entered."""
    return HorizonIn(
        **{name: getattr(row, name) for name in (*_PLAIN, "note")},
        texture=TextureClass(row.texture) if row.texture else None,
        method=LimitMethod(row.method),
        curve=CurveShape(row.curve) if row.curve else None,
        points=[Point(tension_kpa=t, theta=x) for t, x in row.points],
    )


def soil_profile(soil: SoilProfile) -> Profile:
    """A stored soil as a profile; its horizons should be prefetched."""
    return Profile.from_horizons([stored_horizon(h) for h in soil.horizons.all()])


def typed_profile(horizons: Sequence[HorizonIn]) -> Profile:
    """Horizons of a form as a profile.

    Raises
    ------
    RequestError
        With the path of the field to mend.
    """
    try:
        return Profile.from_horizons([typed_horizon(h) for h in horizons])
    except HorizonProblem as problem:
        field = _FIELD.get(problem.field, problem.field)
        raise RequestError(
            sentence("The soil needs correcting."),
            (Problem(field=f"horizons.{problem.index}.{field}", message=problem.message),),
        ) from None


def write_horizons(soil: SoilProfile, horizons: Iterable[HorizonIn]) -> None:
    """Give a soil its horizons; those it had are taken away."""
    for old in soil.horizons.all():
        old.delete()
    for data in horizons:
        Horizon(profile=soil, **horizon_columns(data)).save()
