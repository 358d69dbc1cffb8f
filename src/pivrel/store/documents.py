"""The documents of a project: what is kept of each kind, checked as it is read."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Annotated, Any, Generic, Literal, TypeVar

import numpy as np
from pydantic import BaseModel, Field

from pivrel.core.arrays import Floats
from pivrel.core.plain_text import PRINTABLE
from pivrel.formats.units import Unit, Upward
from pivrel.materials.channels import Channel
from pivrel.recipe import FinishModel, JointsModel, Number, Pair, PickModel, Triple
from pivrel.recipe.coats import CoatModel
from pivrel.recipe.finishes import MOST_COATS
from pivrel.recipe.materials import Area
from pivrel.recipe.values import Degrees, Name, Strict, Text
from pivrel.store.connection import Connection
from pivrel.store.stored import stored

Tag = Annotated[str, Field(min_length=1, max_length=40, pattern=PRINTABLE)]

Hash = Annotated[str, Field(max_length=64, pattern="^[0-9a-f]{64}$")]
"""Of bytes, by SHA-256."""

Sentence = Annotated[str, Field(max_length=100_000)]

FileName = Annotated[str, Field(max_length=4096, pattern=PRINTABLE)]

Count = Annotated[int, Field(ge=0, le=1 << 53)]


class Body(BaseModel):
    """What a document says. Unknown keys and numbers that are not finite are errors."""

    model_config = Strict.model_config


class MaterialBody(Body):
    """A material as a project keeps it."""

    name: Name
    repeat_mm: Pair
    grain_deg: Degrees | None
    metallic: Number
    images: Annotated[dict[Channel, Hash], Field(max_length=20)]
    joints: JointsModel | None = None
    half_turns: bool = False
    mirrors: bool = False
    avoid_mm: Annotated[tuple[Area, ...], Field(max_length=200)] = ()
    normal_y: Literal["+", "-"] = "+"
    tags: Annotated[list[Tag], Field(max_length=100)] = []
    estimated: bool = False
    """Whether its size was read off a model's coordinates and nobody has confirmed it."""


class LibraryBody(MaterialBody):
    """A material of the library. own: whether the artist brought it. use: what it is for, in a word.

    made_from: the code that made it, of one that comes with Pivrel.
    """

    use: Tag | Literal[""] = ""
    own: bool = False
    made_from: Text | None = None

    def for_project(self) -> MaterialBody:
        """The material as a project takes it."""
        return MaterialBody.model_validate({name: getattr(self, name) for name in MaterialBody.model_fields})


class CoatSetBody(Body):
    """Coats with a name of their own. low_mm: the lower corner of the box about the faces that they lay on."""

    coats: Annotated[tuple[CoatModel, ...], Field(max_length=MOST_COATS)]
    low_mm: Triple


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


class LightBody(Body):
    """The light of a view. sun_deg: where the sun stands, counter-clockwise from the model's x axis; up_deg: how high."""

    sun_deg: Annotated[Number, Field(ge=0, lt=360)]
    up_deg: Annotated[Number, Field(ge=5, le=85)]
    overcast: bool = False


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
    light: LightBody | None = None
    picture: Hash | None = None


class OriginalFile(Body):
    """A file as it came in."""

    name: FileName
    sha256: Hash
    bytes: Count


class SourceImageFile(Body):
    """An image that the model brought for its own materials."""

    name: FileName
    sha256: Hash


class ModelFacts(Body):
    """What a project keeps of its model beside the mesh."""

    file: FileName
    unit: Unit
    up: Upward
    found: Annotated[list[Sentence], Field(max_length=100_000)]
    parts: Count
    triangles: Count
    files: Annotated[list[OriginalFile], Field(max_length=100_000)] = []
    images: Annotated[list[SourceImageFile], Field(max_length=100_000)] = []
    tolerance_mm: Number | None = None
    note: Sentence | None = None
    revision: Hash | None = None
    """The hash of the list of what this model changed, where it took another's place."""
    answered: Annotated[list[Count], Field(max_length=1_000_000)] = []
    """Questions of that list that the artist has settled."""
    shift_mm: Triple | None = None
    """How far the model was put from where its file has it."""
    placed: bool = False
    """Whether the artist changed how the file's numbers are read; a newer file is then read alike."""


class ModelBody(Body):
    """A project's model; the journal keeps the one before."""

    mesh: Hash
    model: ModelFacts


B = TypeVar("B", bound=BaseModel, covariant=True)
C = TypeVar("C", bound=BaseModel)

Kind = Literal["finish", "material", "pick_set", "view", "model"]


@dataclass(frozen=True)
class Unread:
    """What of a document this version does not take, in words, and the whole as it is kept: reading loses nothing."""

    words: str
    fields: Mapping[str, Any]


@dataclass(frozen=True)
class Document(Generic[B]):
    """One document of a project. position: its place among those of its kind.

    unread: where this version does not take all of it, until its body is changed.
    """

    key: str
    position: int
    body: B
    unread: Unread | None = None

    def with_body(self, body: C) -> Document[C]:
        """The document, saying something else."""
        return Document(self.key, self.position, body)

    @cached_property
    def fields(self) -> dict[str, Any]:
        """The body as JSON has it."""
        return dict(self.unread.fields) if self.unread else self.body.model_dump(mode="json", by_alias=True)

    @cached_property
    def text(self) -> str:
        """The body as JSON text."""
        return json.dumps(self.fields)


