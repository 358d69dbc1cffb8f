"""A process gives back what it does not use, whether it has grown by a leap or bit by bit."""

import threading

import pytest

from pivrel import memory
from tests.serving import WAIT_S


@pytest.mark.parametrize("growth", [1.01, 2.0])
def test_what_has_grown_is_given_back(monkeypatch, growth):
    held, given = [1000.0], threading.Event()

    def grown():
        held[0] *= growth
        return held[0]

    monkeypatch.setattr(memory, "LOOKED_AT_EVERY_S", 0.001)
    monkeypatch.setattr(memory, "resident", grown)
    monkeypatch.setattr(memory, "give_back", given.set)
    over = memory.give_back_now_and_then()
    assert given.wait(WAIT_S)
    over.set()


def test_what_has_not_grown_is_left_alone(monkeypatch):
    looked, given = threading.Semaphore(0), threading.Event()
    monkeypatch.setattr(memory, "LOOKED_AT_EVERY_S", 0.001)
    monkeypatch.setattr(memory, "resident", lambda: looked.release() or 1000)
    monkeypatch.setattr(memory, "give_back", given.set)
    over = memory.give_back_now_and_then()
    assert all(looked.acquire(timeout=WAIT_S) for _ in range(20))
    over.set()
    assert not given.is_set()
