"""Kernels: functions that numba compiles to machine code, kept in the user's cache by all that they are made from.

Every kernel of the package is made by `kernel`. Compiling all of them takes minutes, so what was compiled is kept for
the next process, and for every checkout that this person has: `kernel_key` tells what a kernel is made from, however
deep, and `kernel_store` keeps the code under that name.
"""

from __future__ import annotations

import gc
import logging
from collections.abc import Callable
from functools import cache
from typing import Any, ParamSpec, TypeVar, overload

import numba
from numba.core.caching import _Cache
from numba.core.dispatcher import Dispatcher

from pivrel.core.kernel_code import FORM, dumped, loaded
from pivrel.core.kernel_key import machine, made_from, signature_of
from pivrel.core.kernel_store import KernelStore, user_store

log = logging.getLogger("pivrel.compiling")

SWEEPS = gc.get_threshold()
OBJECTS_BEFORE_A_SWEEP = 200_000
"""Compiling makes millions of objects that stay: sweeping them as often as Python does takes a sixth of the time."""

P = ParamSpec("P")
R = TypeVar("R")


@overload
def kernel(function: Callable[P, R], /) -> Callable[P, R]: ...


@overload
def kernel(**options: Any) -> Callable[[Callable[P, R]], Callable[P, R]]: ...


def kernel(function: Callable[..., Any] | None = None, /, **options: Any) -> Any:
    """A function as compiled code that lets other threads run meanwhile; with options of numba's `njit`, or without.

    Raises TypeError on its first call where it reaches something whose value cannot be told (`kernel_key`).
    """

    def compiled(function: Callable[..., Any]) -> Any:
        made: Any = numba.njit(nogil=True, **options)(function)
        if not getattr(numba.config, "DISABLE_JIT", False):
            made._cache = KernelCache(made)
        return made

    return compiled if function is None else compiled(function)


class KernelCache(_Cache):
    """What numba asks for compiled code, and gives it to: one file for each kernel and each signature."""

    def __init__(self, dispatcher: Dispatcher) -> None:
        self._dispatcher = dispatcher
        self._enabled = True
        self._made_from: str | None = None

    @property
    def cache_path(self) -> str:
        return str(self._store.folder)

    @property
    def _store(self) -> KernelStore:
        return user_store()

    def _name(self, signature: Any, codegen: Any) -> str:
        """The file's name; what a kernel reaches is looked at when it is first called, for then all of it is there."""
        if self._made_from is None:
            self._made_from = made_from(self._dispatcher)
        key = machine(FORM, self._made_from, *map(str, codegen.magic_tuple()), signature_of(signature))
        return f"{self._dispatcher.py_func.__name__}-{key}"

    def load_overload(self, signature: Any, context: Any) -> Any:
        """The compiled code for a signature; None where there is none, and it is to be made."""
        if not self._enabled:
            return None
        kept = self._store.get(self._name(signature, context.codegen()))
        if kept is None:
            _announce(self._store)
            gc.set_threshold(OBJECTS_BEFORE_A_SWEEP, 50, 100)
            return None
        return loaded(kept, context)

    def save_overload(self, signature: Any, result: Any) -> None:
        """Keeps compiled code; what holds addresses of this process cannot be kept."""
        gc.set_threshold(*SWEEPS)
        if self._enabled and not result.lifted and not result.library.has_dynamic_globals:
            self._store.put(self._name(signature, result.codegen), dumped(result))

    def enable(self) -> None:
        self._enabled = True

    def disable(self) -> None:
        self._enabled = False

    def flush(self) -> None:
        """Nothing is held back, so there is nothing to write."""


@cache
def _announce(store: KernelStore) -> None:
    """Says, once in a process, that something is compiled."""
    log.info("compiling what is used here for the first time; it is kept in %s", store.folder)
