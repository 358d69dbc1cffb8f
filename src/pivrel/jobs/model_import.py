"""Reading a model as a job: what is asked, what is told when it cannot be done, and what came of it."""

from __future__ import annotations

import json
import os
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import cast

import numpy as np

from pivrel.core.geometry.faults import Fault, Key
from pivrel.formats.bundle import FormatError
from pivrel.formats.imported import Imported
from pivrel.jobs import memory
from pivrel.jobs.process import Job
from pivrel.materials.images import Image
from pivrel.store.meshes import read_mesh

LONGEST_S = 60 * float(os.environ.get("PIVREL_IMPORT_MINUTES", "20"))
"""What takes longer is broken, or made to take for ever."""

MODEL = "model"
"""What can be read before the check is over, as the job names it."""


@dataclass(frozen=True)
class ModelFile:
    """What shall be read, and how."""

    name: str
    unit: str | None = None
    up: str | None = None
    tolerance_mm: float | None = None
    check: bool = True


class ModelImport(Job):
    """A model being read, and checked."""

    kind = "import"

    def __init__(self, model: ModelFile, files: Mapping[str, bytes] | Path) -> None:
        """Starts to read; files: by their names, or the folder where they lie. OSError where there is no room."""
        self.model, self.longest_s = model, LONGEST_S
        super().__init__(vars(model), files)

    def needed(self) -> int:
        self._size = (self._source / self.model.name).stat().st_size
        return memory.needed(self.model.name, self._size)

    def too_large(self, need: int, free: int) -> str:
        return (
            f"the file has {memory.in_words(self._size)}, and reading it may take {memory.in_words(need)} of "
            f"memory; this machine has {memory.in_words(free)} free"
        )

    def took_memory(self, taken: int) -> str:
        return f"reading the file has taken {memory.in_words(taken)} of memory, and this machine has no more"

    def took_long(self) -> str:
        return (
            f"reading the file has taken more than {self.longest_s / 60:g} minutes, so it was ended; the "
            "environment's PIVREL_IMPORT_MINUTES allows more"
        )

    def broke(self) -> str:
        return "the file is broken in a way that stopped its reader; export it anew"

    @property
    def mesh_data(self) -> bytes:
        """The mesh as it was read, encoded as it is kept."""
        return (self.folder / "mesh.npz").read_bytes()

    @property
    def is_read(self) -> bool:
        """Whether the model can be had, be it checked or not."""
        return self.state == "ready" or (self.state == "working" and MODEL in self.made)

    def imported(self) -> Imported:
        """What was read. FormatError where the job failed."""
        if not self.is_read:
            raise FormatError(self.error or "the import was stopped")
        facts = json.loads((self.folder / "facts.json").read_text())
        images = {
            sha256: Image((self.folder / "images" / sha256).read_bytes(), mime)
            for sha256, mime in facts["images"].items()
        }
        stated = {**facts, "found": tuple(facts["found"]), "images": images}
        return Imported(read_mesh(self.mesh_data), **stated)

    def faults(self) -> list[Fault]:
        """What the check found. FormatError where the job failed, or is not over."""
        if self.state != "ready":
            raise FormatError(self.error or "the model is still being checked")
        with np.load(self.folder / "faults.npz", allow_pickle=False) as held:
            return [
                Fault(cast(Key, key), int(held[key][0]), held[key][1:].astype(np.int32)) for key in held.files
            ]
