"""A project as one file: a ZIP of its rows as JSON and of the bytes that they name."""

from __future__ import annotations

import json
import re
import sqlite3
import zipfile
import zlib
from collections import Counter
from dataclasses import dataclass
from io import BytesIO
from typing import IO, Annotated, Any, Literal

from pydantic import Field, ValidationError, model_validator

from pivrel.bounded_json import MOST_VALUES, JsonError, read_json, text_of, values_in
from pivrel.core.geometry.mesh import MeshError, checked, within_reach
from pivrel.errors import InputError
from pivrel.formats.bundle import FormatError
from pivrel.formats.unzipping import MAX_ENTRIES, NotZipError, Unzipped, unzipping
from pivrel.materials.images import ImageError, check_kept
from pivrel.recipe import first_error
from pivrel.recipe.values import Name
from pivrel.store import blobs, journal, projects, uses
from pivrel.store.blobs import Blob
from pivrel.store.connection import Connection
from pivrel.store.documents import (
    DOCUMENTS,
    Body,
    Count,
    Document,
    Hash,
    ModelBody,
    ModelFacts,
    Sentence,
    body_of,
)
from pivrel.store.meshes import read_mesh
from pivrel.store.times import now

SUFFIX = ".pivrel"

MANIFEST, EDITS, BLOBS = "project.json", "journal/", "blobs/"
"""What the entries are called."""

MAX_JSON, LEAST_JSON = 16 << 20, 64 << 20
"""Bytes of one text, and of all of them where what they are about is small."""

BROKEN = (
    zipfile.BadZipFile, zipfile.LargeZipFile, zlib.error, KeyError, TypeError, ValueError, EOFError, OSError,
    NotImplementedError, OverflowError, RuntimeError, AttributeError,
)  # fmt: skip
"""What reading a broken ZIP, or arrays from one, may raise."""


KindOfRow = Literal["finish", "material", "pick_set", "view", "model"]

DocumentKey = Annotated[str, Field(max_length=100, pattern="^[A-Za-z0-9_-]+$")]
"""Those of finishes, picks and views are a letter and a number; those of materials are made of their names."""


def _check_key(kind: str, key: str) -> None:
    """ValueError for a key that no document of its kind has."""
    prefix = DOCUMENTS[kind].prefix if kind in DOCUMENTS else ""
    if prefix and not re.fullmatch(f"{prefix}[0-9]{{1,9}}", key):
        raise ValueError(f"{key!r} is no key of a {DOCUMENTS[kind].word}")


Position = Annotated[int, Field(ge=-(1 << 53), le=1 << 53)]

Fields = Annotated[dict[str, Any], Field(max_length=1000)]
"""Of a body; what its kind says of them is checked then."""


class ArchiveError(InputError):
    """A project file that cannot be opened; the message says why in one sentence."""


class DocumentRow(Body):
    """A document, or in the journal also a model."""

    kind: KindOfRow
    key: DocumentKey
    position: Position
    body: Fields

    @model_validator(mode="after")
    def _right_key(self) -> DocumentRow:
        _check_key(self.kind, self.key)
        return self

    def check(self) -> None:
        """ValidationError where the body is not what its kind says."""
        body_of(self.kind, self.body)

    def document(self) -> Document[Any]:
        """The document, checked; ValidationError where its body is not what its kind says."""
        return Document(self.key, self.position, body_of(self.kind, self.body))

    def images(self) -> list[str]:
        """The hashes of the images that the body names."""
        return list(uses.of_body(self.kind, self.body)) if self.kind != "model" else []

    def models(self) -> list[ModelBody]:
        """The model that the body is."""
        return [ModelBody.model_validate(self.body)] if self.kind == "model" else []


class Side(Body):
    """A document before or after an edit: its body, or the fields of it that the edit changes."""

    key: DocumentKey
    position: Position
    body: Fields


class ChangeRow(Body):
    """A change of an edit, as `journal.stated` has it."""

    kind: KindOfRow
    key: DocumentKey
    before: Side | None
    after: Side | None
    partial: bool = False

    @model_validator(mode="after")
    def _right_keys(self) -> ChangeRow:
        for key in (self.key, *(side.key for side in (self.before, self.after) if side)):
            _check_key(self.kind, key)
        return self


