"""What a file does to the process that reads it: the one that was asked goes on, and says so."""

import os
import signal
import threading
import time
from collections.abc import Iterator
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from server.base.errors import Problem, RequestError, TryLater
from server.files import confined as module
from server.files.confined import TOO_MUCH, confined, confined_parts, content_of, read_confined
from tests.server.conftest import Api


def length(data: bytes, times: int = 1) -> int:
    return len(data) * times


def where() -> int:
    return os.getpid()


def refuses(data: bytes) -> None:
    raise RequestError("No.", (Problem(message="Row", row=3),))


def breaks(data: bytes) -> None:
    raise KeyError("a fault of ours")


def fills_memory(data: bytes) -> int:
    return len([bytearray(50_000_000) for _ in range(1000)])


def spins(data: bytes) -> None:
    while True:
        pass


def dies(data: bytes) -> None:
    os.kill(os.getpid(), signal.SIGKILL)


def recurses(data: bytes) -> None:
    recurses(data)


def no_picklable(data: bytes) -> Any:
    return threading.Lock()


def parts(count: int, then: str = "") -> Iterator[bytes]:
    for k in range(count):
        yield bytes([k]) * 1_000_000
    if then == "refuse":
        raise RequestError("The last row.")
    if then == "spin":
        spins(b"")


def test_an_answer_of_another_process() -> None:
    assert read_confined(length, b"abc", times=2) == 6
    assert confined(where) != os.getpid()


def test_what_the_reader_refuses_is_refused() -> None:
    with pytest.raises(RequestError) as told:
        read_confined(refuses, b"")
    assert (told.value.message, told.value.problems[0].row) == ("No.", 3)


@pytest.mark.parametrize("reader", [fills_memory, dies, recurses])
def test_what_needs_too_much_is_refused(reader: Any) -> None:
    with pytest.raises(RequestError) as told:
        read_confined(reader, b"")
    assert told.value.message == TOO_MUCH


def test_what_takes_too_long_is_ended(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "SECONDS", 0.5)
    began = time.monotonic()
    with pytest.raises(RequestError, match="more time or memory"):
        read_confined(spins, b"")
    with pytest.raises(RequestError, match="more time or memory"):
        list(confined_parts(parts, 2, "spin"))
    assert time.monotonic() - began < module.WAIT_SECONDS + 60


@pytest.mark.parametrize("reader", [breaks, no_picklable])
def test_a_fault_of_ours_is_no_fault_of_the_file(reader: Any) -> None:
    with pytest.raises(RuntimeError, match="incident"):
        read_confined(reader, b"")


def test_parts_come_one_by_one_and_in_order() -> None:
    assert [p[0] for p in confined_parts(parts, 5)] == [0, 1, 2, 3, 4]
    with pytest.raises(RequestError, match="The last row"):
        list(confined_parts(parts, 2, "refuse"))
    # Whoever has enough ends the process.
    for part in confined_parts(parts, 10**9):
        assert part
        break


def test_others_are_told_to_come_again(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "WAIT_SECONDS", 0.01)
    with module._turns, pytest.raises(TryLater) as told:
        read_confined(length, b"")
    assert (told.value.status, told.value.seconds) == (503, 5)
    # The turn was given back.
    assert read_confined(length, b"a") == 1


def test_the_answer_says_when_to_come_again(manager: Api, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "WAIT_SECONDS", 0.01)
    file = SimpleUploadedFile("a.csv", b"date,rain\n2026-07-01,3\n")
    with module._turns:
        answer = manager.client.post("/api/farms/thistlewick/weather-file", {"file": file})
    assert (answer.status_code, answer["Retry-After"]) == (503, "5")
    assert "Try again in a moment" in answer.json()["message"]


def test_a_file_is_not_taken_into_memory_to_be_refused() -> None:
    class Large(SimpleUploadedFile):
        def read(self, *_: Any) -> bytes:
            raise AssertionError("read")

    file = Large("a.csv", b"")
    file.size = module.MAX_BYTES + 1
    with pytest.raises(RequestError, match="21 MB"):
        content_of(file)
