"""How long tests are: a fixed share of what is long runs in `make test`, all of it in `make soak`.

What is left out of `make test` is left out by what stands here alone, so that nothing long is without a shorter form.
"""

from __future__ import annotations

import os
from collections.abc import Iterable
from typing import Any, TypeVar

import pytest

T = TypeVar("T")

FULL = os.environ.get("PIVREL_FULL") == "1"


def at_length(here: T, full: T) -> T:
    """A count, a size or a list of cases: as `make test` has it, and as `make soak` has it."""
    return full if FULL else here


def some(cases: Iterable[Any], here: int) -> list[Any]:
    """The cases of a test, of which `here`, evenly spread and always the same, run in `make test`, and all in `make soak`.

    A case is one value; where it is several, it comes as `pytest.param`.
    """
    every = [case if hasattr(case, "marks") else pytest.param(case) for case in cases]
    assert 0 < here < len(every), "a share of the cases"
    chosen = {round(k * (len(every) - 1) / max(here - 1, 1)) for k in range(here)}
    return [case if at in chosen else _long(case) for at, case in enumerate(every)]


def _long(case: Any) -> Any:
    """The same case, for `make soak` alone."""
    return pytest.param(*case.values, marks=[*case.marks, pytest.mark.soak], id=case.id)
