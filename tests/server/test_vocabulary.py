"""Each name of a vocabulary has its word, and no word is left of a name that is gone."""

import pytest

from core.advice.at_risk import WindowName
from core.advice.holds import HoldKind
from core.advice.questions import QuestionKind
from core.advice.vocabulary import Reason, State
from core.crop.cutting import Harvested
from core.crop.degree_days import DegreeDayMethod
from core.crop.reference import Surface
from core.crop.season import Stage
from core.instrument.calibration import CurveKind
from core.instrument.life import LifeStatus, LogKind
from core.irrigation.system import SystemKind
from core.leaf.bands import LeafPhase, Product
from core.leaf.round import RoundDoubt, Sky
from core.leaf.steering import Side, Strategy
from core.ponded.field import Started
from core.ponded.phases import Phase
from core.soil.texture import TextureClass
from server.advice.models import Decision
from server.base.vocabulary import vocabulary, word
from server.farms.models import Role
from server.today.summary import ChangeKind

VOCABULARIES = {
    "state": State,
    "reason": Reason,
    "hold": HoldKind,
    "decision": Decision.Kind,
    "why": Decision.Why,
    "change": ChangeKind,
    "question": QuestionKind,
    "role": Role,
    "system": SystemKind,
    "stage": Stage,
    "phase": Phase,
    "started": Started,
    "product": Product,
    "leaf_phase": LeafPhase,
    "strategy": Strategy,
    "sky": Sky,
    "doubt": RoundDoubt,
    "harvested": Harvested,
    "side": Side,
    "window": WindowName,
    "texture": TextureClass,
    "status": LifeStatus,
    "log": LogKind,
    "warmth": DegreeDayMethod,
    "curve": CurveKind,
    "surface": Surface,
}


@pytest.mark.parametrize("kind", VOCABULARIES)
def test_every_name_has_its_word(kind: str) -> None:
    names = {str(name) for name in VOCABULARIES[kind]}
    assert set(vocabulary()[kind]) == names
    assert all(word(kind, name).strip() for name in names)


def test_there_is_no_other_vocabulary() -> None:
    assert set(vocabulary()) == set(VOCABULARIES)


def test_a_name_without_a_word_is_a_fault() -> None:
    with pytest.raises(KeyError):
        word("state", "wet")
