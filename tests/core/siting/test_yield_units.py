import numpy as np
import pytest

from core.siting.yield_units import BUSHEL_LB, YieldUnit, dry, t_ha_of_flow, t_ha_per


@pytest.mark.parametrize(
    "unit, bushel, expected",
    [
        (YieldUnit.T_HA, None, 1.0),
        (YieldUnit.DT_HA, None, 0.1),
        (YieldUnit.KG_HA, None, 0.001),
        # Extension tables give 0.0628 (maize) and 0.0673 (wheat, soybean) t/ha to a bushel an
        # acre; from memory.
        (YieldUnit.BU_AC, BUSHEL_LB["maize"], 0.0628),
        (YieldUnit.BU_AC, BUSHEL_LB["wheat"], 0.0673),
        (YieldUnit.LB_AC, None, 0.00112085),
        (YieldUnit.TON_AC, None, 2.2417),
        (YieldUnit.RELATIVE, None, 1.0),
    ],
)
def test_units_of_yield(unit, bushel, expected):
    assert t_ha_per(unit, bushel) == pytest.approx(expected, rel=1e-3)


def test_bushels_of_an_unknown_crop_are_refused():
    with pytest.raises(ValueError, match="bushel"):
        t_ha_per(YieldUnit.BU_AC)


def test_a_flow_becomes_a_yield():
    """9 kg/s at 1.5 m/s on 6 m: 1 kg/m2, 10 t/ha."""
    assert t_ha_of_flow(np.array([9.0]), np.array([1.5]), np.array([6.0]))[0] == pytest.approx(10)


def test_dry_matter_is_what_the_water_leaves():
    assert dry(np.array([10.0]), np.array([15.0]))[0] == pytest.approx(8.5)
