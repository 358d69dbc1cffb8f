"""A connection to the database file, with the documents that were read through it and its neighbours."""

from __future__ import annotations

import sqlite3

from pivrel.core.cache import BoundedCache
from pivrel.store.committed import Committed, Written


class Connection(sqlite3.Connection):
    """One thread's connection.

    parsed: documents by their text, and committed: contents of projects; shared by all connections of a database.
    written: what the open write transaction has written, which may never be committed; None while nothing is written.
    """

    parsed: BoundedCache
    committed: Committed
    written: Written | None = None
