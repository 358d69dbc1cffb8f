"""Files written without the rows that cannot be written, so that one of them does not keep the others from going out."""

from __future__ import annotations

import logging
from collections.abc import Callable
from typing import TypeVar

from pivrel.core.arrays import distinct
from pivrel.core.failures import cause
from pivrel.core.laying import BARE
from pivrel.errors import PivrelError
from pivrel.formats.laid import LaidModel

T = TypeVar("T")

LOG = logging.getLogger("pivrel")


def written(model: LaidModel, write: Callable[[LaidModel], T]) -> T:
    """What `write` makes of a laid model, or of the model without the finishes with which it fails.

    What it raises, where it fails without any finish too.
    """
    try:
        return write(model)
    except MemoryError:
        raise
    except Exception:
        LOG.exception("a file could not be written, so it is looked for the finish that keeps it from it")
    rows = [row for row in distinct(model.face_finish).tolist() if row != BARE]
    # Where the file fails without any finish, none of them is to blame.
    write(model.without(dict.fromkeys(rows, "")))
    return write(model.without(_failing(model, rows, rows, write)))


def _failing(
    model: LaidModel, every: list[int], rows: list[int], write: Callable[[LaidModel], T]
) -> dict[int, str]:
    """Those of some rows with which writing fails though all others of `every` are left out, and why."""
    try:
        write(model.without({row: "" for row in every if row not in rows}))
    except MemoryError:
        raise
    except Exception as error:
        if len(rows) > 1:
            half = len(rows) // 2
            return _failing(model, every, rows[:half], write) | _failing(model, every, rows[half:], write)
        told = str(error) if isinstance(error, PivrelError) else f"a fault of Pivrel's own ({cause(error)})"
        return {rows[0]: f"it could not be written: {told}"}
    return {}
