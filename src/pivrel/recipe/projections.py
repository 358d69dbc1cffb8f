"""Projections and their datums as a recipe states them."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from pivrel.core.geometry.frames import Datum, FrameError
from pivrel.core.projection import Box, Cylindrical, Planar, Projection, Spherical, Triplanar
from pivrel.recipe.values import Positive, Strict, Triple


class PlanarModel(Strict):
    """The sheet pushed straight onto the model."""

    kind: Literal["planar"]
    backs: Literal["through", "unmirrored"] = "through"

    def to_core(self) -> Projection:
        return Planar(self.backs)


class BoxModel(Strict):
    """Six planar layings; wrapped runs the pattern round the upright sides of a box of size_mm."""

    kind: Literal["box"]
    corners: Literal["separate", "wrapped"] = "separate"
    size_mm: tuple[Positive, Positive, Positive] | None = None

    def to_core(self) -> Projection:
        return Box(self.corners, self.size_mm)


class CylindricalModel(Strict):
    """The sheet rolled round the datum's z axis; without radius_mm it is measured."""

    kind: Literal["cylindrical"]
    radius_mm: Positive | None = None
    caps: bool = True
    cap_angle_deg: Annotated[float, Field(ge=0, le=90)] = 45.0
    whole_repeats: bool = False

    def to_core(self) -> Projection:
        return Cylindrical(self.radius_mm, self.caps, self.cap_angle_deg, self.whole_repeats)


class SphericalModel(Strict):
    """Longitude and latitude about the datum's origin; without radius_mm it is measured."""

    kind: Literal["spherical"]
    radius_mm: Positive | None = None

    def to_core(self) -> Projection:
        return Spherical(self.radius_mm)


class AxisMaterialsModel(Strict):
    """Materials of their own for the datum's axes, by id."""

    x: str | None = None
    y: str | None = None
    z: str | None = None


class TriplanarModel(Strict):
    """Three layings blended by the direction in which the surface looks."""

    kind: Literal["triplanar"]
    blend: Annotated[float, Field(ge=0, le=1)] = 0.3
    backs: Literal["unmirrored", "mirrored"] = "unmirrored"
    materials: AxisMaterialsModel = AxisMaterialsModel()

    @property
    def axis_materials(self) -> tuple[str | None, str | None, str | None]:
        return self.materials.x, self.materials.y, self.materials.z

    def to_core(self) -> Projection:
        return Triplanar(self.blend, self.backs, self.axis_materials)


ProjectionModel = Annotated[
    PlanarModel | BoxModel | CylindricalModel | SphericalModel | TriplanarModel,
    Field(discriminator="kind"),
]


def projection_json(projection: Projection) -> dict[str, Any]:
    """A core projection as recipe JSON, every option stated."""
    match projection:
        case Planar(backs):
            return {"kind": "planar", "backs": backs}
        case Box(corners, size):
            return {"kind": "box", "corners": corners, "size_mm": list(size) if size else None}
        case Cylindrical(radius, caps, cap_angle, whole):
            return {
                "kind": "cylindrical",
                "radius_mm": radius,
                "caps": caps,
                "cap_angle_deg": cap_angle,
                "whole_repeats": whole,
            }
        case Spherical(radius):
            return {"kind": "spherical", "radius_mm": radius}
        case Triplanar(blend, backs, (x, y, z)):
            return {
                "kind": "triplanar",
                "blend": blend,
                "backs": backs,
                "materials": {"x": x, "y": y, "z": z},
            }


class DatumModel(Strict):
    """Origin and axes in the model's own coordinates."""

    origin_mm: Triple = (0.0, 0.0, 0.0)
    x_axis: Triple = (1.0, 0.0, 0.0)
    z_axis: Triple = (0.0, 0.0, 1.0)

    @model_validator(mode="after")
    def _spans(self) -> DatumModel:
        try:
            _ = self.to_core().axes
        except FrameError as error:
            raise ValueError(str(error)) from None
        return self

    def to_core(self) -> Datum:
        return Datum(self.origin_mm, self.x_axis, self.z_axis)

    @classmethod
    def of(cls, datum: Datum) -> DatumModel:
        """The model of a core datum."""
        return cls(origin_mm=datum.origin_mm, x_axis=datum.x_axis, z_axis=datum.z_axis)
