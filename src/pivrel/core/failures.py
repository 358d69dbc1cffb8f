"""What goes wrong at one row of the schedule, told as a trouble of that row, so that all others go on."""

from __future__ import annotations

import logging
import traceback
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import TypeVar

from pivrel.errors import InputError, PivrelError

T = TypeVar("T")

LOG = logging.getLogger("pivrel")

STAGES: Mapping[str, str] = {
    "held": "its faces could not be found",
    "grounds": "it could not be solved",
    "solutions": "it could not be solved",
    "pieces": "it could not be fitted",
    "sheets": "its sheet could not be settled",
    "layings": "it could not be laid",
    "figures": "it could not be measured",
    "off": "how far its throw is off between corners could not be measured",
    "stretch": "its stretch could not be measured",
    "seams": "its seams could not be found",
    "flat": "its pieces could not be found",
    "shown": "what shows of it could not be measured",
    "over": "a sheet over it could not be laid",
    "lines": "the lines that its coats are near to could not be found",
    "jumps": "where its channels run on could not be found",
}
"""What is said of a row where a stage of it fails, by the room that keeps what the stage makes."""

HELP = "undo what was changed of it last, or lay it by another projection"

UNREAD = "it was kept by another version of Pivrel, and holds what this one does not take"
UNREAD_HELP = "any change of it leaves that out, or undo what was changed of it last"


class RowError(InputError):
    """A row of which a stage failed; the message is what is told of it, without its name."""


class PassingError(RowError):
    """One that may be gone when the stage is tried again."""


@dataclass(frozen=True)
class Failure:
    """A stage that failed, in the place of what it makes, so that it is not tried again as long as nothing changes."""

    told: str

    def error(self) -> RowError:
        """It, to be raised. A new one each time, for an error that is raised again remembers from where."""
        return RowError(self.told)


def in_words(stage: str, error: Exception) -> str:
    """What is told of a row where a stage (a key of `STAGES`) failed."""
    if isinstance(error, PivrelError):
        return f"{STAGES[stage]}: {error}"
    if isinstance(error, MemoryError):
        return f"{STAGES[stage]}: there is not enough memory for it"
    return f"{STAGES[stage]}, by a fault of Pivrel's own ({cause(error)}): {HELP}"


def cause(error: Exception) -> str:
    """An error in a few words: its kind, and the module where it arose."""
    frames = traceback.extract_tb(error.__traceback__)
    where = frames[-1].filename.rpartition("/")[2] if frames else "unknown"
    return f"{type(error).__name__} in {where}"


def attempt(stage: str, key: str, make: Callable[[], T]) -> T | Failure:
    """What `make` makes of a row, or how it failed.

    RowError where a stage before it failed, which keeps that itself; PassingError where there was no memory.
    """
    try:
        return make()
    except RowError:
        raise
    except MemoryError as error:
        raise PassingError(in_words(stage, error)) from None
    except Exception as error:
        if not isinstance(error, PivrelError):
            LOG.exception("%s of row %s failed", stage, key)
        return Failure(in_words(stage, error))
