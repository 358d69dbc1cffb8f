"""A project as the browser sees it: everything but the arrays. Lengths in mm, areas in m²."""

from __future__ import annotations

from typing import Literal

from pivrel.core.laying.finish import DatumFor
from pivrel.core.sheet.tie import TieBy
from pivrel.formats.units import Unit, Upward
from pivrel.recipe import DatumModel, GrainModel, Pair, PickModel, ProjectionModel, Triple, VariationModel
from pivrel.recipe.coats import CoatModel, HexColor, SpreadModel
from pivrel.recipe.finishes import TieModel
from pivrel.recipe.sheets_over import CellsModel
from pivrel.recipe.values import Name
from pivrel.store.documents import MaterialBody, ViewBody
from pivrel.web.wire.base import Answer, Request
from pivrel.web.wire.coats import OverState

Wrap = Literal["repeat", "clamp", "mirror"]


class SourceTexture(Answer):
    """An image that the model brought for a channel; offset, scale and turn as in KHR_texture_transform."""

    image: str
    uv_set: int
    wrap: tuple[Wrap, Wrap]
    offset: Pair
    scale: Pair
    turn: float
    factor: float


class SourceMaterial(Answer):
    """A material that the model brought; colors are linear."""

    name: str
    rgba: tuple[float, float, float, float]
    metallic: float | None
    roughness: float | None
    emissive: Triple
    alpha: Literal["opaque", "mask", "blend"]
    cutoff: float
    textures: dict[str, SourceTexture]


class KeptFile(Answer):
    """A file of the model, as it came in."""

    name: str
    bytes: int


class ModelState(Answer):
    """The model. revised: whether it took the place of an older one. shift_mm: how far the artist put it.

    exact, elements, storeys: what its file states, for picking by it. note: what to try with it, in a demo.
    """

    file: str
    unit: Unit
    up: Upward
    found: list[str]
    files: list[KeptFile]
    tolerance_mm: float | None
    placed: bool
    mesh: str
    faces: int
    triangles: int
    parts: int
    bounds_mm: tuple[Triple, Triple]
    view_origin_mm: Triple
    checker_mm: float
    area_m2: float
    revised: bool
    exact: bool
    elements: bool
    storeys: bool
    sources: list[SourceMaterial]
    uv_sets: int
    shift_mm: Triple
    note: str | None


class MaterialState(MaterialBody):
    """A material of the project."""

    key: str


class AdjustmentState(Answer):
    """How some faces of a finish lie otherwise; words: which."""

    words: str
    turn_deg: float
    offset_mm: Pair
    mirrored: bool
    size: float


class TonedState(Answer):
    """Faces of a finish that look otherwise than the rest; words: which."""

    pick: PickModel
    words: str
    tint: HexColor | None
    lightness: float
    roughness: float
    bump: float


class FinishState(Answer):
    """A row of the schedule.

    pick_words: the pick in words; it stays on the server, for it may name a hundred thousand faces. datum: None
    where each part or board has its own. one_sheet: whether one turn and one offset serve all of its faces.
    faces: those that it is laid on, under a single sheet too. held: whether its pick holds any face at all, covered
    by later rows or not. failed: whether nothing of it can be laid; troubles: why that is, or why some
    of its faces lie bare. on: false where the row is switched off. area_m2: what shows of it. over: the sheets of its coats
    and of their masks. tones_key: of the tones of its faces, None where they have one. lines_key: of the lines that masks
    are near to, None where there are none.
    """

    key: str
    name: str
    material: str
    pick_words: str
    projection: ProjectionModel
    datum: DatumModel | None
    datum_for: DatumFor
    grain: GrainModel
    run_on: bool
    variation: VariationModel | None
    adjust: list[AdjustmentState]
    tie: tuple[TieModel, ...]
    tie_by: TieBy
    one_sheet: bool
    turn_deg: float
    grain_deg: float | None
    offset_mm: Pair
    scale: Pair
    tile: bool
    repeat_mm: Pair
    faces: int
    held: bool
    failed: bool
    troubles: str
    area_m2: float
    laying_key: str
    raw_key: str | None
    on: bool
    tint: HexColor | None
    lightness: float
    roughness: float
    bump: float
    toned: list[TonedState]
    tones_key: str | None
    spread: SpreadModel | None
    cells: CellsModel | None
    coats: tuple[CoatModel, ...]
    over: tuple[OverState, ...]
    lines_key: str | None


class PickSetState(Answer):
    """A pick with a name."""

    key: str
    name: str
    pick: PickModel
    words: str


class ViewState(ViewBody):
    """A saved view, in the model's own coordinates."""

    key: str


class BareState(Answer):
    """The faces without a finish."""

    faces: int
    area_m2: float


class ProjectState(Answer):
    """A project. aside: counts the changes of views and kept picks, which are no edits.

    undo, redo: what they would do. said: what the artist should know of the edit that this answers.
    """

    id: int
    name: str
    demo: str | None
    revision: int
    aside: int
    undo: str | None
    redo: str | None
    model: ModelState
    materials: dict[str, MaterialState]
    finishes: list[FinishState]
    pick_sets: list[PickSetState]
    views: list[ViewState]
    cover_key: str
    bare: BareState
    said: str | None = None


class ProjectChange(Answer):
    """What an edit, undo or redo made of a project as it was at the revision `since`; null where it is as it was.

    As the header of a packet it comes with the arrays that the view will ask for next: bytes, each by its address under the
    project's. finishes: the rows that are new or otherwise. order: the codes of all rows. The rest is as in `ProjectState`.
    """

    since: int
    name: str
    revision: int
    aside: int
    undo: str | None
    redo: str | None
    model: ModelState | None
    materials: dict[str, MaterialState] | None
    order: list[str] | None
    finishes: list[FinishState]
    pick_sets: list[PickSetState] | None
    views: list[ViewState] | None
    cover_key: str
    bare: BareState
    said: str | None = None


class ProjectCard(Answer):
    """A project in the list."""

    id: int
    name: str
    demo: str | None
    revision: int
    used_at: str
    file: str
    parts: int
    triangles: int
    finishes: int


class Pulse(Answer):
    """Which state a project is in, for pages that follow each other."""

    revision: int
    aside: int


class Created(Answer):
    """The number of what was made."""

    id: int


class Renaming(Request):
    """A new name."""

    name: Name


class SourceUse(Answer):
    """What a source material covers, and how large its image is there; None where its UVs do not tell."""

    faces: int
    area_m2: float
    bare_m2: float
    repeat_mm: Pair | None
    true_share: float | None
