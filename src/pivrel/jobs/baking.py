"""Baking as a job: planned first, and baked once the plan was seen. What is asked, and what is told when it cannot be."""

from __future__ import annotations

import json
import os
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Literal

from pivrel.errors import InputError
from pivrel.formats.baking.asked import Asked
from pivrel.formats.convention import Convention
from pivrel.jobs import memory
from pivrel.jobs.process import Job

LONGEST_S = 60 * float(os.environ.get("PIVREL_BAKE_MINUTES", "120"))
"""What takes longer is ended."""

BYTES_A_PIXEL = 72
"""Of one image while it is baked, as measured; one image is baked at a time."""

PLAN, OUT, DONE = "plan.json", "out", "done.json"
RECIPE, MESH, SOURCES = "recipe.json", "mesh.npz", "sources.json"


@dataclass(frozen=True)
class BakeRequest:
    """What shall be baked. stem: of the files' names. kind: the format's suffix without its point."""

    asked: Asked
    stem: str
    convention: Convention
    kind: str = "glb"

    def stated(self) -> dict[str, object]:
        """The same as JSON holds it."""
        return {
            "asked": asdict(self.asked), "stem": self.stem, "convention": asdict(self.convention), "suffix": self.kind
        }  # fmt: skip


@dataclass(frozen=True)
class Planned:
    """What a plan told. images: width and height of each in pixels. finishes: the names of those that are baked."""

    images: tuple[tuple[int, int], ...]
    pieces: int
    filled: float
    true_share: float
    least_px_per_m: float
    greatest_px_per_m: float
    finishes: tuple[str, ...]


class Baking(Job):
    """A recipe and a mesh being planned, or baked by their plan."""

    def __init__(
        self, kind: Literal["plan", "bake"], request: BakeRequest, files: Mapping[str, bytes] | Path
    ) -> None:
        """files: recipe, its images, mesh and sources, or the folder where they lie. OSError where there is no room."""
        self.kind, self.longest_s, self.request = kind, LONGEST_S, request
        super().__init__(request.stated(), files)

    @property
    def source(self) -> Path:
        """The folder of what it was made from."""
        return self._source

    def needed(self) -> int:
        mesh = (self._source / MESH).stat().st_size
        images = BYTES_A_PIXEL * self.request.asked.size**2 if self.kind == "bake" else 0
        return memory.OWN + 12 * mesh + images

    def too_large(self, need: int, free: int) -> str:
        return (
            f"baking images of {self.request.asked.size:,} px may take {memory.in_words(need)} of memory; this machine "
            f"has {memory.in_words(free)} free: ask for smaller images"
        )

    def took_memory(self, taken: int) -> str:
        return f"the bake has taken {memory.in_words(taken)} of memory, and this machine has no more: ask for smaller images"

    def took_long(self) -> str:
        return (
            f"the bake has taken more than {self.longest_s / 60:g} minutes, so it was ended; the environment's "
            "PIVREL_BAKE_MINUTES allows more"
        )

    def broke(self) -> str:
        return "the bake was ended by something outside of Pivrel; begin it anew"

    def planned(self) -> Planned:
        """What the plan told. InputError where there is none."""
        self._check()
        told = json.loads((self.folder / PLAN).read_text())
        told["images"] = tuple((width, height) for width, height in told["images"])
        told["finishes"] = tuple(told["finishes"])
        return Planned(**told)

    def result(self) -> dict[str, bytes]:
        """The files by name, the model's own first. InputError where there are none."""
        return {name: (self.folder / OUT / name).read_bytes() for name in self._done()["files"]}

    def notes(self) -> tuple[str, ...]:
        """What is to be said of the files. InputError where there are none."""
        return tuple(self._done()["notes"])

    def _done(self) -> dict[str, list[str]]:
        self._check()
        told: dict[str, list[str]] = json.loads((self.folder / DONE).read_text())
        return told

    def _check(self) -> None:
        if self.state != "ready":
            raise InputError(self.error or "the bake is not done")
