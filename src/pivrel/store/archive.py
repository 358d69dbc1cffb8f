"""A project as one file: a ZIP of its rows as JSON and of the bytes that they name."""

from __future__ import annotations

import hashlib
import json
import sqlite3
import zipfile
import zlib
from io import BytesIO
from typing import Any, Literal

from pydantic import Field, ValidationError

from pivrel.core.geometry.mesh import Mesh, MeshError, checked
from pivrel.materials.images import ImageError, checked_image
from pivrel.recipe import first_error
from pivrel.store import blobs, projects
from pivrel.store.bodies import BODIES, Body, ModelBody, ModelFacts
from pivrel.store.database import now

SUFFIX = ".pivrel"
MAX_BYTES = 2 << 30

BROKEN = (
    zipfile.BadZipFile, zipfile.LargeZipFile, zlib.error, KeyError, TypeError, ValueError, EOFError, OSError,
    NotImplementedError, OverflowError, RuntimeError,
)  # fmt: skip
"""What reading a broken ZIP, or arrays from one, may raise."""


class ArchiveError(ValueError):
    """A project file that cannot be opened; the message says why in one sentence."""


class DocumentRow(Body):
    """A document, or in the journal also a model."""

    kind: Literal["finish", "material", "pick_set", "view", "model"]
    key: str = Field(max_length=100)
    position: int
    body: dict[str, Any]

    def check(self) -> None:
        """ValidationError where the body is not what its kind says."""
        BODIES[self.kind].model_validate(self.body)

    def images(self) -> list[str]:
        """The hashes of the images that the body names."""
        if self.kind == "material":
            return list(self.body["images"].values())
        return [self.body["picture"]] if self.kind == "view" and self.body.get("picture") else []

    def models(self) -> list[ModelBody]:
        """The model that the body is."""
        return [ModelBody.model_validate(self.body)] if self.kind == "model" else []


class JournalRow(Body):
    """An edit; its changes as `journal` writes them."""

    seq: int
    label: str
    changes: list[dict[str, Any]]
    at: str

    def documents(self) -> list[DocumentRow]:
        """Every document that undoing or redoing the edit would write."""
        sides = [(c, c.get(side)) for c in self.changes for side in ("before", "after")]
        return [DocumentRow(kind=c["kind"], **side) for c, side in sides if side]


class ProjectFile(Body):
    """project.json."""

    pivrel: Literal[1]
    name: str = Field(min_length=1, max_length=200)
    mesh: str
    model: ModelFacts
    cursor: int
    documents: list[DocumentRow]
    journal: list[JournalRow]

    def every_document(self) -> list[DocumentRow]:
        """The documents as they are and as undo and redo would write them."""
        return self.documents + [d for row in self.journal for d in row.documents()]


def _images_of(rows: list[DocumentRow]) -> set[str]:
    return {sha256 for row in rows for sha256 in row.images()}


def _models_of(stated: ProjectFile) -> list[ModelBody]:
    """The model as it is, and those that undo and redo would bring back."""
    now_there = ModelBody(mesh=stated.mesh, model=stated.model)
    return [now_there, *(m for row in stated.every_document() for m in row.models())]


def _files_of(stated: ProjectFile) -> set[str]:
    return {sha256 for model in _models_of(stated) for sha256 in model.model.held}


def pack(db: sqlite3.Connection, project_id: int) -> bytes:
    """The file of a project, with its undo history."""
    project = projects.get(db, project_id)
    if project is None:
        raise KeyError(project_id)
    rows = db.execute("SELECT kind, key, position, body FROM document WHERE project_id = ?", (project_id,))
    documents = [DocumentRow(**{**dict(r), "body": json.loads(r["body"])}) for r in rows]
    rows = db.execute(
        "SELECT seq, label, changes, at FROM journal WHERE project_id = ? ORDER BY seq", (project_id,)
    )
    journal = [JournalRow(**{**dict(r), "changes": json.loads(r["changes"])}) for r in rows]
    stated = ProjectFile(
        pivrel=1, name=project.name, mesh=project.mesh, model=ModelFacts(**project.model), cursor=project.cursor,
        documents=documents, journal=journal,
    )  # fmt: skip
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("project.json", stated.model_dump_json())
        meshes = {model.mesh for model in _models_of(stated)}
        for sha256 in sorted(meshes | _files_of(stated) | _images_of(stated.every_document())):
            found = blobs.get(db, sha256)
            if found:
                packed = zipfile.ZIP_STORED if found[1].startswith("image/") else zipfile.ZIP_DEFLATED
                archive.writestr(f"blobs/{sha256}", found[0], packed)
    return out.getvalue()


