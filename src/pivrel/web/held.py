"""Work that outlives the request that began it, held by number until whoever began it is done with it."""

from __future__ import annotations

import itertools
import threading
import time
from typing import Generic, Protocol, TypeVar

from pivrel.errors import NotFoundError

KEPT_S = 12 * 3600
"""How long work is kept that nobody asks for; whoever leaves a page open for longer has to begin anew."""


class Lasting(Protocol):
    """Work that can be ended; asked: when somebody last asked for it."""

    asked: float

    def end(self) -> None:
        """Stops it and lets go of all that it made."""


L = TypeVar("L", bound=Lasting)


class Held(Generic[L]):
    """Work under way, by number. over: what is said of what is not there any more."""

    def __init__(self, over: str) -> None:
        self._over = over
        self._numbers = itertools.count(1)
        self._held: dict[int, L] = {}
        self._lock = threading.Lock()

    def add(self, work: L) -> int:
        """Holds work, and lets go of what nobody has asked for in a long time; its number."""
        with self._lock:
            number = next(self._numbers)
            self._held[number] = work
            late = work.asked - KEPT_S
            gone = [self._held.pop(n) for n in [n for n, w in self._held.items() if w.asked < late]]
        for old in gone:
            old.end()
        return number

    def get(self, number: int) -> L:
        """Work by its number; NotFoundError where it is over."""
        found = self._held.get(number)
        if found is None:
            raise NotFoundError(self._over)
        found.asked = time.monotonic()
        return found

    def drop(self, number: int) -> None:
        """Ends work; nothing of it is kept."""
        with self._lock:
            found = self._held.pop(number, None)
        if found:
            found.end()
