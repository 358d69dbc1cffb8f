"""The bodies of documents: what a project keeps of each kind, checked."""

from __future__ import annotations

from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from pivrel.core.arrays import Floats
from pivrel.materials.channels import Channel
from pivrel.recipe import FinishModel, JointsModel, Number, Pair, PickModel, Triple

Name = Annotated[str, Field(min_length=1, max_length=200)]


class Body(BaseModel):
    """Unknown keys and numbers that are not finite are errors."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class MaterialBody(Body):
    """A material as a project keeps it."""

    name: str
    repeat_mm: Pair
    grain_deg: float | None
    metallic: float
    images: dict[Channel, str]
    joints: JointsModel | None = None
    half_turns: bool = False
    mirrors: bool = False
    normal_y: Literal["+", "-"] = "+"
    tags: list[str] = []
    estimated: bool = False
    """Whether its size was read off a model's coordinates and nobody has confirmed it."""


class PickSetBody(Body):
    """A pick with a name."""

    name: Name
    pick: PickModel


class ClipBody(Body):
    """A plane that cuts the model open: what lies towards the axis' plus (or minus) side is not drawn."""

    axis: Literal["x", "y", "z"]
    at_mm: Number
    flipped: bool = False

    def plane(self) -> Floats:
        """(4,) n and d: places p with n @ p > d are not drawn."""
        sign = -1.0 if self.flipped else 1.0
        return sign * np.array([*(float(self.axis == axis) for axis in "xyz"), self.at_mm])


class ViewBody(Body):
    """A saved view. height_mm: what a parallel view shows from bottom to top; None in perspective.

    picture: the hash of a small JPEG.
    """

    name: Name
    position_mm: Triple
    target_mm: Triple
    up: Triple
    height_mm: Annotated[Number, Field(gt=0)] | None
    clip: ClipBody | None = None
    picture: str | None = None


class OriginalFile(Body):
    """A file as it came in."""

    name: str
    sha256: str
    bytes: int


class SourceImageFile(Body):
    """An image that the model brought for its own materials."""

    name: str
    sha256: str


class ModelFacts(Body):
    """What a project keeps of its model beside the mesh."""

    file: str
    unit: Literal["mm", "cm", "m", "in", "ft"]
    up: Literal["y", "z"]
    found: list[str]
    parts: int
    triangles: int
    files: list[OriginalFile] = []
    images: list[SourceImageFile] = []
    tolerance_mm: float | None = None
    revision: str | None = None
    """The hash of the list of what this model changed, where it took another's place."""
    answered: list[int] = []
    """Questions of that list that the artist has settled."""
    shift_mm: Triple | None = None
    """How far the model was put from where its file has it."""
    placed: bool = False
    """Whether the artist changed how the file's numbers are read; a newer file is then read alike."""


class ModelBody(Body):
    """A project's model; the journal keeps the one before."""

    mesh: str
    model: ModelFacts


BODIES: dict[str, type[BaseModel]] = {
    "finish": FinishModel,
    "material": MaterialBody,
    "pick_set": PickSetBody,
    "view": ViewBody,
    "model": ModelBody,
}
