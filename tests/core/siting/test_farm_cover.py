import pytest

from core.siting.farm_cover import CoverBlock, SlopeClass, farm_cover, slope_class


def block(name, *, crop="maize", sites=(), value=None, area=50_000.0, slope=1.0):
    return CoverBlock(name, crop, "loam", slope_class(slope), "pivot", area, tuple(sites), value)


@pytest.mark.parametrize(
    "percent, expected",
    [
        (0, SlopeClass.LEVEL),
        (1.9, SlopeClass.LEVEL),
        (2, SlopeClass.GENTLE),
        (5, SlopeClass.SLOPING),
        (14.9, SlopeClass.SLOPING),
        (15, SlopeClass.STEEP),
    ],
)
def test_classes_of_slopes(percent, expected):
    assert slope_class(percent) is expected


def test_similar_blocks_are_one_group():
    groups = farm_cover([block("A"), block("B"), block("C", slope=6), block("D", crop="potato")])
    assert [[b.name for b in g.blocks] for g in groups] == [["A", "B"], ["C"], ["D"]]
    assert groups[0].area_m2 == 100_000


def test_a_group_without_a_site_comes_before_a_larger_one_with_two():
    """12 ha with two sites: 12 / (2 x 3) = 2 ha a third one would tell; 5 ha with none: 5."""
    large = block("A", area=120_000, sites=("P1", "P2"))
    bare = block("B", crop="potato")
    groups = farm_cover([large, bare])
    assert [g.blocks[0].name for g in groups] == ["B", "A"]
    assert [g.tells for g in groups] == [50_000, 20_000]
    assert groups[1].sites == ("P1", "P2")


def test_money_ranks_where_all_is_priced_and_hectares_where_not():
    dear = block("A", area=10_000, value=30_000.0)
    cheap = block("B", crop="oats", area=90_000, value=9_000.0)
    assert [g.blocks[0].name for g in farm_cover([dear, cheap])] == ["A", "B"]
    unpriced = block("C", crop="rye", area=20_000)
    by_area = farm_cover([dear, cheap, unpriced])
    assert [g.blocks[0].name for g in by_area] == ["B", "C", "A"]
    assert by_area[1].value is None


def test_a_farm_without_blocks_has_no_groups():
    assert farm_cover([]) == []
