"""Roots deeper than the soil is described: refused, with what to do about it."""

from core.crop.catalogue import Crop
from core.limits.root_zone import missing_depth_mm
from core.soil.profile import Profile
from server.base.errors import Problem, RequestError


def require_depth(profile: Profile, crop: Crop, message: str, field: str, of: str = "") -> None:
    """Refuse a crop whose roots go below the described soil.

    Parameters
    ----------
    message : str
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
        where = f"{of}: " if of else ""
        raise RequestError(
            message,
            (
                Problem(
                    field=field,
                    message=f"{where}{crop.name} roots to {crop.root_schedule_mm / 10:g} cm but "
                    f"the soil is described to {profile.depth_mm / 10:g} cm. Describe it "
                    f"{missing / 10:g} cm deeper, or mark the layer where roots stop.",
                ),
            ),
        )
