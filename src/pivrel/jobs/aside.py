"""Work on a large model of a project in a process of its own: whoever edits meanwhile does not wait for it."""

from __future__ import annotations

import pickle
import threading
from pathlib import Path
from typing import Literal

from pivrel.core.geometry.surface import Surface
from pivrel.errors import InputError
from pivrel.jobs import memory
from pivrel.jobs.baking import LONGEST_S, MESH
from pivrel.jobs.process import Job
from pivrel.store.meshes import read_mesh

LARGE = 50_000
"""Triangles from which the work is worth a process; of fewer it is done before one has begun."""

AT_ONCE = 4

ASKED = "asked.pickle"


class Aside(Job):
    """Trials, or files being written. asked: what the kind's module takes; pickled, for nobody else to read."""

    turns = threading.BoundedSemaphore(AT_ONCE)

    def __init__(self, kind: Literal["trials", "files"], asked: object, mesh: bytes, takes: int) -> None:
        """Begins; mesh: as it is kept, takes: the bytes of memory for each of its own. OSError where there is no room."""
        self.kind, self.longest_s, self._takes = kind, LONGEST_S, takes
        super().__init__({}, {ASKED: pickle.dumps(asked), MESH: mesh})

    def needed(self) -> int:
        return memory.OWN + self._takes * (self._source / MESH).stat().st_size

    def too_large(self, need: int, free: int) -> str:
        return (
            f"this may take {memory.in_words(need)} of memory, and this machine has {memory.in_words(free)} free: "
            "close other programs, and try again"
        )

    def took_memory(self, taken: int) -> str:
        return f"this has taken {memory.in_words(taken)} of memory, and this machine has no more"

    def took_long(self) -> str:
        return f"this has taken more than {self.longest_s / 60:g} minutes, so it was ended"

    def broke(self) -> str:
        return "the work was ended by something outside of Pivrel; try again"

    def done(self) -> Path:
        """The folder of the results. InputError where there are none."""
        if self.state != "ready":
            raise InputError(self.error or "the work was stopped")
        return self.folder


def given(request: dict[str, str]) -> tuple[object, Surface]:
    """What a job was asked, and the model, in the job's own process."""
    source = Path(request["folder"])
    return pickle.loads((source / ASKED).read_bytes()), Surface(read_mesh((source / MESH).read_bytes()))
