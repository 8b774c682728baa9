"""Soil water by feel: every texture has a group, every step its share, deficits add up by hand."""

import pytest

from core.instrument.feel import feel_deficit_mm, feel_group, feel_groups, feel_layers
from core.soil.horizon import Horizon
from core.soil.profile import Profile
from core.soil.texture import TextureClass


def test_every_texture_is_felt_in_one_group() -> None:
    for texture in TextureClass:
        assert sum(texture in g.textures for g in feel_groups().values()) == 1


@pytest.mark.parametrize(
    "texture, group",
    [
        ("sand", "coarse"),
        ("sandy loam", "moderately_coarse"),
        ("silt loam", "medium"),
        ("sandy clay loam", "medium"),
        ("clay loam", "fine"),
        ("clay", "fine"),
    ],
)
def test_groups_of_the_published_guide(texture: str, group: str) -> None:
    """USDA-NRCS (1998), Program Aid 1619, from memory."""
    assert feel_group(TextureClass(texture)) == group


def test_steps_rise_by_quarters_to_full() -> None:
    """The same guide: 0-25, 25-50, 50-75, 75-100 and 100 percent available."""
    for facts in feel_groups().values():
        assert [(s.low, s.high) for s in facts.steps] == [
            (0, 0.25),
            (0.25, 0.5),
            (0.5, 0.75),
            (0.75, 1.0),
            (1.0, 1.0),
        ]
        assert len({s.hand for s in facts.steps}) == 5


def test_a_foot_by_foot_check_by_hand() -> None:
    """Two 30 cm layers: what each holds is (full - wilting) times thickness, over both horizons."""
    profile = Profile.from_horizons(
        [
            Horizon(0, 400, texture=TextureClass.LOAM, points=((33, 0.28), (1500, 0.13))),
            Horizon(400, 900, texture=TextureClass.CLAY, points=((33, 0.40), (1500, 0.26))),
        ]
    )
    first, second = feel_layers(profile, [150, 450])
    full, wilt = profile.theta_full, profile.theta_wilt
    assert (first.top_mm, first.bottom_mm, first.group) == (0, 300, "medium")
    assert first.available_mm == pytest.approx(300 * (full[0] - wilt[0]))
    assert (second.top_mm, second.bottom_mm, second.group) == (300, 600, "fine")
    assert second.available_mm == pytest.approx(
        100 * (full[0] - wilt[0]) + 200 * (full[1] - wilt[1])
    )
    # Half to three quarters available: three eighths are gone.
    assert feel_deficit_mm(40.0, 0.625) == pytest.approx(15.0)
    # Wetter than full lacks nothing; drier than wilting lacks no more than it holds.
    assert feel_deficit_mm(40.0, [1.2, -0.2]).tolist() == [0.0, 40.0]