class JournalRow(Body):
    """An edit."""

    seq: Count
    label: Sentence
    changes: Annotated[list[ChangeRow], Field(max_length=1_000_000)]
    at: Annotated[str, Field(max_length=40, pattern="^[0-9T:.+Z-]*$")]

    @property
    def stated(self) -> list[dict[str, Any]]:
        """The changes as `journal` keeps them."""
        return [change.model_dump(exclude_defaults=True, mode="json") for change in self.changes]


class ProjectFile(Body):
    """project.json. Files of version 1 have the journal in it; later ones a file for each edit."""

    pivrel: Literal[1, 2]
    name: Name
    mesh: Hash
    model: ModelFacts
    cursor: Count
    documents: Annotated[list[DocumentRow], Field(max_length=1_000_000)]
    journal: Annotated[list[JournalRow], Field(max_length=MAX_ENTRIES)] = Field(default_factory=list)

    def every_document(self) -> list[DocumentRow]:
        """The documents as they are and as undo and redo would write them, one after the other."""
        out = list(self.documents)
        back = sorted((row for row in self.journal if row.seq <= self.cursor), key=lambda row: -row.seq)
        on = sorted((row for row in self.journal if row.seq > self.cursor), key=lambda row: row.seq)
        steps: tuple[tuple[list[JournalRow], journal.Side], ...] = ((back, "before"), (on, "after"))
        for rows, side in steps:
            there = {(d.kind, d.key): d.document() for d in self.documents}
            for change in (change for row in rows for change in row.stated):
                name = change["kind"], change["key"]
                document = journal.side_of(change, side, there.get(name))
                if document is None:
                    there.pop(name, None)
                    continue
                there[name] = document
                out.append(
                    DocumentRow(
                        kind=name[0], key=document.key, position=document.position, body=document.fields
                    )
                )
        return out


def _models_of(stated: ProjectFile, rows: list[DocumentRow]) -> list[ModelBody]:
    """The model as it is, and those that undo and redo would bring back."""
    now_there = ModelBody(mesh=stated.mesh, model=stated.model)
    return [now_there, *(m for row in rows for m in row.models())]


def pack(db: Connection, project_id: int) -> bytes:
    """The file of a project, with its undo history. LostBytesError where something of it is missing."""
    project = projects.get(db, project_id)
    if project is None:
        raise KeyError(project_id)
    rows = db.execute("SELECT kind, key, position, body FROM document WHERE project_id = ?", (project_id,))
    documents = [DocumentRow(**{**dict(r), "body": json.loads(r["body"])}) for r in rows]
    stated = ProjectFile(
        pivrel=2, name=project.name, mesh=project.mesh, model=project.model, cursor=project.cursor,
        documents=documents,
    )  # fmt: skip
    out = BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(MANIFEST, stated.model_dump_json(exclude={"journal"}))
        for row in db.execute("SELECT * FROM journal WHERE project_id = ? ORDER BY seq", (project_id,)):
            stated_row = {"seq": row["seq"], "label": row["label"], "at": row["at"]}
            text = json.dumps({**stated_row, "changes": json.loads(row["changes"])})
            archive.writestr(f"{EDITS}{row['seq']}.json", text)
        for sha256 in uses.of_project(db, project_id):
            data = blobs.get(db, sha256)
            packed = zipfile.ZIP_STORED if blobs.as_image(data) else zipfile.ZIP_DEFLATED
            archive.writestr(f"{BLOBS}{sha256}", data, packed)
    return out.getvalue()


@dataclass(frozen=True)
class Unpacked:
    """What a project file holds, checked."""

    stated: ProjectFile
    blobs: list[Blob]


