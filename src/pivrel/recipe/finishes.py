"""Finishes as a recipe states them: a material, a pick, a projection, and how the sheet lies."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from functools import cached_property
from typing import Annotated, ClassVar, TypeVar

from pydantic import Field, model_validator

from pivrel.core.laying.finish import Adjustment, DatumFor, Finish
from pivrel.core.picks import Pick
from pivrel.core.sheet import Material
from pivrel.core.sheet.grain import SHEET, Along, GrainRule
from pivrel.core.sheet.tie import Tie, TieBy
from pivrel.core.sheet.variation import By, Variation
from pivrel.recipe.coats import CoatModel, SpreadModel, ToneBase, TonedModel
from pivrel.recipe.datums import DatumModel
from pivrel.recipe.picks import PickModel
from pivrel.recipe.projections import ProjectionModel
from pivrel.recipe.sheets_over import CellsModel
from pivrel.recipe.values import MOST_LISTED, Degrees, Factor, Key, Name, Pair, Strict, Triple

T = TypeVar("T")


class GrainModel(Strict):
    """What the grain follows; the finish's turn_deg counts from there."""

    along: Along
    direction: Triple | None = None

    @model_validator(mode="after")
    def _directed(self) -> GrainModel:
        if (self.along == "direction") != (self.direction is not None):
            raise ValueError('a direction belongs to along "direction", and only there')
        if self.direction is not None and not any(self.direction):
            raise ValueError("the direction must not be zero")
        return self

    def to_core(self) -> GrainRule:
        return GrainRule(self.along, self.direction)


class AdjustmentModel(Strict):
    """How some faces of a finish lie otherwise: added to its turn and offset.

    size: how large they lie on the sheet for their true size.
    """

    pick: PickModel
    turn_deg: Degrees = 0.0
    offset_mm: Pair = (0.0, 0.0)
    mirrored: bool = False
    size: Annotated[float, Field(ge=0.01, le=100)] = 1.0

    def to_core(self) -> Adjustment:
        return Adjustment(self.pick.to_core(), self.turn_deg, self.offset_mm, self.mirrored, self.size)


Seed = Annotated[int, Field(ge=-(1 << 53), le=1 << 53)]


class VariationModel(Strict):
    """Each part, board, patch or face takes its own piece of the sheet."""

    by: By = "part"
    seed: Seed = 1
    half_turns: bool = False
    mirrors: bool = False

    def to_core(self) -> Variation:
        return Variation(self.by, self.seed, self.half_turns, self.mirrors)


class TieModel(Strict):
    """A place of the sheet that is to fall on a place of the model."""

    sheet_mm: Pair
    at_mm: Triple

    def to_core(self) -> Tie:
        return Tie(self.sheet_mm, self.at_mm)


MOST_COATS = 16


class FinishModel(ToneBase):
    """A finish of a recipe, without the checks that need the others."""

    name: Name
    material: Key
    pick: PickModel
    projection: ProjectionModel
    datum: DatumModel | None = None
    datum_for: DatumFor = "pick"
    turn_deg: Degrees | None = None
    grain_deg: Degrees | None = None
    offset_mm: Pair = (0.0, 0.0)
    scale: tuple[Factor, Factor] = (1.0, 1.0)
    tile: bool = True
    grain: GrainModel | None = None
    adjust: Annotated[tuple[AdjustmentModel, ...], Field(max_length=MOST_LISTED)] = ()
    run_on: bool = False
    variation: VariationModel | None = None
    on: bool = True
    tie: Annotated[tuple[TieModel, ...], Field(max_length=100)] = ()
    tie_by: TieBy = "turn"
    toned: Annotated[tuple[TonedModel, ...], Field(max_length=1000)] = ()
    spread: SpreadModel | None = None
    cells: CellsModel | None = None
    coats: Annotated[tuple[CoatModel, ...], Field(max_length=MOST_COATS)] = ()

    BOTH: ClassVar[str] = "states both turn_deg and grain_deg; give one"

    @model_validator(mode="after")
    def _one_turn(self) -> FinishModel:
        if self.turn_deg is not None and self.grain_deg is not None:
            raise ValueError(self.BOTH)
        if self.grain_deg is not None and self.grain is not None:
            raise ValueError("states both grain_deg and a grain rule; turn_deg counts from the rule")
        if self.datum is not None and self.datum_for != "pick":
            raise ValueError(f"states a datum, but asks for one for each {self.datum_for}; leave one out")
        if not self.projection.core.has_datum and (self.datum is not None or self.datum_for != "pick"):
            raise ValueError(f"{self.projection.kind} measures from no datum; leave it out")
        if self.projection.core.blends and self.by_face:
            kind = self.projection.kind
            raise ValueError(f"{kind} blends one sheet over all faces, so it cannot take {self.by_face}")
        return self

    @property
    def by_face(self) -> str:
        """Which options lay the sheet differently on different faces, in words; empty where none does."""
        asked = {
            "a grain rule": self.grain is not None and self.grain.along != "sheet",
            "adjustments": bool(self.adjust),
            "running on": self.run_on,
            "variation": self.variation is not None,
            "ties": bool(self.tie),
        }
        return " or ".join(words for words, given in asked.items() if given)

    @property
    def axis_materials(self) -> tuple[str, str, str]:
        """The material along x, y and z; the finish's own where the projection names none."""
        x, y, z = (key or self.material for key in self.projection.axis_materials)
        return x, y, z

    def for_axes(self, by_material: Mapping[str, T]) -> tuple[T, T, T]:
        """What belongs to the material along x, y and z."""
        x, y, z = (by_material[key] for key in self.axis_materials)
        return x, y, z

    @cached_property
    def material_ids(self) -> list[str]:
        """Every material that the finish names, each once."""
        own = [self.material, *self.axis_materials]
        return list(dict.fromkeys([*own, *(key for coat in self.coats for key in coat.material_ids)]))

    @cached_property
    def core_pick(self) -> Pick:
        """The pick as the core knows it; a long one is unpacked once."""
        return self.pick.to_core()

    def to_core(self, material: Callable[[str], Material]) -> Finish:
        """The finish, with its materials by their ids."""
        x, y, z = (material(key) if key else None for key in self.projection.axis_materials)
        return Finish(
            name=self.name,
            material=material(self.material),
            pick=self.core_pick,
            projection=self.projection.to_core(),
            datum=self.datum.to_core() if self.datum else None,
            turn_deg=self.turn_deg,
            grain_deg=self.grain_deg,
            offset_mm=self.offset_mm,
            scale=self.scale,
            tile=self.tile,
            datum_for=self.datum_for,
            axis_materials=(x, y, z),
            grain=self.grain.to_core() if self.grain else SHEET,
            adjust=tuple(a.to_core() for a in self.adjust),
            run_on=self.run_on,
            variation=self.variation.to_core() if self.variation else None,
            on=self.on,
            tie=tuple(tie.to_core() for tie in self.tie),
            tie_by=self.tie_by,
            material_key=self.material,
            tone=self.core_tone,
            toned=tuple(toned.to_core() for toned in self.toned),
            spread=self.spread.to_core() if self.spread else None,
            cells=self.cells.to_core() if self.cells else None,
            coats=tuple(coat.to_core(material) for coat in self.coats),
        )
