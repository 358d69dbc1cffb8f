"""What is done with the data folder as a whole: checked, copied, made smaller, and everything written out."""

from __future__ import annotations

import json
import re
import zipfile
from collections.abc import Iterator
from pathlib import Path

from pydantic import ValidationError

from pivrel.formats.laid import safe_file_name
from pivrel.formats.material_files import write_material
from pivrel.recipe import first_error
from pivrel.store import archive, blobs, projects
from pivrel.store.connection import Connection
from pivrel.store.database import Database
from pivrel.store.documents import body_of
from pivrel.store.errors import LostBytesError

HASH = re.compile(r"[0-9a-f]{64}")


def faults(database: Database) -> Iterator[str]:
    """What is wrong with the data, one sentence each; nothing is changed."""
    with database.reading() as db:
        for row in db.execute("PRAGMA integrity_check"):
            if row[0] != "ok":
                yield f"the file is damaged: {row[0]}"
        for row in db.execute("PRAGMA foreign_key_check"):
            yield f"a row of {row[0]} refers to a row of {row[2]} that is not there"
        yield from _lost_bytes(db)
        yield from _wrong_documents(db)


def _lost_bytes(db: Connection) -> Iterator[str]:
    """Bytes that were changed, and bytes that rows name and that are missing."""
    there = set()
    for (sha256,) in db.execute("SELECT sha256 FROM blob").fetchall():
        there.add(sha256)
        try:
            blobs.find(db, sha256)
        except LostBytesError:
            users = db.execute("SELECT DISTINCT used_by FROM blob_use WHERE sha256 = ?", (sha256,))
            yield f"bytes {sha256[:12]} were changed; used by {', '.join(r[0] for r in users) or 'nothing'}"
    for query, owner in (
        ("SELECT 'project ' || name, mesh || model FROM project", "the model of {}"),
        ("SELECT project_id || ': ' || kind || ' ' || key, body FROM document WHERE kind != 'finish'", "project {}"),
        ("SELECT project_id || ': ' || kind || ' ' || key, body FROM forgotten", "what was forgotten in project {}"),
        ("SELECT project_id || ', edit ' || seq, changes FROM journal", "the undo history of project {}"),
        ("SELECT key, body FROM library_material", "the material {} of the library"),
    ):  # fmt: skip
        for name, text in db.execute(query):
            # In a pick a run of 64 such letters may be chance: only what is quoted is a hash.
            named = set(re.findall(r'"([0-9a-f]{64})"', text)) | set(HASH.findall(text[:64]))
            for sha256 in sorted(named - there):
                yield f"bytes {sha256[:12]} are missing; named by {owner.format(name)}"


def _wrong_documents(db: Connection) -> Iterator[str]:
    for row in db.execute("SELECT project_id, kind, key, body FROM document"):
        try:
            body_of(row["kind"], json.loads(row["body"]))
        except ValidationError as error:
            yield f"{row['kind']} {row['key']} of project {row['project_id']} is not right: {first_error(error)}"


def write_everything(database: Database, target: Path) -> tuple[int, int]:
    """One ZIP with every project as a project file and every material of the library; how many of each."""
    waiting = target.with_name(target.name + ".part")
    try:
        with database.reading() as db, zipfile.ZipFile(waiting, "w", zipfile.ZIP_STORED) as out:
            every, library = projects.get_all(db), projects.library(db)
            for project in every:
                name = f"projects/{project.id}_{safe_file_name(project.name)}{archive.SUFFIX}"
                out.writestr(name, archive.pack(db, project.id))
            for key, document in library.items():
                images = blobs.get_images(db, document.body.images)
                out.writestr(f"materials/{safe_file_name(key)}.zip", write_material(document.fields, images))
        waiting.replace(target)
    finally:
        waiting.unlink(missing_ok=True)
    return len(every), len(library)