def unpack(file: IO[bytes]) -> Unpacked:
    """What a project file holds, all of it checked. ArchiveError where it cannot be trusted."""
    try:
        with unzipping(file) as archive:
            stated = _stated(archive)
            names = (name for name in archive.sizes if name.startswith(BLOBS))
            held = {name.removeprefix(BLOBS): Blob.of(archive.read(name)) for name in names}
        rows = stated.every_document()
        for row in rows:
            row.check()
        models = _models_of(stated, rows)
        _check_blobs(stated, rows, models, held)
        for sha256 in {model.mesh for model in models}:
            within_reach(checked(read_mesh(held[sha256].data)))
        return Unpacked(stated, list(held.values()))
    except ValidationError as error:
        raise ArchiveError(f"project.json is not right at {first_error(error)}") from None
    except NotZipError:
        raise ArchiveError("this is not a project file, or it is broken") from None
    except (MeshError, ImageError, FormatError, JsonError) as error:
        raise ArchiveError(str(error)) from None
    except ArchiveError:
        raise
    except BROKEN:
        raise ArchiveError("this is not a project file, or it is broken") from None


def _stated(archive: Unzipped) -> ProjectFile:
    """What the JSON of a project file says, which is read within bounds for all of it together."""
    texts = [MANIFEST, *(name for name in archive.sizes if name.startswith(EDITS))]
    if MANIFEST not in archive.sizes:
        raise ArchiveError("this is not a project file, or it is broken")
    packed = sum(archive.sizes.values())
    size, most = sum(archive.sizes[name] for name in texts), max(LEAST_JSON, packed // 4)
    large = max(texts, key=archive.sizes.__getitem__)
    if archive.sizes[large] > MAX_JSON:
        raise ArchiveError(
            f"{large} has {archive.sizes[large] / 1e6:.0f} MB; more than {MAX_JSON >> 20} MB are not read"
        )
    if size > most:
        raise ArchiveError(
            f"its edits have {size / 1e6:,.0f} MB; with so few other bytes more than {most >> 20} MB are not read"
        )
    left = MOST_VALUES
    read: list[Any] = []
    for name in texts:
        text = text_of(bytes(archive.read(name)))
        left -= values_in(text)
        if left < 0:
            raise ArchiveError(f"its JSON holds more than {MOST_VALUES:,} values")
        read.append(read_json(text))
    stated = ProjectFile.model_validate(read[0])
    stated.journal.extend(JournalRow.model_validate(row) for row in read[1:])
    return stated


def _check_blobs(
    stated: ProjectFile, rows: list[DocumentRow], models: list[ModelBody], held: dict[str, Blob]
) -> None:
    materials = {row.key for row in stated.documents if row.kind == "material"}
    for row in stated.documents:
        if row.kind == "finish" and row.body["material"] not in materials:
            raise ArchiveError(f"the finish {row.key} names a material that the file does not have")
    if any(row.kind == "model" for row in stated.documents):
        raise ArchiveError("project.json lists its model twice")
    images = {sha256 for row in rows for sha256 in row.images()}
    for sha256 in images.union(*(uses.of_model(m.mesh, m.model.model_dump()) for m in models)):
        if sha256 not in held or held[sha256].sha256 != sha256:
            raise ArchiveError("the file lacks bytes that it names, or they were changed")
    for sha256 in images:
        check_kept(bytes(held[sha256].data), sha256[:12])


def add(db: Connection, unpacked: Unpacked) -> int:
    """A new project from what a project file holds; its id. ArchiveError where its rows contradict each other."""
    stated = unpacked.stated
    for blob in unpacked.blobs:
        blobs.put(db, blob)
    try:
        project_id = projects.create(db, stated.name, stated.mesh, stated.model)
        twice = Counter((d.kind, d.key) for d in stated.documents).most_common(1)
        if twice and twice[0][1] > 1:
            raise ArchiveError("project.json names a document twice")
        for d in stated.documents:
            projects.put_document(db, project_id, d.kind, d.document())
        for row in stated.journal:
            journal.put_row(db, project_id, row.seq, row.label, row.stated, row.at or now())
        db.execute("UPDATE project SET cursor = ? WHERE id = ?", (stated.cursor, project_id))
    except (sqlite3.IntegrityError, OverflowError):
        raise ArchiveError("project.json names something twice, or numbers that cannot be") from None
    return project_id
