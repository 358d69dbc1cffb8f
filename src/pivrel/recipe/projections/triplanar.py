"""Triplanar as a recipe states it."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, Self

from pydantic import Field

from pivrel.core.projection import Projection, Triplanar
from pivrel.recipe.projections.base import AxisMaterials, OptionsBase, ProjectionBase
from pivrel.recipe.typed import Share
from pivrel.recipe.values import Key, Strict

Backs = Literal["unmirrored", "mirrored"]


class AxisMaterialsModel(Strict):
    """Materials of their own for the datum's axes, by id."""

    x: Key | None = None
    y: Key | None = None
    z: Key | None = None


class TriplanarModel(ProjectionBase):
    """Three layings blended by the direction in which the surface looks."""

    core: ClassVar[type[Projection]] = Triplanar
    kind: Literal["triplanar"]
    blend: Annotated[float, Field(ge=0, le=1)] = 0.3
    backs: Backs = "unmirrored"
    materials: AxisMaterialsModel = AxisMaterialsModel()

    def to_core(self) -> Triplanar:
        return Triplanar(self.blend, self.backs, self.axis_materials)

    @classmethod
    def of(cls, projection: Projection) -> Self:
        assert isinstance(projection, Triplanar)
        x, y, z = projection.materials
        named = AxisMaterialsModel(x=x, y=y, z=z)
        return cls(kind="triplanar", blend=projection.blend, backs=projection.backs, materials=named)

    @property
    def axis_materials(self) -> AxisMaterials:
        return self.materials.x, self.materials.y, self.materials.z

    def with_material_swapped(self, was: str, now: str) -> Self:
        x, y, z = (now if key == was else key for key in self.axis_materials)
        return self.model_copy(update={"materials": AxisMaterialsModel(x=x, y=y, z=z)})


class TriplanarOptions(OptionsBase):
    """Options of a triplanar laying."""

    kind: Literal["triplanar"]
    blend: Annotated[Share, Field(ge=0, le=1)] = 0.3
    backs: Backs = "unmirrored"
    materials: AxisMaterialsModel = AxisMaterialsModel()
