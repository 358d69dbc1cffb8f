"""The database file: opening it, bringing it up to date, one transaction at a time."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from pivrel.core.cache import BoundedCache
from pivrel.store import projects, uses
from pivrel.store.connection import Connection
from pivrel.store.errors import BusyError, StorageError, told
from pivrel.store.migrating import NEWEST, migrate, version_of

FILE = "pivrel.sqlite"
INCREMENTAL = 2
"""SQLite's number for a file that gives pages back when it is told to."""

LOG_BYTES = 64 << 20
"""What is left of the write-ahead log once its pages are in the file."""

CONTENTS = 40
"""Of so many states of projects the contents are kept."""

WAIT_S = 10.0
"""How long a writer waits for another; nothing is computed while anyone writes."""


class Database:
    """A data folder with one SQLite file in it. Any thread may ask; each keeps its own connection.

    StorageError where the folder or the file cannot be used.
    """

    def __init__(self, folder: Path) -> None:
        self.path = folder / FILE
        self._parsed, self._committed = BoundedCache(32 << 20), BoundedCache(CONTENTS)
        self._own = threading.local()
        self._open: list[Connection] = []
        self._opening = threading.Lock()
        with self._telling():
            folder.mkdir(parents=True, exist_ok=True)
            _refuse_newer(self.path, _stated_version(self.path))
            self.recovered_bytes = self._log_bytes if self.path.is_file() else 0
            self._bring_up_to_date()

    def _bring_up_to_date(self) -> None:
        db = self._connection()
        version = version_of(db)
        _refuse_newer(self.path, version)
        if version < NEWEST:
            if version:
                self.copy_to(self.path.with_name(f"pivrel-before-{NEWEST}.sqlite"))
            with self.transaction() as db:
                migrate(db)
        if db.execute("PRAGMA auto_vacuum").fetchone()[0] != INCREMENTAL:
            self.compact()

    def _connection(self) -> Connection:
        if hasattr(self._own, "db"):
            held: Connection = self._own.db
            return held
        # Closed by `close`, which the thread that opened it need not be the one to call.
        db = sqlite3.connect(
            self.path, timeout=WAIT_S, isolation_level=None, check_same_thread=False, factory=Connection
        )
        db.parsed, db.committed = self._parsed, self._committed
        try:
            db.row_factory = sqlite3.Row
            # FULL: what was confirmed survives a power cut too, for one fsync an edit.
            for pragma in (
                f"auto_vacuum = {INCREMENTAL}",
                "journal_mode = WAL",
                "foreign_keys = ON",
                "synchronous = FULL",
                f"journal_size_limit = {LOG_BYTES}",
            ):
                db.execute(f"PRAGMA {pragma}").fetchall()
        except BaseException:
            db.close()
            raise
        self._own.db = db
        with self._opening:
            self._open.append(db)
        return db

    @contextmanager
    def _telling(self, where: Path | None = None) -> Iterator[None]:
        """Trouble of the storage is told in a sentence. where: the file that is written, if it is another."""
        try:
            yield
        except (sqlite3.Error, OSError) as error:
            sentence = told(error, where or self.path)
            if sentence is None:
                raise
            raise sentence from error

    @contextmanager
    def transaction(self) -> Iterator[Connection]:
        """A connection within one write transaction: all of it is kept, or nothing.

        Bytes that nothing refers to at its end are deleted, and their room is given back to the disk.
        """
        with self._telling():
            db = self._connection()
            db.execute("BEGIN IMMEDIATE")
            db.written = {}
            try:
                yield db
                freed = uses.collect(db)
                carried = projects.carried_on(db)
                db.execute("COMMIT")
            except BaseException:
                if db.in_transaction:
                    db.execute("ROLLBACK")
                raise
            finally:
                db.written = None
            for (project_id, pulse), contents in carried.items():
                projects.keep_contents(db, project_id, pulse, contents)
            if freed:
                _give_back(db)

    @contextmanager
    def reading(self) -> Iterator[Connection]:
        """A connection that sees one state throughout."""
        with self._telling():
            db = self._connection()
            db.execute("BEGIN")
            try:
                yield db
            finally:
                db.execute("ROLLBACK")

    def copy_to(self, target: Path) -> None:
        """A copy of the whole database as it is, also while others write to it. It takes its place when it is whole."""
        waiting = target.with_name(target.name + ".part")
        with self._telling(target):
            waiting.unlink(missing_ok=True)
            copy = sqlite3.connect(waiting)
            try:
                self._connection().backup(copy)
            except BaseException:
                copy.close()
                waiting.unlink(missing_ok=True)
                raise
            copy.close()
            waiting.replace(target)

    @property
    def bytes_on_disk(self) -> int:
        """What the file and its write-ahead log take."""
        return self.path.stat().st_size + self._log_bytes

    @property
    def _log_bytes(self) -> int:
        log = self.path.with_name(FILE + "-wal")
        return log.stat().st_size if log.is_file() else 0

    def compact(self) -> None:
        """Writes the file anew without its empty pages."""
        with self._telling():
            db = self._connection()
            db.execute("VACUUM")
            db.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchall()

    def close(self) -> None:
        """Closes what every thread has opened; the log goes into the file."""
        with self._opening:
            for db in self._open:
                db.close()
            self._open.clear()
        self._own = threading.local()


def _stated_version(path: Path) -> int:
    """The format that a file's header states, read without opening it (SQLite file format, section 1.3)."""
    if not path.is_file():
        return 0
    with path.open("rb") as file:
        header = file.read(100)
    return int.from_bytes(header[60:64]) if header.startswith(b"SQLite format 3\0") else 0


def _refuse_newer(path: Path, version: int) -> None:
    if version > NEWEST:
        raise StorageError(
            f"{path} was written by a newer version of Pivrel (its format is {version}, this one knows {NEWEST}); "
            "use that version, nothing was changed"
        )


def _give_back(db: Connection) -> None:
    """Gives empty pages back to the disk. Where somebody else writes just now, the next one does it."""
    try:
        # A script, which is stepped to its end: `execute` stops after the first page.
        db.executescript("PRAGMA incremental_vacuum")
    except sqlite3.OperationalError as error:
        if not isinstance(told(error, ""), BusyError):
            raise
