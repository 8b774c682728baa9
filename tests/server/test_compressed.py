"""Long answers go out compressed to whoever takes that, and as they are to others."""

import gzip

import pytest

from tests.server.conftest import Api

BOARD = "/api/farms/thistlewick/board"


@pytest.mark.parametrize(
    ("takes", "compressed"),
    [
        ("gzip, deflate, br", True),
        ("br;q=1.0, gzip;q=0.8", True),
        ("", False),
        ("identity", False),
    ],
)
def test_a_long_answer(manager: Api, takes: str, compressed: bool) -> None:
    plain = manager.client.get(BOARD).content
    answer = manager.client.get(BOARD, headers={"Accept-Encoding": takes})
    assert "Accept-Encoding" in answer["Vary"]
    if compressed:
        assert answer["Content-Encoding"] == "gzip"
        assert len(answer.content) < len(plain) / 3
        assert gzip.decompress(answer.content) == plain
    else:
        assert answer.content == plain
