"""Compiled code as bytes and back, without loading the compiler: a command that compiles nothing starts twice as fast.

numba's own way back loads all that it could compile with. Compiled code needs of that only the functions that it calls:
their names are kept with it, and where this process does not have one of them yet, all is loaded as numba does it.
"""

from __future__ import annotations

import io
import pickle
import sys
from functools import cache
from typing import Any

from llvmlite import binding
from numba.core import compiler, environment, serialize
from numba.core.runtime.nrt import rtsys

FORM = "2"
"""How the bytes are laid out: another number for another order."""


def dumped(result: Any) -> bytes:
    """Compiled code as bytes."""
    module = result.library._final_module
    outside = (
        value.name
        for held in (module.functions, module.global_variables)
        for value in held
        if value.is_declaration
    )
    # An intrinsic is no function: what it comes to is in the code, or in the system's own libraries.
    called = tuple(name for name in outside if not name.startswith("llvm."))
    return pickle.dumps(called) + serialize.dumps(result._reduce())


def loaded(data: bytes, context: Any) -> compiler.CompileResult:
    """The compiled code of such bytes, ready to be called."""
    file = io.BytesIO(data)
    called: tuple[str, ...] = pickle.load(file)
    made = _Unpickler(file).load()
    rtsys.initialize(context)
    # Functions that begin what the code needs, such as threads; the last but one of numba's fields.
    for begin in made[-2] or ():
        begin()
    if not all(map(_is_there, called)):
        context.refresh()
        _is_there.cache_clear()
    return compiler.CompileResult._rebuild(context, *made)


@cache
def _is_there(name: str) -> bool:
    """Whether code of this process can call a function of this name."""
    return bool(binding.address_of_symbol(name))


class _Unpickler(pickle.Unpickler):
    """Takes environments as they are, where numba loads the modules that they come from."""

    def find_class(self, module: str, name: str) -> Any:
        found = super().find_class(module, name)
        return _environment if found is environment._rebuild_env else found


def _environment(module: str, constants: list[Any], name: str) -> environment.Environment:
    """The constants of a compiled function, which are all that it takes from its environment."""
    found = environment.lookup_environment(name)
    if found is not None:
        return found
    here = sys.modules.get(module)
    made = environment.Environment({"__name__": module} if here is None else here.__dict__)
    made.consts[:] = constants
    made.env_name = name
    environment.Environment._memo[name] = made
    return made
