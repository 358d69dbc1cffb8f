"""What a kernel is made from, as a short text: equal where the compiled code would be the same.

The compiler takes up whatever a kernel reaches: other kernels, constants, names of other modules. Each of them counts
here, transitively. Counted is the code that this process has loaded, not the text on the disk: a server that runs while
its files are updated compiles the old code, and must not keep it under the new text's name. A comment, a line that moved
and a docstring change nothing.
"""

from __future__ import annotations

import builtins
import dis
import enum
import hashlib
import sys
from types import BuiltinFunctionType, CodeType, FunctionType, ModuleType
from typing import Any

import llvmlite
import numba
import numpy as np
from numba.core import types
from numba.core.dispatcher import Dispatcher

LIBRARIES = sys.stdlib_module_names | {"llvmlite", "numba", "numpy"}
"""What is told by its version."""

PLAIN = (bool, int, float, complex, str, bytes, type(None), type(Ellipsis), np.generic, np.dtype)
"""What is told whole by its type and how it is written out; the compiler's own types are, too."""

NAMED = (FunctionType, BuiltinFunctionType, ModuleType, type, np.ufunc)

SWITCHES = ("OPT", "BOUNDSCHECK", "LOOP_VECTORIZE", "SLP_VECTORIZE", "FULL_TRACEBACKS", "DEBUGINFO_DEFAULT")
"""The compiler's own settings that change what it makes."""


def made_from(kernel: Dispatcher) -> str:
    """A digest of a kernel's code, its options and everything that it reaches.

    Raises TypeError where it reaches a thing whose value cannot be told.
    """
    digest = _Digest()
    digest.value(kernel)
    return digest.told.hexdigest()


def machine(*more: str) -> str:
    """A digest of the versions and settings that the compiler has here, and of what else is told."""
    versions = (sys.version, numba.__version__, llvmlite.__version__, np.__version__)
    settings = (str(getattr(numba.config, name, None)) for name in SWITCHES)
    return hashlib.sha256("\n".join([*versions, *settings, *more]).encode()).hexdigest()[:40]


def signature_of(signature: Any) -> str:
    """The types that a kernel is called with, with the names of the fields of what has some."""
    args = signature.args if hasattr(signature, "args") else signature
    return ", ".join(_type_of(arg) for arg in args)


def _type_of(arg: Any) -> str:
    fields = ",".join(getattr(arg, "fields", ()))
    within = ", ".join(_type_of(one) for one in getattr(arg, "types", ()))
    return f"{type(arg).__name__} {arg} <{fields}> ({within})"


def reached(code: CodeType) -> set[tuple[str, ...]]:
    """The global names that a function's code takes up, each with the attributes that are asked of it at once."""
    found: set[tuple[str, ...]] = set()
    path: tuple[str, ...] = ()
    for step in dis.get_instructions(code):
        if step.opname == "LOAD_GLOBAL":
            found.add(path)
            path = (step.argval,)
        elif path and step.opname in ("LOAD_ATTR", "LOAD_METHOD"):
            path = (*path, step.argval)
        else:
            found.add(path)
            path = ()
    for constant in code.co_consts:
        if isinstance(constant, CodeType):
            found |= reached(constant)
    return found - {()}


class _Digest:
    """Takes up values one after the other; a function that was met before is told by its number."""

    def __init__(self) -> None:
        self.told = hashlib.sha256()
        self._met: dict[FunctionType, int] = {}

    def word(self, *words: object) -> None:
        for word in words:
            text = str(word).encode()
            self.told.update(len(text).to_bytes(8, "little") + text)

    def function(self, function: FunctionType) -> None:
        if function in self._met:
            return self.word("met", self._met[function])
        self._met[function] = len(self._met)
        self.word("function", function.__module__, function.__qualname__)
        # The first constant of a function is its docstring, or None.
        self._code(function.__code__, function.__code__.co_consts[1:])
        self.value(function.__defaults__)
        self.value(function.__kwdefaults__)
        for cell in function.__closure__ or ():
            self.value(cell.cell_contents)
        for path in sorted(reached(function.__code__)):
            self.word(*path)
            self._reached(function, path)

    def _code(self, code: CodeType, constants: tuple[Any, ...]) -> None:
        self.word("code", code.co_code.hex(), code.co_exceptiontable.hex(), code.co_flags, code.co_names)
        self.word(code.co_varnames, code.co_freevars, code.co_cellvars, code.co_argcount)
        for constant in constants:
            if isinstance(constant, CodeType):
                self._code(constant, constant.co_consts)
            else:
                self.value(constant)

    def _reached(self, function: FunctionType, path: tuple[str, ...]) -> None:
        """What a global name stands for, followed through modules of our own."""
        name, *attributes = path
        missing = object()
        value = function.__globals__.get(name, getattr(builtins, name, missing))
        if value is missing:
            raise TypeError(f"{function.__name__} reaches {name}, which is not there")
        for attribute in attributes:
            if not isinstance(value, ModuleType) or _of_a_library(value.__name__):
                break
            value = getattr(value, attribute)
        self.value(value)

    def value(self, value: Any) -> None:
        self.word(type(value).__qualname__)
        if isinstance(value, Dispatcher):
            self.value(dict(value.targetoptions))
            self.function(value.py_func)
        elif isinstance(value, enum.Enum):
            self.word(value.name)
            self.value(value.value)
        elif isinstance(value, PLAIN):
            self.word(repr(value))
        elif isinstance(value, np.ndarray):
            self.word(value.dtype.str, value.shape, value.tobytes().hex())
        elif isinstance(value, dict | tuple | list | set | frozenset):
            self._collection(value)
        elif not isinstance(value, NAMED) and isinstance(value, types.Type):
            # Asked last of all: whether a value is one takes Python a while to tell.
            self.word(repr(value))
        else:
            self._named(value)

    def _collection(self, value: Any) -> None:
        self.word(len(value), getattr(value, "_fields", ()))
        if isinstance(value, dict):
            value = [item for key in sorted(value) for item in (key, value[key])]
        elif isinstance(value, set | frozenset):
            value = sorted(value, key=repr)
        for item in value:
            self.value(item)

    def _named(self, value: Any) -> None:
        """A function, a class or a module."""
        name = getattr(value, "__qualname__", getattr(value, "__name__", None))
        home = value.__name__ if isinstance(value, ModuleType) else getattr(value, "__module__", None)
        if isinstance(value, np.ufunc) or (home and _of_a_library(home)):
            self.word(home, name)
        elif isinstance(value, FunctionType):
            self.function(value)
        elif isinstance(value, type) and hasattr(value, "_fields"):
            self.word(home, name, value._fields)
            self.value(getattr(value, "_field_defaults", None))
        else:
            raise TypeError(f"a kernel reaches {value!r}, and what it is made from cannot be told")


def _of_a_library(module: str) -> bool:
    return module.split(".")[0] in LIBRARIES
