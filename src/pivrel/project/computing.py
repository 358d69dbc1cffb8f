"""Whose turn it is to compute, in the order of asking, and what is kept: the kernels use all cores themselves.

There are two lanes. Short work is what a page or an edit waits for, and each project has a lane of its own for it.
Long work runs beside it, one piece at a time, so that nobody waits for it but other long work.
"""

from __future__ import annotations

import importlib
import os
import threading
from collections import deque
from collections.abc import Callable, Hashable, Iterator
from contextlib import AbstractContextManager, contextmanager
from typing import TypeVar

from pivrel.core.cache import BoundedCache


class FairLock:
    """A lock that its owner may take again, and that goes to whoever has waited longest.

    A plain lock goes back to the thread that has just let go of it, so that a long piece of work in steps would
    keep everybody else out.
    """

    def __init__(self) -> None:
        self._mutex = threading.Lock()
        self._waiting: deque[tuple[int, threading.Event]] = deque()
        self._owner: int | None = None
        self._depth = 0

    def __enter__(self) -> None:
        me = threading.get_ident()
        with self._mutex:
            if self._owner == me:
                self._depth += 1
                return
            if self._owner is None:
                self._owner, self._depth = me, 1
                return
            mine = threading.Event()
            self._waiting.append((me, mine))
        mine.wait()

    def __exit__(self, *_: object) -> None:
        with self._mutex:
            self._depth -= 1
            if self._depth:
                return
            if self._waiting:
                self._owner, next_one = self._waiting.popleft()
                self._depth = 1
                next_one.set()
            else:
                self._owner = None

    @property
    def is_mine(self) -> bool:
        """Whether the calling thread holds the lock."""
        return self._owner == threading.get_ident()


def kernels_may_meet() -> bool:
    """Whether two threads may run parallel kernels at once: numba's simplest threading layer breaks there
    (numba manual, "The Threading Layers")."""
    if os.environ.get("NUMBA_THREADING_LAYER") == "workqueue":
        return False
    for layer in ("tbbpool", "omppool"):
        try:
            importlib.import_module(f"numba.np.ufunc.{layer}")
        except ImportError:
            continue
        return True
    return False


ROOMS = {
    "surfaces": 4 << 30,
    "finishes": 64 << 20,
    "made": 40,
    "verdicts": 40,
    "rows": 64 << 20,
    "covers": 256 << 20,
    "held": 128 << 20,
    "grounds": 768 << 20,
    "solutions": 512 << 20,
    "pieces": 64 << 20,
    "sheets": 128 << 20,
    "layings": 512 << 20,
    "figures": 64 << 20,
    "off": 1 << 20,
    "stretch": 96 << 20,
    "seams": 96 << 20,
    "jumps": 32 << 20,
    "over": 256 << 20,
    "lines": 96 << 20,
    "flat": 96 << 20,
    "shown": 64 << 20,
    "nests": 16 << 20,
    "across": 96 << 20,
    "sights": 64 << 20,
    "imports": 1 << 30,
}
"""What is kept between requests, and how many bytes of it at most."""

MADE_BESIDE = frozenset(["nests", "jumps"])
"""Rooms whose values take seconds to make: within `long_work`, so that no page waits for them."""

LARGE = 50_000
"""Triangles from which a fit may take a second."""

LANES = 64
"""So many projects have short work of their own, by their number."""

T = TypeVar("T")


class Computing:
    """Whose turn it is to compute, and what was computed before: one for a server, given to whoever computes.

    short: held around short work. What is kept is made under it, or within long work. imports: held around what is
    done of a file that nobody works on yet. server: whose lane this is, of `LANES`.
    """

    def __init__(self, server: Computing | None = None) -> None:
        self.short = FairLock()
        self._lanes = [self]
        if server is None:
            apart = kernels_may_meet()
            self._long = FairLock() if apart else self.short
            self.imports = FairLock() if apart else self.short
            self._kept = {room: BoundedCache(size) for room, size in ROOMS.items()}
            if apart:
                self._lanes = [Computing(self) for _ in range(LANES)]
        else:
            self._long, self.imports, self._kept = server._long, server.imports, server._kept
        self._locks = dict.fromkeys(MADE_BESIDE, self._long) | {"imports": self.imports}

    def of(self, project_id: int) -> Computing:
        """The same for one project, with short work of its own: the artists of two projects do not wait for each other."""
        return self._lanes[project_id % len(self._lanes)]

    def get(
        self,
        room: str,
        key: Hashable,
        make: Callable[[], T],
        size: Callable[[T], int],
        slot: str | None = None,
    ) -> T:
        """The value of a key, made where it is not there; see `core.cache.Cache`."""
        return self._kept[room].get(key, make, size, slot, self._locks.get(room, self.short))

    def forget(self, room: str, key: Hashable) -> None:
        """Lets go of a value that nobody will ask for again."""
        self._kept[room].forget(key)

    @contextmanager
    def long_work(self) -> Iterator[None]:
        """Held around work that takes seconds on a large model. Short work within it takes `short` for its time.

        Within short work it is short work itself: the lanes are entered in one order only, so nobody waits in a
        circle.
        """
        with self.short if self.short.is_mine else self._long:
            yield

    def lane_for(self, triangles: int) -> AbstractContextManager[None]:
        """Where a fit to a surface is computed: beside the short work, where the model is large."""
        return self.long_work() if triangles > LARGE else self.short
