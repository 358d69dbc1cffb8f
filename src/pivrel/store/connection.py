"""A connection to the database file, with the documents that were read through it and its neighbours."""

from __future__ import annotations

import sqlite3

from pivrel.core.cache import BoundedCache


class Connection(sqlite3.Connection):
    """One thread's connection. parsed: documents by their text, shared by all connections of a database."""

    parsed: BoundedCache
