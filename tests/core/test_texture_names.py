import pytest

from core.soil.texture import TextureClass
from core.soil.texture_names import texture_named


@pytest.mark.parametrize("texture", TextureClass)
def test_each_class_is_known_by_its_name(texture):
    assert texture_named(str(texture)) is texture
    assert texture_named(f"Gravelly {texture}, 3 to 8 percent slopes".title()) is texture


@pytest.mark.parametrize(
    ("text", "texture"),
    [
        ("SL", TextureClass.SANDY_LOAM),
        ("SiCL", TextureClass.SILTY_CLAY_LOAM),
        ("si.l", TextureClass.SILT_LOAM),
        (" c ", TextureClass.CLAY),
        ("Fine sandy loam", TextureClass.SANDY_LOAM),
        ("very fine sand", TextureClass.SAND),
        ("silty loam", TextureClass.SILT_LOAM),
        ("Brook_Clay_Loam", TextureClass.CLAY_LOAM),
    ],
)
def test_short_forms_and_subclasses(text, texture):
    assert texture_named(text) is texture


@pytest.mark.parametrize(
    "text", ["", "peat", "sand over clay", "loam to clay loam", "7", "bedrock"]
)
def test_what_names_none_or_two_is_not_known(text):
    assert texture_named(text) is None
