"""An independent count of the bytes that are kept: without the tables that count them."""

from __future__ import annotations

import re
import sqlite3

QUERIES = (
    "SELECT mesh || model FROM project",
    "SELECT body FROM document",
    "SELECT body FROM forgotten",
    "SELECT changes FROM journal",
    "SELECT body FROM library_material",
)


def named_and_kept(db: sqlite3.Connection) -> tuple[set[str], set[str]]:
    """Every hash that any row says, and every hash of which there are bytes."""
    texts = [row[0] for query in QUERIES for row in db.execute(query)]
    kept = {row[0] for row in db.execute("SELECT sha256 FROM blob UNION SELECT sha256 FROM piece")}
    return set(re.findall(r"[0-9a-f]{64}", " ".join(texts))), kept
