"""The small pictures of projects, each kept for the revision that it shows."""

from __future__ import annotations

from pivrel.store.connection import Connection


def get(db: Connection, project_id: int, revision: int) -> bytes | None:
    """JPEG bytes, or None where none was drawn of this revision."""
    row = db.execute(
        "SELECT data FROM project_picture WHERE project_id = ? AND revision = ?", (project_id, revision)
    ).fetchone()
    return bytes(row["data"]) if row else None


def put(db: Connection, project_id: int, revision: int, data: bytes) -> None:
    """Keeps a picture in the place of an older one."""
    db.execute(
        "INSERT INTO project_picture (project_id, revision, data) VALUES (?, ?, ?) "
        "ON CONFLICT (project_id) DO UPDATE SET revision = excluded.revision, data = excluded.data",
        (project_id, revision, data),
    )