@dataclass(frozen=True)
class Change:
    """One document before and after an edit; None where it does not exist."""

    kind: str
    key: str
    before: Document[Any] | None
    after: Document[Any] | None


@dataclass
class Contents:
    """All documents of a project, each kind in its order."""

    finishes: dict[str, Document[FinishModel]] = field(default_factory=dict)
    materials: dict[str, Document[MaterialBody]] = field(default_factory=dict)
    pick_sets: dict[str, Document[PickSetBody]] = field(default_factory=dict)
    views: dict[str, Document[ViewBody]] = field(default_factory=dict)

    def of(self, kind: str) -> dict[str, Document[Any]]:
        """The documents of one kind by key."""
        found: dict[str, Document[Any]] = getattr(self, DOCUMENTS[kind].held_as)
        return found

    def unread(self, key: str) -> str:
        """What of a finish, or of a material of its, this version does not take, in words; empty where it takes all."""
        finish = self.finishes[key]
        named = (finish, *(self.materials[name] for name in finish.body.material_ids))
        return next((document.unread.words for document in named if document.unread), "")

    def with_changes(self, changes: Iterable[Change]) -> Contents:
        """The contents after changes of the journal, each kind in order; those of the model are passed."""
        out = self.copied()
        unsorted = set()
        for change in changes:
            if change.kind not in DOCUMENTS:
                continue
            held, after = out.of(change.kind), change.after
            was = held.get(change.key)
            if after is None:
                held.pop(change.key, None)
                continue
            if was is None or was.position != after.position:
                unsorted.add(change.kind)
            held[change.key] = after
        for kind in unsorted:
            held = out.of(kind)
            ordered = sorted(held.items(), key=lambda item: (item[1].position, item[0]))
            held.clear()
            held.update(ordered)
        return out

    def copied(self) -> Contents:
        """Contents that can be changed without touching these."""
        return Contents(dict(self.finishes), dict(self.materials), dict(self.pick_sets), dict(self.views))


@dataclass(frozen=True)
class DocumentKind:
    """A kind of document. held_as: where `Contents` holds it. prefix: what its keys begin with, if it numbers them.

    aside: whether it changes nothing of the result, so that undo does not touch it. word: as an artist calls it. needed:
    what stands for fields that a body must have, where those that are kept cannot be read.
    """

    body: type[BaseModel]
    held_as: str
    prefix: str = ""
    aside: bool = False
    word: str = ""
    needed: Mapping[str, Any] = field(default_factory=dict)


DOCUMENTS: Mapping[str, DocumentKind] = {
    "finish": DocumentKind(
        FinishModel,
        "finishes",
        "F",
        word="finish",
        needed={"name": "finish", "material": "?", "pick": {"faces": []}, "projection": {"kind": "box"}},
    ),
    "material": DocumentKind(
        MaterialBody,
        "materials",
        word="material",
        needed={
            "name": "material",
            "repeat_mm": [1000, 1000],
            "grain_deg": None,
            "metallic": 0,
            "images": {},
        },
    ),
    "pick_set": DocumentKind(
        PickSetBody,
        "pick_sets",
        "P",
        aside=True,
        word="pick",
        needed={"name": "pick", "pick": {"faces": []}},
    ),
    "view": DocumentKind(
        ViewBody,
        "views",
        "V",
        aside=True,
        word="view",
        needed={
            "name": "view",
            "position_mm": [0, -10_000, 5000],
            "target_mm": [0, 0, 0],
            "up": [0, 0, 1],
            "height_mm": None,
        },
    ),
}
"""Every kind of document, in the order in which changes are written."""


def body_of(kind: str, fields: Mapping[str, Any]) -> BaseModel:
    """A body from its JSON, checked. ValidationError where it is not what its kind says."""
    model = ModelBody if kind == "model" else DOCUMENTS[kind].body
    return model.model_validate(fields)


def read_document(db: Connection, kind: str, key: str, position: int, text: str) -> Document[Any]:
    """A stored document; the same object as long as its row stays the same, for picks can be long."""

    def make() -> Document[Any]:
        document = stored_document(kind, key, position, json.loads(text))
        # What is stored stays as it is stored, whatever it leaves to defaults.
        document.__dict__["text"] = text
        return document

    return db.parsed.get((kind, key, position, text), make, _bytes_of)


def stored_document(kind: str, key: str, position: int, fields: Mapping[str, Any]) -> Document[Any]:
    """A document from the database, as `stored` reads it."""
    if kind == "model":
        return Document(key, position, stored(ModelBody, fields)[0])
    body, words = stored(DOCUMENTS[kind].body, fields, DOCUMENTS[kind].needed)
    return Document(key, position, body, Unread(words, fields) if words else None)


def remember_document(db: Connection, kind: str, document: Document[Any]) -> None:
    """Spares a document that was just written from being read and checked again."""
    db.parsed.get((kind, document.key, document.position, document.text), lambda: document, _bytes_of)


def _bytes_of(document: Document[Any]) -> int:
    return 8 * len(document.text) + 4000
