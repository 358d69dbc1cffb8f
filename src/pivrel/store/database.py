"""The database file: opening it, bringing it up to date, one transaction at a time."""

from __future__ import annotations

import sqlite3
import threading
import time
from collections.abc import Iterator, Sequence
from contextlib import closing, contextmanager, nullcontext, suppress
from pathlib import Path

from pivrel.core.cache import BoundedCache
from pivrel.store import blobs, projects, uses
from pivrel.store.blobs import Blob
from pivrel.store.connection import Connection
from pivrel.store.errors import BUSY, EMPTY, FOREIGN, LACKS, BusyError, StorageError, told
from pivrel.store.migrating import NEWEST, migrate, tables, tables_of, version_of
from pivrel.store.reserve import Reserve

FILE = "pivrel.sqlite"
INCREMENTAL = 2
"""SQLite's number for a file that gives pages back when it is told to."""

LOG_BYTES = 64 << 20
"""What is left of the write-ahead log once its pages are in the file."""

CONTENTS = 40
"""Of so many states of projects the contents are kept."""

WAIT_S = 10.0
"""How long a writer waits for another; nothing is computed while anyone writes."""

PAGES = 500
"""How many empty pages are given back in a transaction."""

BETWEEN_S = 0.001
"""How long whoever writes piece by piece lets others come in between."""


class Database:
    """A data folder with one SQLite file in it. Any thread may ask; each keeps its own connection.

    StorageError where the folder or the file cannot be used.
    """

    def __init__(self, folder: Path) -> None:
        self.path = folder / FILE
        self.reserve = Reserve(folder / "pivrel.reserve")
        self._parsed, self._committed = BoundedCache(32 << 20), BoundedCache(CONTENTS)
        self._own = threading.local()
        self._open: list[Connection] = []
        self._opening, self._writing = threading.Lock(), threading.Lock()
        with self._telling():
            folder.mkdir(parents=True, exist_ok=True)
            _refuse_newer(self.path, _stated_version(self.path))
            if self.path.is_file() and not self.path.stat().st_size:
                raise StorageError(EMPTY.format(where=self.path))
            if self.path.is_file():
                self._refuse_foreign()
            else:
                self._begin()
            self.recovered_bytes = self._log_bytes if self.path.is_file() else 0
            self._bring_up_to_date()

    def _begin(self) -> None:
        """A new file, which takes its name when it is whole: one without anything is then no file of ours."""
        beginning = self.path.with_name(f"{FILE}.new")
        beginning.unlink(missing_ok=True)
        with closing(sqlite3.connect(beginning, isolation_level=None, factory=Connection)) as db:
            db.row_factory = sqlite3.Row
            db.execute(f"PRAGMA auto_vacuum = {INCREMENTAL}")
            db.execute("BEGIN IMMEDIATE")
            migrate(db)
            db.execute("COMMIT")
        beginning.replace(self.path)

    def _refuse_foreign(self) -> None:
        """StorageError for a database of another program, of which nothing is changed."""
        only_read = f"{self.path.absolute().as_uri()}?mode=ro"
        with closing(sqlite3.connect(only_read, uri=True, timeout=WAIT_S, factory=Connection)) as db:
            there, version = tables_of(db), version_of(db)
        if "project" not in there and (there or version):
            raise StorageError(FOREIGN.format(where=self.path))

    def _bring_up_to_date(self) -> None:
        db = self._connection()
        version = version_of(db)
        _refuse_newer(self.path, version)
        if version < NEWEST:
            if version:
                self.copy_to(self.path.with_name(f"pivrel-before-{NEWEST}.sqlite"))
            with self.transaction() as db:
                migrate(db)
        lost = sorted(tables() - tables_of(db))
        if lost:
            raise StorageError(LACKS.format(where=self.path, what=", ".join(lost)))
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
    def transaction(self, ahead: Sequence[Blob] = (), frees: bool = False) -> Iterator[Connection]:
        """A connection within one write transaction: all of it is kept, or nothing.

        Bytes that nothing refers to at its end are deleted, and their room is given back to the disk.
        ahead: long bytes that it will put. They are written before it, so that it is short and nobody waits for long.
        frees: whether it deletes. That needs some room too, which on a full disk the reserve has.
        """
        with self._telling(), self.reserve.given_up() if frees else nullcontext():
            db = self._connection()
            try:
                self._write_ahead(db, ahead)
                with self._alone(db):
                    db.written = {}
                    try:
                        yield db
                        freed = uses.collect(db)
                        carried = projects.carried_on(db)
                    finally:
                        db.written = None
            except BaseException:
                self._delete_pieces(db, [blob.sha256 for blob in ahead])
                raise
            for (project_id, pulse), contents in carried.items():
                projects.keep_contents(db, project_id, pulse, contents)
            self._delete_pieces(db, freed)
            if frees and self.reserve.is_short:
                # What was given back is in the log so far.
                with suppress(sqlite3.Error):
                    db.execute("PRAGMA wal_checkpoint(TRUNCATE)").fetchall()

    @contextmanager
    def _in_turn(self) -> Iterator[None]:
        """While no other thread writes. SQLite would let it ask again and again, in longer and longer pauses."""
        if not self._writing.acquire(timeout=WAIT_S):
            raise BusyError(BUSY.format(where=self.path))
        try:
            yield
        finally:
            self._writing.release()

    @contextmanager
    def _alone(self, db: Connection) -> Iterator[None]:
        """Within a write transaction, while nobody else writes."""
        with self._in_turn():
            db.execute("BEGIN IMMEDIATE")
            try:
                yield
                db.execute("COMMIT")
            except BaseException:
                if db.in_transaction:
                    db.execute("ROLLBACK")
                raise

    def _write_ahead(self, db: Connection, ahead: Sequence[Blob]) -> None:
        for blob in ahead:
            for number in blob.further:
                with self._alone(db):
                    blobs.put_piece(db, blob, number)
                time.sleep(BETWEEN_S)

    def _delete_pieces(self, db: Connection, hashes: Sequence[str]) -> None:
        """Deletes what is left of bytes that are not kept, and gives empty pages back to the disk.

        Some at a time, so that others come in between. What cannot be done now, the next start of a server does.
        """
        with suppress(sqlite3.Error, BusyError):
            for sha256 in hashes:
                while blobs.is_left(db, sha256):
                    with self._alone(db):
                        blobs.delete_piece(db, sha256)
                    time.sleep(BETWEEN_S)
            if hashes:
                self._give_back(db)

    def _give_back(self, db: Connection) -> None:
        empty = 0
        while empty != (empty := db.execute("PRAGMA freelist_count").fetchone()[0]):
            with self._in_turn():
                # A script, which is stepped to its end: `execute` stops after the first page.
                db.executescript(f"PRAGMA incremental_vacuum({PAGES})")
            time.sleep(BETWEEN_S)

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

    def sweep(self) -> int:
        """Deletes what writes that were cut off have left behind; how many files or meshes it was of."""
        with self._telling():
            db = self._connection()
            left = blobs.unkept(db)
            self._delete_pieces(db, left)
            return len(left)

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
