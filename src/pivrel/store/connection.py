"""A connection to the database file, with the documents that were read through it and its neighbours."""

from __future__ import annotations

import sqlite3
from typing import Any

from pivrel.core.cache import BoundedCache

Pulse = tuple[int, int]
"""The revision of a project, and the count of changes beside its result: one of them moves with each write."""


class Connection(sqlite3.Connection):
    """One thread's connection.

    parsed: documents by their text, and committed: contents by project and pulse; shared by all connections of a
    database. written: of each project that the open write transaction changes its pulse before, and the changes, which
    may never be committed; None while nobody writes.
    """

    parsed: BoundedCache
    committed: BoundedCache
    written: dict[int, tuple[Pulse, list[Any]]] | None = None
