"""Importing a model: reading it aside, the check, and a project made of it."""

from __future__ import annotations

import itertools
import sqlite3
import threading
import time
from collections.abc import Sequence
from pathlib import PurePosixPath
from typing import Annotated, Any, Literal, get_args

import numpy as np
from flask import Blueprint, Response, abort, current_app, jsonify, request
from pydantic import BaseModel, ConfigDict, Field

from pivrel.caching import Recent
from pivrel.computing import COMPUTING
from pivrel.core.geometry.faults import Fault, Key, mended
from pivrel.core.geometry.mesh import Mesh
from pivrel.core.geometry.surface import Surface
from pivrel.formats import MM, READABLE, FormatError, Imported, suffix_of
from pivrel.formats.guessing import readings
from pivrel.importing.job import Asked, Job
from pivrel.importing.picture import beside, draw_check
from pivrel.importing.report import finding
from pivrel.laid_project import mesh_bytes
from pivrel.project_looks import mean_color
from pivrel.store import archive, blobs, projects
from pivrel.web.context import database, rounded
from pivrel.web.projects import model_facts, uploaded

bp = Blueprint("imports", __name__)

KEPT_S = 12 * 3600
"""How long an import is kept that nobody asks for; whoever leaves a page open for longer has to open the file again."""

READ = Recent(1 << 30)
"""What imports have read; read again from their folders where there is no room."""

Unit = Literal["mm", "cm", "m", "in", "ft"]
Up = Literal["y", "z"]


class Reading(BaseModel):
    """How the numbers of a file are meant; what is left out is guessed."""

    model_config = ConfigDict(extra="forbid")
    unit: Unit | None = None
    up: Up | None = None
    size_mm: Annotated[float, Field(gt=0, le=1e9)] | None = None
    """About how large the largest side is, where that is known: the unit is then guessed by it."""


class Opening(Reading):
    """A project made of an import, with the faults mended that are named."""

    name: Annotated[str, Field(min_length=1, max_length=200)] | None = None
    mend: list[str] = []

    @property
    def keys(self) -> list[Key]:
        known: list[Key] = [key for key in get_args(Key) if key in self.mend]
        return known


class Waiting:
    """An import from its upload until a project is made of it. names: of its files; asked: when it last was."""

    def __init__(self, job: Job, names: Sequence[str]) -> None:
        self.job, self.names = job, tuple(names)
        self.asked = time.monotonic()

    @property
    def read(self) -> tuple[Imported, list[Fault]]:
        """The model and its faults; FormatError where the job failed."""
        return READ.get(str(self.job.folder), self.job.result, lambda found: mesh_bytes(found[0].mesh))

    def end(self) -> None:
        """Stops the job and lets go of all that it read."""
        self.job.stop()
        READ.forget(str(self.job.folder))

    def imported(self, reading: Reading) -> Imported:
        """The model with its numbers read as asked."""
        return self.read[0].read_as(reading.unit, reading.up, reading.size_mm)

    def model(self, opening: Opening) -> tuple[Imported, dict[str, Any]]:
        """The model as it shall be opened, and what a project keeps of it."""
        imported = self.imported(opening)
        facts = model_facts(imported, self.job.asked.name)
        told = [finding(f) for f in self.read[1]]
        facts["found"] += [
            f"{f.words}: {'mended' if f.key in opening.keys else f.then}" for f in told if f.key != "unnamed"
        ]
        if opening.keys:
            with COMPUTING:
                mesh = mended(imported.mesh, opening.keys)
            imported = Imported(**{**vars(imported), "mesh": mesh})
            facts |= {k: model_facts(imported, "")[k] for k in ("parts", "triangles")}
        return imported, facts


class Imports:
    """The imports under way, by number."""

    def __init__(self) -> None:
        self._numbers = itertools.count(1)
        self._held: dict[int, Waiting] = {}
        self._lock = threading.Lock()

    def add(self, waiting: Waiting) -> int:
        with self._lock:
            number = next(self._numbers)
            self._held[number] = waiting
            late = waiting.asked - KEPT_S
            gone = [self._held.pop(n) for n in [n for n, w in self._held.items() if w.asked < late]]
        for old in gone:
            old.end()
        return number

    def get(self, number: int) -> Waiting:
        found = self._held.get(number)
        if found is None:
            abort(404, "this import is over; open the file again")
        found.asked = time.monotonic()
        return found

    def drop(self, number: int) -> None:
        with self._lock:
            found = self._held.pop(number, None)
        if found:
            found.end()


def keep_files(db: sqlite3.Connection, waiting: Waiting, imported: Imported, facts: dict[str, Any]) -> None:
    """Keeps the files of an import as they came, and the images of its materials, and notes both in the facts."""
    facts["files"] = [blobs.put_original(db, name, waiting.job.file(name)) for name in waiting.names]
    facts["images"] = [
        {"name": imported.image_names.get(sha256, ""), "sha256": blobs.put(db, image.data)}
        for sha256, image in imported.images.items()
    ]


