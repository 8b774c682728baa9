"""The compiled loops are compiled once, at installation, and no request waits for another kind."""

from core.advice.assess import assess, assess_blocks
from core.estimate.ahead import _run_on
from core.estimate.ensemble import follow
from core.estimate.warm import warm
from tests.core.blocks import block, lived


def test_answers_need_no_other_code_than_what_is_compiled_beforehand() -> None:
    warm()
    known = [list(f.signatures) for f in (follow, _run_on)]
    assert [len(k) for k in known] == [1, 1]
    assess(lived())
    assess_blocks([block(), lived(40), lived(60, dual=True, wetted_share=0.4)])
    assert [list(f.signatures) for f in (follow, _run_on)] == known
