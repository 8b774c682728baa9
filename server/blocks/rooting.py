"""Roots deeper than the soil is described: refused, with what to do about it."""

from core.crop.catalogue import Crop
from core.limits.root_zone import missing_depth_mm
from core.sentence import Sentence, sentence
from core.soil.profile import Profile
from server.base.errors import Problem, RequestError


def require_depth(
    profile: Profile, crop: Crop, message: Sentence, field: str, of: str = ""
) -> None:
    """Refuse a crop whose roots go below the described soil.

    Parameters
    ----------
    message : Sentence
        What was not done.
    field : str
        The input to mend.
    of : str
        The block, where several are changed at once.

    Raises
    ------
    RequestError
    """
    missing = missing_depth_mm(profile, crop.root_schedule_mm)
    if missing > 0:
        problem = sentence(
            "{crop} roots to {roots:g} cm but the soil is described to {described:g} cm. Describe "
            "it {missing:g} cm deeper, or mark the layer where roots stop.",
            crop=crop.name,
            roots=crop.root_schedule_mm / 10,
            described=profile.depth_mm / 10,
            missing=missing / 10,
        )
        if of:
            problem = sentence("{block}: {problem}", block=of, problem=problem)
        raise RequestError(message, (Problem(field=field, message=problem),))
