"""Answers in the reader's language: errors, data files' texts, kept pages."""

import ast
from pathlib import Path

import pytest
from django.test import Client
from django.utils import translation

from core.quality.flags import rule_book
from core.sentence import sentence
from server.base.language import translated
from server.blocks.models import Block
from server.farms.models import Farm
from server.write_texts import accented, texts
from tests.server.conftest import Api
from tests.server.test_stored_board import BASE

ROOT = Path(__file__).resolve().parents[2]
NAMELESS = {"name": " ", "horizons": [{"top_mm": 0, "bottom_mm": 300, "texture": "loam"}]}


def in_accents(client: Client) -> None:
    client.cookies["language"] = "en-xa"


def test_a_sentence_is_translated_before_it_is_filled_in() -> None:
    pattern = "{figure} is {value:g}; enter {low:g}-{high:g}."
    problem = sentence(pattern, figure="Kc", value=7.5, low=0, high=2)
    with translation.override("en-xa"):
        said = translated(problem)
        outer = translated(sentence("{block}: {problem}", block="Long Tye", problem=problem))
    assert said == "Kc íš 7.5; éñţéŕ~~ 0-2."
    assert outer == f"Long Tye: {said}"
    assert translated(problem) == "Kc is 7.5; enter 0-2."


def test_what_people_wrote_is_never_taken_for_a_text() -> None:
    with translation.override("en-xa"):
        # "day" is a text of the catalogue, but here it is a block's name.
        assert translated(sentence("{name} exists already.", name="spike")).startswith("spike ")
        assert translated("") == ""


def test_an_error_is_said_in_the_readers_language(manager: Api, farm: Farm) -> None:
    refused = manager.post(f"{BASE}/soils", NAMELESS, status=422)
    assert refused["message"] == "The soil was not saved."
    in_accents(manager.client)
    again = manager.post(f"{BASE}/soils", NAMELESS, status=422)
    assert again["message"] == accented("The soil was not saved.")
    assert again["problems"][0]["message"] == accented("Enter a name for the soil.")


def test_an_address_with_nothing_behind_it_says_so_in_the_readers_language(manager: Api) -> None:
    in_accents(manager.client)
    nothing = manager.get("/nowhere", status=404)["message"]
    assert nothing == accented("There is nothing at {path}.").format(path="/api/nowhere")


def test_texts_of_data_files_too(manager: Api) -> None:
    plain = manager.get("/instrument-kinds")
    in_accents(manager.client)
    shown = manager.get("/instrument-kinds")
    assert [k["name"] for k in shown] == [accented(k["name"]) for k in plain]
    assert [k["kind"] for k in shown] == [k["kind"] for k in plain]


def test_a_kept_page_is_of_one_language(manager: Api, block: Block) -> None:
    plain = manager.get(f"{BASE}/blocks/{block.pk}")["stages"]
    in_accents(manager.client)
    shown = manager.get(f"{BASE}/blocks/{block.pk}")["stages"]
    assert [s["name"] for s in shown] == [accented(s["name"]) for s in plain]
    del manager.client.cookies["language"]
    assert manager.get(f"{BASE}/blocks/{block.pk}")["stages"] == plain


def test_another_language_that_is_asked_for_is_answered_in_english(manager: Api) -> None:
    manager.client.cookies["language"] = "xx-nonsense"
    refused = manager.post(f"{BASE}/soils", NAMELESS, status=422)
    assert refused["message"] == "The soil was not saved."


@pytest.mark.parametrize("folder", ["core", "server"])
def test_a_sentence_stands_in_the_code_as_a_whole(folder: str) -> None:
    """One made at run time would be in no catalogue."""
    made = [
        f"{path}:{call.lineno}"
        for path in (ROOT / folder).rglob("*.py")
        for call in ast.walk(ast.parse(path.read_text("utf-8")))
        if isinstance(call, ast.Call)
        and getattr(call.func, "id", "") == "sentence"
        and not isinstance(call.args[0], ast.Constant)
    ]
    # The vocabulary is in the catalogue as a whole.
    assert [m for m in made if "farms/access.py" not in m] == []


def test_the_catalogue_has_what_is_said() -> None:
    known = texts()
    assert len(known) > 800
    for said in ("The soil was not saved.", "Irrigate now", *(r.name for r in rule_book().rules)):
        assert said in known, said
