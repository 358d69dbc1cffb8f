"""What was found of a region once and serves again while its laying is dragged."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from functools import wraps
from typing import Any, Protocol, TypeVar

T = TypeVar("T")

MOST = {50_000: 12, 250_000: 7}
"""How many values of a region of up to so many triangles are kept, those asked for last."""

MOST_TRIANGLES = max(MOST)
"""Of a larger region nothing is kept: its factors would take more memory than a drag is worth."""

BYTES = 2500
"""What is kept of a region takes about so many for each of its triangles."""


class Kept:
    """Values by name, made where they are not there; only the last few stay."""

    def __init__(self, triangles: int) -> None:
        self._most = next((most for up_to, most in MOST.items() if triangles <= up_to), 0)
        self._values: OrderedDict[Hashable, Any] = OrderedDict()

    def get(self, key: Hashable, make: Callable[[], T]) -> T:
        """The value of a key."""
        if key in self._values:
            self._values.move_to_end(key)
            value: T = self._values[key]
            return value
        value = make()
        self.put(key, value)
        return value

    def put(self, key: Hashable, value: object) -> None:
        """Keeps a value in place of the one before."""
        self._values[key] = value
        self._values.move_to_end(key)
        while len(self._values) > self._most:
            self._values.popitem(last=False)

    def found(self, key: Hashable) -> Any:
        """The value of a key, None where it is not there."""
        if key in self._values:
            self._values.move_to_end(key)
        return self._values.get(key)


class Keeps(Protocol):
    """What has such values of its own."""

    @property
    def kept(self) -> Kept: ...


K = TypeVar("K", bound=Keeps)


def once(make: Callable[[K], T]) -> Callable[[K], T]:
    """What a function makes of a region is made once, and kept with it."""
    name = f"{make.__module__}.{make.__qualname__}"

    @wraps(make)
    def kept(region: K) -> T:
        return region.kept.get(name, lambda: make(region))

    return kept