def imports() -> Imports:
    """The application's imports."""
    found: Imports = current_app.extensions["pivrel.imports"]
    return found


def _model_name(named: dict[str, bytes]) -> str:
    """The one model among the files. FormatError where there is none, or more."""
    models = [name for name in named if suffix_of(name) in READABLE]
    if not models:
        kinds = ", ".join(sorted({suffix_of(n) or n for n in named})) or "nothing"
        raise FormatError(
            f"there is no model among the files ({kinds}); Pivrel opens {', '.join((*READABLE, archive.SUFFIX))}"
        )
    if len(models) > 1:
        raise FormatError(
            f"there are {len(models)} models among the files ({', '.join(models[:3])}); open one at a time"
        )
    return models[0]


@bp.post("/imports")
def start() -> tuple[Response, int]:
    """Begins to read an uploaded model with the files beside it."""
    named = uploaded()
    name = _model_name(named)
    tolerance = request.form.get("tolerance_mm", type=float)
    if tolerance is not None and not 1e-4 <= tolerance <= 1e4:
        raise FormatError("the tolerance must be between 0.0001 and 10,000 mm")
    job = Job(Asked(name, tolerance_mm=tolerance), named)
    return jsonify({"id": imports().add(Waiting(job, list(named)))}), 202


@bp.get("/imports/<int:number>")
def progress(number: int) -> dict[str, Any]:
    """How far an import is; when it is ready, what the check found, read as the query asks."""
    waiting = imports().get(number)
    job = waiting.job
    told = {"state": job.state, "file": job.asked.name, "doing": job.doing, "share": job.share}
    if job.state == "failed":
        return {**told, "error": f"{job.asked.name}: {job.error}"}
    if job.state != "ready":
        return told
    reading = Reading.model_validate(request.args.to_dict())
    imported = waiting.imported(reading)
    mesh = imported.mesh
    size = np.ptp(mesh.bounds(), axis=0)
    thing = beside(float(size.max()))
    return {
        **told,
        **model_facts(imported, job.asked.name),
        "guessed": imported.guessed,
        "asks_unit": imported.asks,
        "faces": mesh.face_count,
        "size_mm": rounded(size, 3),
        "beside": thing.words if thing else None,
        "why": imported.why,
        "readings": readings(float(size.max()) / MM[imported.unit]),
        **source_counts(mesh, len(imported.images)),
        "findings": [finding(fault).as_json() for fault in waiting.read[1]],
        "exact": _exact_kinds(mesh.exact),
        "storeys": list(dict.fromkeys(s for s in mesh.part_storeys if s)),
    }


def source_counts(mesh: Mesh, images: int) -> dict[str, int]:
    """How many materials, images and UV sets a model brings."""
    return {"materials": len(mesh.sources), "images": images, "uv_sets": len(mesh.uv_sets)}


def _exact_kinds(exact: Any) -> dict[str, int]:
    kinds = [surface.kind for surface in exact]
    return {kind: kinds.count(kind) for kind in dict.fromkeys(kinds)}


@bp.get("/imports/<int:number>/picture.jpg")
def picture(number: int) -> Response:
    """The model from its front left, with the faces of one fault marked."""
    waiting = imports().get(number)
    asked = request.args.to_dict()
    marked = asked.pop("fault", None)
    imported = waiting.imported(Reading.model_validate(asked))
    faces = next((f.faces for f in waiting.read[1] if f.key == marked), np.empty(0, np.int32))
    with COMPUTING:
        colors = np.array([mean_color(s, imported.images) for s in imported.mesh.sources]).reshape(-1, 3)
        return Response(draw_check(Surface(imported.mesh), faces, colors), mimetype="image/jpeg")


@bp.post("/imports/<int:number>/project")
def make_project(number: int) -> tuple[Response, int]:
    """A project of an import; the files are kept as they came."""
    opening = Opening.model_validate(request.get_json())
    waiting = imports().get(number)
    imported, facts = waiting.model(opening)
    data = blobs.mesh_data(imported.mesh)
    with database().transaction() as db:
        keep_files(db, waiting, imported, facts)
        mesh = blobs.put(db, data)
        stem = PurePosixPath(waiting.job.asked.name).stem
        project_id = projects.create(db, opening.name or stem, mesh, facts)
    imports().drop(number)
    return jsonify({"id": project_id}), 201


@bp.delete("/imports/<int:number>")
def stop(number: int) -> tuple[str, int]:
    """Stops an import; nothing of it is kept."""
    imports().drop(number)
    return "", 204
