"""The small pictures of projects, each kept for the revision that it shows and the code that drew it."""

from __future__ import annotations

from pivrel.store.connection import Connection
from pivrel.store.made_from import PICTURES, code_of


def get(db: Connection, project_id: int, revision: int) -> bytes | None:
    """JPEG bytes, or None where this code has drawn none of this revision."""
    row = db.execute(
        "SELECT data FROM project_picture WHERE project_id = ? AND revision = ? AND drawn_by = ?",
        (project_id, revision, code_of(PICTURES)),
    ).fetchone()
    return bytes(row["data"]) if row else None


def put(db: Connection, project_id: int, revision: int, data: bytes) -> None:
    """Keeps a picture in the place of an older one."""
    db.execute(
        "INSERT INTO project_picture (project_id, revision, data, drawn_by) VALUES (?, ?, ?, ?) "
        "ON CONFLICT (project_id) DO UPDATE "
        "SET revision = excluded.revision, data = excluded.data, drawn_by = excluded.drawn_by",
        (project_id, revision, data, code_of(PICTURES)),
    )
