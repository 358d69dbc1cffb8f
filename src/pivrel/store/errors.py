"""What can be wrong with the data folder, each in one sentence that says what to do."""

from __future__ import annotations

import errno
import sqlite3
from pathlib import Path
from typing import ClassVar

from pivrel.errors import PivrelError


class StorageError(PivrelError):
    """The data folder cannot be used as asked."""

    status: ClassVar[int] = 500


class LostBytesError(StorageError):
    """Bytes that something refers to are missing or changed."""


class FullError(StorageError):
    """There is no room left."""

    status: ClassVar[int] = 507


class BusyError(StorageError):
    """Somebody else holds what is asked for; asking again helps."""

    status: ClassVar[int] = 503


FULL = "there is no room left on the disk of {where}; nothing was changed. Make room and try again"
BUSY = "another program is writing to {where}; nothing was changed. Try again in a moment"
READ_ONLY = (
    "{where} cannot be written to; nothing was changed. Check who owns it and whether its disk is read-only"
)
EMPTY = (
    "{where} is there, but empty: what it held is lost. Put a backup in its place, or take it away to begin anew; "
    "nothing was changed"
)
FOREIGN = "{where} is a database of another program; name another folder with --data. Nothing was changed"
LACKS = "{where} is damaged: it lacks {what}. Go back to a backup; nothing was changed"
BROKEN = "{where} is damaged; run 'pivrel check' and go back to a backup"

_BY_CODE: dict[int, tuple[type[StorageError], str]] = {
    sqlite3.SQLITE_FULL: (FullError, FULL),
    sqlite3.SQLITE_BUSY: (BusyError, BUSY),
    sqlite3.SQLITE_LOCKED: (BusyError, BUSY),
    sqlite3.SQLITE_READONLY: (StorageError, READ_ONLY),
    sqlite3.SQLITE_PERM: (StorageError, READ_ONLY),
    sqlite3.SQLITE_CANTOPEN: (StorageError, "{where} cannot be opened; check that the folder is there and yours"),
    sqlite3.SQLITE_CORRUPT: (StorageError, BROKEN),
    sqlite3.SQLITE_NOTADB: (StorageError, "{where} is not a database of Pivrel, or its beginning is destroyed"),
    sqlite3.SQLITE_IOERR: (StorageError, "the disk of {where} could not be read or written; nothing was changed"),
    sqlite3.SQLITE_TOOBIG: (StorageError, "one file holds more than a database can keep (1 GB)"),
}  # fmt: skip


class CrowdedError(StorageError):
    """The system gives no more of something."""

    status: ClassVar[int] = 503


CROWDED = (
    "this machine lets Pivrel have no more files open at once; nothing was changed. Close some of its pages, or raise "
    "the limit ('ulimit -n') before it is started"
)
LONGER = (
    "a file near {where} may not become as long as it has to be; nothing was changed. Raise the limit ('ulimit -f') "
    "before Pivrel is started"
)

_BY_ERRNO = {
    errno.EMFILE: (CrowdedError, CROWDED),
    errno.ENFILE: (CrowdedError, CROWDED),
    errno.EFBIG: (FullError, LONGER),
    errno.ENOSPC: (FullError, FULL),
    errno.EDQUOT: (FullError, FULL),
    errno.EROFS: (StorageError, READ_ONLY),
    errno.EACCES: (StorageError, READ_ONLY),
    errno.EPERM: (StorageError, READ_ONLY),
}


def told(error: sqlite3.Error | OSError, where: Path | str) -> StorageError | None:
    """The error in a sentence, or None where it is no trouble of the storage. where: the file or folder."""
    if isinstance(error, OSError):
        found = _BY_ERRNO.get(error.errno or 0)
    else:
        # Extended codes have their kind in the lowest byte.
        found = _BY_CODE.get((getattr(error, "sqlite_errorcode", 0) or 0) & 0xFF)
        if found is None and isinstance(error, sqlite3.DataError):
            found = _BY_CODE[sqlite3.SQLITE_TOOBIG]
    return found[0](found[1].format(where=where)) if found else None


def one_line(error: OSError, where: Path | str) -> str:
    """The error in a sentence, or else in the system's own words after what it is about."""
    return str(told(error, where) or f"{where}: {(error.strerror or str(error)).lower()}")
