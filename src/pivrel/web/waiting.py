"""Imports between their upload and the project that is made of them."""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from pivrel.core.geometry.faults import mended
from pivrel.formats.imported import Imported
from pivrel.jobs.import_report import finding
from pivrel.jobs.model_import import ModelImport
from pivrel.project.computing import Computing
from pivrel.project.facts import model_facts
from pivrel.project.laid import mesh_bytes
from pivrel.recipe import changed
from pivrel.store import blobs
from pivrel.store.connection import Connection
from pivrel.store.documents import ModelFacts, SourceImageFile
from pivrel.store.meshes import mesh_data
from pivrel.web.wire.imports import ModelReading, Opening


class Waiting:
    """An import from its upload until a project is made of it. names: of its files; asked: when it last was."""

    def __init__(self, job: ModelImport, names: Sequence[str], computing: Computing) -> None:
        self.job, self.names = job, tuple(names)
        self._computing = computing
        self.asked = time.monotonic()

    @property
    def read(self) -> Imported:
        """The model as it was read; FormatError where the job failed."""
        return self._computing.get(
            "imports", str(self.job.folder), self.job.imported, lambda found: mesh_bytes(found.mesh)
        )

    def end(self) -> None:
        """Stops the job and lets go of all that it read."""
        self.job.stop()
        self._computing.forget("imports", str(self.job.folder))

    def imported(self, reading: ModelReading) -> Imported:
        """The model with its numbers read as asked."""
        return self.read.read_as(reading.unit, reading.up, reading.size_mm)

    def model(self, opening: Opening) -> tuple[Imported, ModelFacts]:
        """The model as it shall be opened, and what a project keeps of it."""
        imported = self.imported(opening)
        facts = model_facts(imported, self.job.model.name)
        told = [finding(f) for f in self.job.faults()]
        found = facts.found + [
            f"{f.words}: {'mended' if f.key in opening.keys else f.then}" for f in told if f.key != "unnamed"
        ]
        if opening.keys:
            with self._computing.imports:
                imported = replace(imported, mesh=mended(imported.mesh, opening.keys))
            counts = model_facts(imported, "")
            facts = changed(facts, parts=counts.parts, triangles=counts.triangles)
        return imported, changed(facts, found=found)

    def came(self, imported: Imported) -> Came:
        """The model and what it came as, to be kept. Where it is still as the job encoded it, it is not encoded again."""
        same = imported.mesh is self.read.mesh
        mesh = blobs.Blob.of(self.job.mesh_data if same else mesh_data(imported.mesh))
        files = {name: blobs.Blob.of(self.job.file(name)) for name in self.names}
        return Came(mesh, files, blobs.hashed(imported.images), imported.image_names)


@dataclass(frozen=True)
class Came:
    """A model's mesh, its files by name, and the images of its materials and their names, by hash."""

    mesh: blobs.Blob
    files: Mapping[str, blobs.Blob]
    images: Mapping[str, blobs.Blob]
    image_names: Mapping[str, str]

    @property
    def blobs(self) -> list[blobs.Blob]:
        return [self.mesh, *self.files.values(), *self.images.values()]

    def keep(self, db: Connection, facts: ModelFacts) -> ModelFacts:
        """Keeps the files and images; the facts with them noted."""
        images = [
            SourceImageFile(name=self.image_names.get(sha256, ""), sha256=blobs.put(db, image))
            for sha256, image in self.images.items()
        ]
        files = [blobs.put_original(db, name, blob) for name, blob in self.files.items()]
        return changed(facts, files=files, images=images)
