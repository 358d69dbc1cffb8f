"""Values kept for the next question, bounded by the bytes that they take."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from contextlib import AbstractContextManager, nullcontext
from functools import wraps
from typing import Any, ParamSpec, Protocol, TypeVar

T = TypeVar("T")
P = ParamSpec("P")

VERSIONS = 3
"""How many values of one slot are kept: the one in force, and what undo and redo are likely to ask for."""


class Cache(Protocol):
    """Where values are kept by the content that they depend on, sorted into rooms by what they are."""

    def get(
        self,
        room: str,
        key: Hashable,
        make: Callable[[], T],
        size: Callable[[T], int],
        slot: str | None = None,
    ) -> T:
        """The value of a key, made where it is not there. size: its bytes. slot: what it is a version of."""


class KeepAll:
    """A cache for one piece of work: it keeps everything until it is gone itself."""

    def __init__(self) -> None:
        self._values: dict[tuple[str, Hashable], Any] = {}

    def get(
        self,
        room: str,
        key: Hashable,
        make: Callable[[], T],
        size: Callable[[T], int],
        slot: str | None = None,
    ) -> T:
        """The value of a key, made where it is not there."""
        if (room, key) not in self._values:
            self._values[room, key] = make()
        value: T = self._values[room, key]
        return value


class BoundedCache:
    """The values made last, by key, at most `bytes_at_most` of them and `VERSIONS` of each slot. Any thread may ask."""

    def __init__(self, bytes_at_most: int) -> None:
        self.bytes_at_most, self.used = bytes_at_most, 0
        self._making, self._keeping = threading.RLock(), threading.Lock()
        self._values: OrderedDict[Hashable, tuple[Any, int, str | None]] = OrderedDict()
        self._slots: dict[str, list[Hashable]] = {}

    def get(
        self,
        key: Hashable,
        make: Callable[[], T],
        size: Callable[[T], int],
        slot: str | None = None,
        lock: AbstractContextManager[Any] | None = None,
    ) -> T:
        """The value of a key, made where it is not there. slot: what the value is a version of.

        lock: held while it is made, so that one thread at a time does; the cache's own where none is named.
        """
        with lock or self._making:
            with self._keeping:
                if key in self._values:
                    self._values.move_to_end(key)
                    value: T = self._values[key][0]
                    return value
            value = make()
            self.put(key, value, size(value), slot)
            return value

    def put(self, key: Hashable, value: object, size: int, slot: str | None = None) -> None:
        """Keeps a value, in the place of one that is there. size: its bytes. slot: what it is a version of."""
        with self._keeping:
            if key in self._values:
                self._drop(key)
            self._values[key] = (value, size, slot)
            self.used += size
            if slot is not None:
                versions = self._slots.setdefault(slot, [])
                versions.append(key)
                if len(versions) > VERSIONS:
                    self._drop(versions[0])
            while self.used > self.bytes_at_most and len(self._values) > 1:
                self._drop(next(iter(self._values)))

    def held(self, key: Hashable) -> Any | None:
        """The value of a key, if it is there; None where it is not."""
        with self._keeping:
            return self._values[key][0] if key in self._values else None

    def forget(self, key: Hashable) -> None:
        """Lets go of a value that nobody will ask for again."""
        with self._keeping:
            if key in self._values:
                self._drop(key)

    def _drop(self, key: Hashable) -> None:
        _, size, slot = self._values.pop(key)
        self.used -= size
        if slot is not None:
            self._slots[slot].remove(key)
            if not self._slots[slot]:
                del self._slots[slot]


def as_they_are(*args: Hashable) -> Hashable:
    """What a value is kept by: its arguments themselves."""
    return args


def remembered(
    cache: BoundedCache, size: Callable[..., int], name: Callable[..., Hashable] = as_they_are
) -> Callable[[Callable[P, T]], Callable[P, T]]:
    """A function that keeps what it returned last, by its arguments, in a cache that it may share with others.

    size: of a value and the arguments that it was made from. name: what stands for the arguments in the cache, so that large
    ones are not kept with it. Several threads may make values side by side.
    """

    def kept(function: Callable[P, T]) -> Callable[P, T]:
        @wraps(function)
        def found(*args: P.args, **kwargs: P.kwargs) -> T:
            key = (function.__module__, function.__qualname__, name(*args, *kwargs.values()), tuple(kwargs))
            return cache.get(
                key, lambda: function(*args, **kwargs), lambda value: size(value, *args), lock=nullcontext()
            )

        return found

    return kept
