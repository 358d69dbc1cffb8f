"""Guesses of the token, counted by the address that they come from, so that nobody has many of them."""

from __future__ import annotations

import threading
import time
from collections import OrderedDict
from typing import Any

FREE = 10
"""Wrong tokens that are looked at in a row."""

AGAIN_S = 6.0
"""After so long one more is."""

ADDRESSES = 10_000
"""Of so many addresses the guesses are counted; those that asked longest ago are forgotten."""


class Guesses:
    """Who has guessed how often, by a clock that nobody sets."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._left: OrderedDict[str, tuple[float, float]] = OrderedDict()
        self._known: OrderedDict[str, None] = OrderedDict()

    def wait_s(self, address: str) -> float:
        """How long an address has to wait until its next guess is looked at; 0 where it is at once."""
        with self._lock:
            if address in self._known or address not in self._left:
                return 0.0
            left, at = self._left[address]
            now = left + (time.monotonic() - at) / AGAIN_S
            return 0.0 if now >= 1 else (1 - now) * AGAIN_S

    def wrong(self, address: str) -> None:
        """Counts a wrong guess."""
        with self._lock:
            left, at = self._left.pop(address, (float(FREE), time.monotonic()))
            now = time.monotonic()
            self._left[address] = (min(left + (now - at) / AGAIN_S, FREE) - 1, now)
            self._shorten(self._left)

    def right(self, address: str) -> None:
        """Remembers an address from which the token came: whoever works there does not wait for what others guess."""
        with self._lock:
            self._known[address] = None
            self._known.move_to_end(address)
            self._left.pop(address, None)
            self._shorten(self._known)

    @staticmethod
    def _shorten(held: OrderedDict[str, Any]) -> None:
        while len(held) > ADDRESSES:
            held.popitem(last=False)
