"""Leaching as the season's debt, by hand; FAO-29 ch. 2.4 (from memory)."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from core.advice.assess import assess
from core.advice.decide import decide
from core.advice.inputs import BlockInputs, Watering
from core.advice.leaching_of_set import leaching_of_set
from core.crop.salinity import MOST_LEACHING, Leaching, leaching
from core.state.estimate_from import EstimateFrom
from tests.core.blocks import block, lived

TENTH = Leaching(0.10, 3.0, 1.0, False)


def due(given_mm: float, passed_mm: float, wanted_mm: float, **changes: Any) -> tuple[float, ...]:
    """Owed, due [mm] and share of a set."""
    of = lived(leaching=TENTH, **changes)
    assert of.assumed.season is not None
    track = replace(
        decide([of], [of.assumed.season]).track,
        season_given_mm=np.array([given_mm]),
        season_leached_mm=np.array([passed_mm]),
    )
    found = leaching_of_set([of], track, np.array([wanted_mm]))
    return tuple(float(x[0]) for x in (found.owed_mm, found.due_mm, found.share))


def test_the_first_set_of_a_season_has_its_own_share() -> None:
    """27 mm kept with 3 mm passing are 30 mm, a tenth of which passes."""
    owed, mm, share = due(0.0, 0.0, 27.0)
    assert (owed, mm) == (0, pytest.approx(3.0))
    assert share == pytest.approx(0.10)


def test_what_did_not_pass_is_owed() -> None:
    """Of 200 mm 20 should have passed and 12 did: 8 are owed, and 3 for the 27 mm wanted."""
    owed, mm, share = due(200.0, 12.0, 27.0)
    assert owed == pytest.approx(8.0)
    assert mm == pytest.approx(11.0)
    assert share == pytest.approx(11 / 38)


def test_one_set_pays_no_more_than_is_practical() -> None:
    _, mm, share = due(900.0, 0.0, 27.0)
    assert mm == pytest.approx(93.0)
    assert share == MOST_LEACHING


def test_what_rain_carried_down_counts() -> None:
    """40 mm passed where 20 had to: the next sets need none, and then no more than their own."""
    owed, mm, share = due(200.0, 40.0, 27.0)
    assert owed == pytest.approx(-20)
    assert (mm, share) == (0, 0)
    owed, mm, _ = due(400.0, 42.0, 27.0)
    assert (owed, mm) == (pytest.approx(-2), pytest.approx(1.0))


def test_where_the_season_is_not_followed_each_set_has_its_own() -> None:
    owed, mm, share = due(np.nan, np.nan, 27.0)
    assert np.isnan(owed)
    assert (mm, share) == (pytest.approx(3.0), pytest.approx(0.1))


def amount(of: BlockInputs) -> tuple[float, float]:
    answer = assess(of)
    assert answer.amount is not None
    return answer.amount.gross_mm, answer.amount.net_mm


def test_without_a_requirement_there_is_none() -> None:
    of = lived()
    assert of.assumed.season is not None
    d = decide([of], [of.assumed.season])
    assert d.leaching.due_mm[0] == d.leaching.share[0] == 0


def test_a_wet_month_saves_the_leaching_of_the_next_set() -> None:
    """The ensemble's own sums: rain that went through the roots against dry weeks with sets."""
    salt = leaching(1.7, 12, 1.5)
    sets = tuple(Watering(-24.0 * k, 22.0) for k in range(2, 29, 4))
    rain = tuple(Watering(-24.0 * k, 40.0, is_rain=True) for k in range(6, 28, 2))
    dry, wet, plain = (
        assess(lived(sites=(), tended=True, waterings=w, leaching=s))
        for w, s in ((sets, salt), ((*sets, *rain), salt), (sets, None))
    )
    steps = [{s.key: s.value for s in a.steps} for a in (dry, wet)]
    assert steps[0]["leaching_owed"] > steps[1]["leaching_owed"]
    assert steps[1]["leaching_share"] == 0
    assert steps[0]["leaching_share"] > 0
    assert dry.amount is not None
    assert plain.amount is not None
    assert dry.amount.gross_mm == pytest.approx(
        plain.amount.gross_mm / (1 - steps[0]["leaching_share"]), rel=1e-6
    )


def test_where_the_sensors_lead_a_set_has_its_own() -> None:
    answer = assess(block(leaching=TENTH, estimate_from=EstimateFrom.SENSORS))
    steps = {s.key: s for s in answer.steps}
    assert "leaching_owed" not in steps
    assert steps["leaching_share"].value == pytest.approx(0.1)
