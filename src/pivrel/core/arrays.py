"""Array types by what they hold, so that signatures read like the laying contract; and rows sorted by a label."""

from typing import Any, TypeAlias, TypeVar

import numpy as np
import numpy.typing as npt

Floats: TypeAlias = npt.NDArray[np.floating[Any]]
Floats32: TypeAlias = npt.NDArray[np.float32]
Ints: TypeAlias = npt.NDArray[np.signedinteger[Any]]
Mask: TypeAlias = npt.NDArray[np.bool_]

A = TypeVar("A", bound=npt.NDArray[Any])

Precision: TypeAlias = type[np.float64] | type[np.float32]
"""float64 for everything that is computed on; float32 for what only a view will draw."""


def marked(ids: Ints, count: int) -> Mask:
    """(count,) true for each of some numbers below `count`."""
    out = np.zeros(count, bool)
    out[ids] = True
    return out


def distinct(values: A) -> A:
    """(D,) the values of an array of any shape, each once, ascending.

    `np.unique` finds the same by a table, which takes fifty times as long where most values differ (a second for a
    million), and holds up every other thread for that time.
    """
    held = np.sort(values, axis=None)
    first = np.ones(len(held), bool)
    first[1:] = held[1:] != held[:-1]
    return held[first]  # type: ignore[return-value]


def rows_by(label: Ints, count: int) -> list[Ints]:
    """For each of `count` labels the rows that carry it, ascending. label: (N,), from 0 on."""
    order: Ints = np.argsort(label, kind="stable")
    return np.split(order, np.cumsum(np.bincount(label, minlength=count))[:-1])[:count]