def unpack(data: bytes) -> tuple[ProjectFile, Mesh, dict[str, bytes]]:
    """What a project file holds, all of it checked. ArchiveError where it cannot be trusted."""
    try:
        with zipfile.ZipFile(BytesIO(data)) as archive:
            if sum(entry.file_size for entry in archive.infolist()) > MAX_BYTES:
                raise ArchiveError("the project file claims more than 2 GB")
            stated = ProjectFile.model_validate_json(archive.read("project.json"))
            held = {
                n.removeprefix("blobs/"): archive.read(n)
                for n in archive.namelist()
                if n.startswith("blobs/")
            }
        rows = stated.every_document()
        for row in rows:
            row.check()
        _check_blobs(stated, rows, held)
        meshes = {m.mesh: checked(blobs.read_mesh(held[m.mesh])) for m in _models_of(stated)}
        return stated, meshes[stated.mesh], held
    except ValidationError as error:
        raise ArchiveError(f"project.json is not right at {first_error(error)}") from None
    except (MeshError, ImageError) as error:
        raise ArchiveError(str(error)) from None
    except ArchiveError:
        raise
    except BROKEN:
        raise ArchiveError("this is not a project file, or it is broken") from None


def _check_blobs(stated: ProjectFile, rows: list[DocumentRow], held: dict[str, bytes]) -> None:
    materials = {row.key for row in stated.documents if row.kind == "material"}
    for row in stated.documents:
        if row.kind == "finish" and row.body["material"] not in materials:
            raise ArchiveError(f"the finish {row.key} names a material that the file does not have")
    if any(row.kind == "model" for row in stated.documents):
        raise ArchiveError("project.json lists its model twice")
    images = _images_of(rows)
    for sha256 in images | {m.mesh for m in _models_of(stated)} | _files_of(stated):
        if sha256 not in held or hashlib.sha256(held[sha256]).hexdigest() != sha256:
            raise ArchiveError("the file lacks bytes that it names, or they were changed")
    for sha256 in images:
        checked_image(held[sha256], sha256[:12])


def add(db: sqlite3.Connection, data: bytes) -> int:
    """A new project from a project file; its id. ArchiveError where the file cannot be trusted."""
    stated, _, held = unpack(data)
    for sha256 in _images_of(stated.every_document()):
        image = checked_image(held[sha256], sha256[:12])
        blobs.put(db, image.data, image.mime)
    for sha256 in _files_of(stated):
        blobs.put(db, held[sha256], blobs.ORIGINAL_MIME)
    for model in _models_of(stated):
        blobs.put(db, held[model.mesh], blobs.MESH_MIME)
    project_id = projects.create(db, stated.name, stated.mesh, stated.model.model_dump())
    for model in _models_of(stated):
        projects.hold(db, project_id, model.mesh, model.model.model_dump())
    documents = [(project_id, d.kind, d.key, d.position, json.dumps(d.body)) for d in stated.documents]
    edits = [(project_id, e.seq, e.label, json.dumps(e.changes), e.at or now()) for e in stated.journal]
    try:
        db.executemany(
            "INSERT INTO document (project_id, kind, key, position, body) VALUES (?, ?, ?, ?, ?)", documents
        )
        db.executemany(
            "INSERT INTO journal (project_id, seq, label, changes, at) VALUES (?, ?, ?, ?, ?)", edits
        )
        db.execute("UPDATE project SET cursor = ? WHERE id = ?", (stated.cursor, project_id))
    except (sqlite3.Error, OverflowError):
        raise ArchiveError("project.json names something twice, or numbers that cannot be") from None
    return project_id
