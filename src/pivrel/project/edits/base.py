"""What every edit is: what was asked, and what it makes of a project."""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import ClassVar

from pivrel.core.geometry.surface import Surface
from pivrel.core.projection import BEST, Aim
from pivrel.errors import InputError
from pivrel.materials.images import Image
from pivrel.project.computing import Computing
from pivrel.project.laid import LaidProject, fit_of
from pivrel.recipe import DatumModel, FinishModel, ProjectionModel, Strict, changed
from pivrel.recipe.values import Keys
from pivrel.store.blobs import Blob
from pivrel.store.connection import Connection
from pivrel.store.documents import Contents, Document, MaterialBody, ModelFacts
from pivrel.store.projects import Library, Project


class EditError(InputError):
    """An edit that cannot be carried out; the message says why in one sentence."""


@dataclass(frozen=True)
class Before:
    """What an edit is worked out on: a project as it is, laid, and the library. Nothing of it is changed.

    read_library, read_images: read what few edits need.
    """

    project: Project
    laid: LaidProject
    read_library: Callable[[], Library]
    read_images: Callable[[], Mapping[str, Image]]

    @property
    def contents(self) -> Contents:
        """The documents as they are."""
        return self.laid.contents

    @property
    def surface(self) -> Surface:
        """The model."""
        return self.laid.surface

    @property
    def computing(self) -> Computing:
        """Whose turn it is to compute."""
        return self.laid.computing

    @cached_property
    def library(self) -> Library:
        """The materials of the library."""
        return self.read_library()

    def finish(self, key: str) -> Document[FinishModel]:
        """A finish by its code, or EditError."""
        if key not in self.contents.finishes:
            raise EditError(f"the schedule has no finish {key}")
        return self.contents.finishes[key]

    def material(self, key: str) -> Document[MaterialBody]:
        """A material of the project, or EditError."""
        if key not in self.contents.materials:
            raise EditError(f"the project does not use the material {key!r}")
        return self.contents.materials[key]

    def known_face(self, face: int) -> int:
        """The face, or EditError where the model has none of this number."""
        if not 0 <= face < self.surface.mesh.face_count:
            raise EditError(f"face {face} does not exist")
        return face

    def fitted(self, stated: FinishModel, aim: Aim = BEST) -> DatumModel | None:
        """The datum fitted to the pick and projection of a finish, towards an aim; None where it measures from none."""
        if not stated.projection.core.has_datum:
            return None
        return DatumModel.of(fit_of(self.computing, self.surface, stated, aim).datum)


@dataclass(frozen=True)
class NewModel:
    """A model in the place of the one before: the mesh as it is kept, or None where it stays, and its facts."""

    mesh: Blob | None
    facts: ModelFacts


@dataclass(frozen=True)
class Done:
    """What an edit makes of a project. label: for undo. said: what the artist should know of it.

    model: another model in the place of the one before. images: to be kept with it.
    """

    contents: Contents
    label: str
    said: str | None = None
    model: NewModel | None = None
    images: Sequence[Image] = field(default=())


class Edit(Strict):
    """An edit of the result, with an inverse in the journal. `kind` names it on the wire."""

    @abstractmethod
    def done(self, before: Before) -> Done:
        """What it makes of a project. EditError, or another InputError, where it cannot be carried out."""


class FinishEdit(Edit):
    """An edit that changes one or several finishes alike, each by itself. what: the change in a word, for undo."""

    what: ClassVar[str]
    finishes: Keys

    def prepared(self, before: Before) -> Contents:
        """The contents with what the change needs beside the finishes."""
        return before.contents

    @abstractmethod
    def fields(self, stated: FinishModel, contents: Contents, before: Before) -> Fields:
        """The fields of one finish that change, by their names in `FinishModel`; contents: from `prepared`."""

    def done(self, before: Before) -> Done:
        """Every finish with its changed fields, each checked once; a datum that is missing is fitted."""
        out = self.prepared(before).copied()
        for key in self.finishes:
            document = before.finish(key)
            fields = self.fields(document.body, out, before)
            stated = document.body.model_copy(update=dict(fields))
            if stated.datum is None and stated.datum_for == "pick":
                fields = {**fields, "datum": before.fitted(fresh(stated))}
            out.finishes[key] = document.with_body(changed(document.body, **fields))
        count = len(self.finishes)
        who = out.finishes[self.finishes[0]].body.name if count == 1 else f"{count} finishes"
        return Done(out, f"{self.what} of {who}")


