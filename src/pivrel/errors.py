"""Everything that Pivrel says no to, as one tree.

    PivrelError               what a person can do something about; the message is one sentence: what, where, and
                              what to do. It knows the HTTP status and the exit code that go with it.
      InputError              what was given cannot be used
        MeshError, FrameError, PickError, FitError, SetOutError, QuantityError     of the core
        RecipeError, FormatError, ImageError, ArchiveError, EditError              of what is built on it
      StorageError            the data folder cannot be used as it is
        BusyError, LostBytesError
      OutdatedError           what was changed is not what it was based on any more
      NothingToDoError        undo or redo with nothing on that side
      NotFoundError           what is asked for is not there
      CommandError            of the command line: what is wrong, with the file it concerns

Whatever is raised beside these is a fault of Pivrel's own.
"""

from __future__ import annotations

from typing import ClassVar


class PivrelError(Exception):
    """What a person can do something about, in one sentence."""

    status: ClassVar[int] = 400
    """The HTTP status of an answer that says so."""

    exit_code: ClassVar[int] = 2
    """What the command line ends with."""


class InputError(PivrelError, ValueError):
    """What was given cannot be used."""

    status: ClassVar[int] = 422


class NotFoundError(PivrelError):
    """What is asked for is not there."""

    status: ClassVar[int] = 404
