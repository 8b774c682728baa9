"""Diagnoses of simulated blocks with planted faults, on two unlike truths; all of it in
docs/diagnosis.md by `bench diagnosis`."""

from collections.abc import Sequence

import pytest

from core.diagnosis.cause import Cause
from core.soil.texture import TextureClass
from core.world.climates import Climate
from core.world.diagnosis_setups import CLEAN, SETUPS
from core.world.diagnosis_trial import Diagnosed, diagnosed
from core.world.layerings import uniform
from core.world.truths import TruthKind

SOILS = uniform([TextureClass.SANDY_LOAM, TextureClass.LOAM, TextureClass.CLAY_LOAM])
# Those that are told wherever they are, beside faults that instruments show by themselves.
SURE = (
    Cause.CLOCK_OFF,
    Cause.NOT_LOGGED,
    Cause.NOT_RUN,
    Cause.SITE_DRY,
    Cause.RATE_OFF,
    Cause.INTAKE_EXCEEDED,
    Cause.RESPONSE_WEAKER,
)
SEED = 17


@pytest.fixture(scope="module", params=list(TruthKind))
def blocks(request: pytest.FixtureRequest) -> Sequence[Diagnosed]:
    chosen = [s for s in SETUPS if s is CLEAN or s.cause in SURE]
    return diagnosed(chosen, SOILS, Climate.MIXED, request.param, SEED)


@pytest.mark.parametrize("cause", SURE)
def test_planted_and_found(blocks: Sequence[Diagnosed], cause: Cause) -> None:
    cases = [b for b in blocks if cause in b.true]
    # A few blocks each: the bench has hundreds.
    assert len(cases) >= 2
    assert sum(b.says(cause) for b in cases) >= 0.6 * len(cases)


@pytest.mark.parametrize("cause", SURE)
def test_not_found_where_it_is_not(blocks: Sequence[Diagnosed], cause: Cause) -> None:
    others = [b for b in blocks if cause not in b.true and cause not in b.unclear]
    assert sum(b.says(cause) for b in others) <= 0.05 * len(others)


def test_a_block_that_is_well_run(blocks: Sequence[Diagnosed]) -> None:
    """Neither water nor instruments are blamed more than once in ten seasons."""
    clean = [b for b in blocks if b.setup is CLEAN]
    blamed = [f.cause for b in clean for f in b.found if f.cause in SURE]
    assert len(blamed) <= 0.1 * len(clean)