Fields = Mapping[str, object]
"""Fields of a finish, by their names in `FinishModel`."""


class AsideEdit(Strict):
    """A change of what is kept beside the result, which undo does not touch: views and picks by a name."""

    @abstractmethod
    def carry_out(self, db: Connection, project_id: int) -> None:
        """Carries it out within a transaction."""


def unfitted(stated: FinishModel, **fields: object) -> FinishModel:
    """The finish with other fields, and without its datum."""
    return fresh(stated.model_copy(update={**fields, "datum": None, "datum_for": "pick"}))


def fresh(stated: FinishModel) -> FinishModel:
    """The finish without what was worked out of the one that it was copied from."""
    stated.__dict__.pop("core_pick", None)
    return stated


def with_material(contents: Contents, before: Before, key: str) -> Contents:
    """The contents with a material of the library taken into the project, where it is not yet."""
    if key in contents.materials:
        return contents
    if key not in before.library:
        raise EditError(f"there is no material {key!r}")
    out = contents.copied()
    out.materials[key] = Document(key, len(out.materials), before.library[key].body.for_project())
    return out


def with_axis_materials(contents: Contents, before: Before, projection: ProjectionModel) -> Contents:
    """The contents with the materials taken in that a projection has for its axes."""
    for key in projection.axis_materials:
        if key is not None:
            contents = with_material(contents, before, key)
    return contents


def appended(contents: Contents, stated: FinishModel) -> str:
    """Adds a finish at the end of the schedule, and returns its new code; changes what it is given."""
    key = f"F{max((int(key[1:]) for key in contents.finishes), default=0) + 1}"
    position = max((d.position for d in contents.finishes.values()), default=0) + 1
    contents.finishes[key] = Document(key, position, stated)
    return key


def free_name(contents: Contents, name: str) -> str:
    """The name, with a number where a finish has it already."""
    taken = {d.body.name for d in contents.finishes.values()}
    count, free = 2, name
    while free in taken:
        free, count = f"{name} {count}", count + 1
    return free


PLACEMENT = (
    "projection", "datum", "datum_for", "turn_deg", "grain_deg", "offset_mm", "scale", "tile", "grain", "run_on",
    "variation",
)  # fmt: skip


def placement_of(stated: FinishModel) -> Fields:
    """Projection, datum and how the sheet lies: what a finish takes from another when its placement is copied."""
    return {name: getattr(stated, name) for name in PLACEMENT}


def plain_turn(degrees: float) -> float:
    """The same turn from -180 (not included) to 180, without noise."""
    return round(-((-degrees + 180) % 360 - 180), 9) + 0.0


def regrained(stated: FinishModel, contents: Contents, to: str) -> Fields:
    """The fields of a finish with another material, turned so that the grain runs on the face as it did."""
    was, now = (contents.materials[key].body.grain_deg or 0.0 for key in (stated.material, to))
    if stated.grain_deg is not None or (stated.grain is not None and stated.grain.along != "sheet"):
        return {"material": to}
    return {"material": to, "turn_deg": plain_turn((stated.turn_deg or 0.0) + was - now)}


def resized(
    old: tuple[float, float], new: tuple[float | None, float | None], linked: bool
) -> tuple[float, float]:
    """Width and height with the typed ones set; linked, a single typed side takes the other along."""
    width, height = new
    if linked and (width is None) != (height is None):
        factor = width / old[0] if width is not None else (height or 0.0) / old[1]
        return old[0] * factor, old[1] * factor
    return merged(old, new)


def merged(old: tuple[float, float], new: tuple[float | None, float | None]) -> tuple[float, float]:
    """A pair of numbers with the new ones set."""
    return (old[0] if new[0] is None else new[0]), (old[1] if new[1] is None else new[1])
