"""The database file: opening it, bringing it up to date, one transaction at a time."""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from importlib import resources
from pathlib import Path


class Database:
    """A data folder with one SQLite file in it. Any thread may ask; each keeps its own connection."""

    def __init__(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self.path = folder / "pivrel.sqlite"
        self._own = threading.local()
        with self.transaction() as db:
            migrate(db)

    def _connection(self) -> sqlite3.Connection:
        if hasattr(self._own, "db"):
            held: sqlite3.Connection = self._own.db
            return held
        db = self._own.db = sqlite3.connect(self.path, timeout=30, isolation_level=None)
        db.row_factory = sqlite3.Row
        # FULL: what was confirmed survives a power cut too, for one fsync an edit.
        for pragma in ("journal_mode = WAL", "foreign_keys = ON", "synchronous = FULL"):
            db.execute(f"PRAGMA {pragma}")
        return db

    @contextmanager
    def transaction(self) -> Iterator[sqlite3.Connection]:
        """A connection within one write transaction: all of it is kept, or nothing."""
        db = self._connection()
        db.execute("BEGIN IMMEDIATE")
        try:
            yield db
            db.execute("COMMIT")
        except BaseException:
            if db.in_transaction:
                db.execute("ROLLBACK")
            raise

    @contextmanager
    def reading(self) -> Iterator[sqlite3.Connection]:
        """A connection that sees one state throughout."""
        db = self._connection()
        db.execute("BEGIN")
        try:
            yield db
        finally:
            db.execute("ROLLBACK")


def migrate(db: sqlite3.Connection) -> None:
    """Runs the numbered scripts that this file has not seen yet, within the caller's transaction."""
    version = db.execute("PRAGMA user_version").fetchone()[0]
    folder = resources.files("pivrel.store") / "migrations"
    for script in sorted(folder.iterdir(), key=lambda f: f.name):
        number = int(script.name.split("_")[0])
        if number > version:
            # executescript would commit first, so the statements run one by one.
            for statement in _statements(script.read_text()):
                db.execute(statement)
            db.execute(f"PRAGMA user_version = {number}")


def _statements(script: str) -> Iterator[str]:
    statement = ""
    for line in script.splitlines():
        if not line.lstrip().startswith("--"):
            statement += line + "\n"
        if sqlite3.complete_statement(statement):
            yield statement
            statement = ""


def now() -> str:
    """The time as it is stored: UTC, to the second."""
    return datetime.now(UTC).isoformat(timespec="seconds")
