"""Texture classes by the names and short forms that soil surveys write.

References
----------
.. [1] Soil Science Division Staff (2017), Soil Survey Manual, USDA Handbook 18, ch. 3: the classes
   and their subclasses by the size of the sand. The short forms are those in common use; from
   memory.
"""

import re
from types import MappingProxyType

from core.soil.texture import TextureClass

_SHORT = MappingProxyType(
    {
        "s": TextureClass.SAND,
        "ls": TextureClass.LOAMY_SAND,
        "sl": TextureClass.SANDY_LOAM,
        "l": TextureClass.LOAM,
        "sil": TextureClass.SILT_LOAM,
        "zl": TextureClass.SILT_LOAM,
        "si": TextureClass.SILT,
        "z": TextureClass.SILT,
        "scl": TextureClass.SANDY_CLAY_LOAM,
        "cl": TextureClass.CLAY_LOAM,
        "sicl": TextureClass.SILTY_CLAY_LOAM,
        "zcl": TextureClass.SILTY_CLAY_LOAM,
        "sc": TextureClass.SANDY_CLAY,
        "sic": TextureClass.SILTY_CLAY,
        "zc": TextureClass.SILTY_CLAY,
        "c": TextureClass.CLAY,
    }
)
# The longest first, so that a sandy clay loam is not taken for a clay loam or a loam.
_WORDS = tuple(sorted((str(t) for t in TextureClass), key=len, reverse=True))
_OTHER_WORDS = (
    ("silty loam", "silt loam"),
    ("silt clay", "silty clay"),
    ("loamy clay", "clay loam"),
)


def texture_named(text: str) -> TextureClass | None:
    """The class that a cell of a survey names: in words, with others around them, or by a short
    form that stands alone.

    Returns
    -------
    TextureClass or None
        None where it names none, or two that differ.
    """
    plain = re.sub(r"[^a-z]+", " ", text.lower()).strip()
    short = plain.replace(" ", "")
    if short in _SHORT:
        return _SHORT[short]
    for other, word in _OTHER_WORDS:
        plain = re.sub(rf"\b{other}\b", word, plain)
    found: set[str] = set()
    for word in _WORDS:
        rest = re.sub(rf"\b{word}\b", " ", plain)
        if rest != plain:
            found.add(word)
            plain = rest
    return TextureClass(found.pop()) if len(found) == 1 else None
