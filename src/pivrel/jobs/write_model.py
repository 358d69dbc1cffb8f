"""The work of a hand-over of a large model. The job's folder takes one file: the model's own, or a ZIP."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pivrel.core.cache import KeepAll
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import Finish
from pivrel.core.schedule import Schedule
from pivrel.formats.convention import Convention
from pivrel.formats.laid import AxisLooks, LaidModel, Look, lay_model
from pivrel.formats.registry import writable
from pivrel.formats.zipping import zipped
from pivrel.jobs.aside import Aside, given
from pivrel.jobs.line import Line
from pivrel.materials.images import Image

WRITTEN = "written"


@dataclass(frozen=True)
class Target:
    """What shall be written. kind: the format's suffix without its point. stem: of the files' names."""

    kind: str
    stem: str
    convention: Convention

    @property
    def alone(self) -> bool:
        """Whether it is one file, and no ZIP."""
        return self.kind == "glb"

    @property
    def takes(self) -> int:
        """Bytes of memory for each of the mesh as it is kept: measured at 4 M triangles, 26 for a GLB and 51 for an OBJ."""
        return 32 if self.alone else 60

    def written(self, model: LaidModel) -> bytes:
        """The file of a laid model."""
        files = writable(f".{self.kind}").write(model, self.stem, self.convention)
        return files[f"{self.stem}.glb"] if self.alone else zipped(files)


@dataclass(frozen=True)
class Writing:
    """What is asked: finishes by their codes, how each looks, and the images of the model's own materials."""

    target: Target
    finishes: Mapping[str, Finish]
    looks: Sequence[AxisLooks]
    images: Mapping[str, Image]
    image_names: Mapping[str, str]


def prepare(surface: Surface, finish: Finish) -> None:
    """Writes something small, so that all that this takes is loaded."""
    schedule = Schedule(surface, "prepared", {"F1": finish}, KeepAll())
    Target("glb", "prepared", Convention.of("mm", "z")).written(
        lay_model(schedule, [(Look(), Look(), Look())])
    )


def work(folder: Path, request: dict[str, Any], line: Line) -> None:
    """Lays everything and writes it."""
    line.tell("laying", 0.0)
    asked, surface = given(request)
    assert isinstance(asked, Writing)
    schedule = Schedule(surface, "model", dict(asked.finishes), KeepAll())
    model = lay_model(schedule, asked.looks, asked.images, asked.image_names)
    line.tell("writing", 0.0)
    (folder / WRITTEN).write_bytes(asked.target.written(model))


def written_by(job: Aside) -> Path:
    """The file that was written. InputError where the job failed."""
    return job.done() / WRITTEN
