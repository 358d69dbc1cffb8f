"""Sheets that lie over a finish, as a recipe states them: those of coats, and of masks that show an image."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from pivrel.core.coats.cells import Cells
from pivrel.core.coats.sheet_over import SheetOver
from pivrel.core.revision import Motion
from pivrel.core.sheet import Material
from pivrel.recipe.datums import DatumModel
from pivrel.recipe.picks import PickModel
from pivrel.recipe.projections import ProjectionModel
from pivrel.recipe.values import Degrees, Factor, Pair, Positive, Strict

Seed = Annotated[int, Field(ge=0, le=1_000_000)]


class CellsModel(Strict):
    """A sheet cut into random patches, each turned and shifted, and blended over a width at their borders."""

    size_mm: Positive
    width_mm: Annotated[float, Field(ge=0, le=1e7)] = 0.0
    turn_deg: Annotated[float, Field(ge=0, le=180)] | Literal["quarters"] = "quarters"
    shift: bool = True
    seed: Seed = 1

    @model_validator(mode="after")
    def _narrower(self) -> CellsModel:
        if self.width_mm > self.size_mm / 2:
            raise ValueError("the width of the blend must be at most half the size of a cell")
        return self

    def to_core(self) -> Cells:
        return Cells(self.size_mm, self.width_mm, self.turn_deg, self.shift, self.seed)


class SheetOverBase(Strict):
    """How a sheet over a finish lies; without a projection as what is beneath, its turn, offset and scale on top."""

    projection: ProjectionModel | None = None
    datum: DatumModel | None = None
    turn_deg: Degrees = 0.0
    offset_mm: Pair = (0.0, 0.0)
    scale: tuple[Factor, Factor] = (1.0, 1.0)
    tile: bool = True
    cells: CellsModel | None = None

    @model_validator(mode="after")
    def _measured_from(self) -> Self:
        has = self.projection is not None and self.projection.core.has_datum
        if self.datum is not None and not has:
            kind = self.projection.kind if self.projection else "the laying beneath"
            raise ValueError(f"{kind} measures from no datum of its own; leave it out")
        return self

    def sheet(self, key: str, material: Callable[[str], Material]) -> SheetOver:
        """The sheet of a material, by its id."""
        return SheetOver(
            key=key,
            material=material(key),
            projection=self.projection.to_core() if self.projection else None,
            datum=self.datum.to_core() if self.datum else None,
            turn_deg=self.turn_deg,
            offset_mm=self.offset_mm,
            scale=self.scale,
            tile=self.tile,
            cells=self.cells.to_core() if self.cells else None,
        )

    def moved(self, motion: Motion) -> Self:
        """The same on a model that was moved or is larger."""
        return self.model_copy(
            update={
                "projection": self.projection and self.projection.moved(motion),
                "datum": self.datum and self.datum.moved(motion),
            }
        )

    def with_picks(self, change: Callable[[PickModel], PickModel]) -> Self:
        """The same with its own picks changed, where it has any."""
        return self.model_copy(update={"projection": self.projection and self.projection.with_picks(change)})

    @property
    def axis_materials(self) -> list[str]:
        """The ids of the materials that its projection names."""
        return [key for key in (self.projection.axis_materials if self.projection else ()) if key]
