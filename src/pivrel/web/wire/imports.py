"""Importing a model, and the list of what a newer one changed."""

from __future__ import annotations

from typing import Annotated, get_args

from pydantic import Field

from pivrel.core.geometry.faults import Key
from pivrel.formats.units import Unit, Upward
from pivrel.jobs.process import State
from pivrel.project.revision import What
from pivrel.recipe import Triple
from pivrel.recipe.values import Name, Text
from pivrel.web.wire.base import MOST, Answer, Request, RevisionNumber


class ModelReading(Request):
    """How the numbers of a file are meant; what is left out is guessed.

    size_mm: about how large the largest side is, where that is known: the unit is then guessed by it.
    """

    unit: Unit | None = None
    up: Upward | None = None
    size_mm: Annotated[float, Field(gt=0, le=1e9)] | None = None


class Opening(ModelReading):
    """A project made of an import, with the faults mended that are named."""

    name: Name | None = None
    mend: Annotated[tuple[Text, ...], Field(max_length=100)] = ()

    @property
    def keys(self) -> list[Key]:
        """The faults to be mended, as far as they are known."""
        known: list[Key] = [key for key in get_args(Key) if key in self.mend]
        return known


class Revising(Opening):
    """Which import shall take the model's place, and the revision of the project that this is based on."""

    import_id: Annotated[int, Field(ge=0, le=MOST)]
    revision: RevisionNumber


class OpenedFormat(Answer):
    """A format that models come in. missing: what has to be installed before one of it can be read, in a sentence."""

    name: str
    missing: str | None


class FindingState(Answer):
    """A line of the check. mend: what can be done about it; None where nothing has to. shown: whether faces show it."""

    key: str
    count: int
    words: str
    then: str
    mend: str | None
    shown: bool


class ImportState(Answer):
    """An import on its way. error: why it failed."""

    state: State
    file: str
    doing: str
    share: float
    error: str | None = None


class CheckedModel(ImportState):
    """An import that is read, and what the check found once it is ready: until then findings are missing.

    exact: how many patches there are of each kind of exact surface. beside: what stands beside it in the picture.
    why: why unit and axis were guessed as they were. readings: by unit, the largest side, and what is as large.
    """

    unit: Unit
    up: Upward
    guessed: bool
    asks_unit: bool
    tolerance_mm: float | None
    found: list[str]
    findings: list[FindingState]
    exact: dict[str, int]
    storeys: list[str]
    beside: str | None
    why: str
    readings: dict[str, str]
    materials: int
    images: int
    uv_sets: int
    parts: int
    faces: int
    triangles: int
    size_mm: Triple


class RevisionItem(Answer):
    """Faces of one part with one fate when a newer model took the place of another.

    finish, was: those that cover them now and covered them before; None where they are bare. asks: whether so much
    of a finish is gone that the artist is asked. open: whether it still waits for an answer.
    """

    what: What
    part: str
    former: str | None
    finish: str | None
    was: str | None
    faces: int
    area_m2: float
    confidence: float
    asks: bool
    open: bool


class ItemFaces(Answer):
    """The faces of an item of the list."""

    faces: list[int]
