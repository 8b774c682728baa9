"""Van Genuchten curves of the texture classes.

References
----------
.. [1] Carsel, R. F., Parrish, R. S. (1988), Developing joint probability distributions of
   soil water retention characteristics, Water Resour. Res. 24:755-769,
   doi:10.1029/WR024i005p00755.
"""

import json
from functools import cache
from importlib import resources

from core.soil.retention import CM_PER_KPA, RetentionCurve
from core.soil.texture import TextureClass


@cache
def class_mean_curves() -> dict[TextureClass, RetentionCurve]:
    """The curve of each class from its mean parameters [1]_; read once from the data file."""
    text = resources.files("core.soil").joinpath("class_means.json").read_text("utf-8")
    return {
        TextureClass(name): RetentionCurve.van_genuchten(r, sat, alpha * CM_PER_KPA, n)
        for name, (r, sat, alpha, n, _ksat) in json.loads(text)["classes"].items()
    }
