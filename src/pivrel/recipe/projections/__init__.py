"""The kinds of projection that a recipe knows. A new one is a line in each of the two unions."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, get_args

from pydantic import Field

from pivrel.core.projection import Projection
from pivrel.recipe.projections.base import OptionsBase, ProjectionBase
from pivrel.recipe.projections.box import BoxModel, BoxOptions
from pivrel.recipe.projections.camera import CameraModel, CameraOptions
from pivrel.recipe.projections.cylindrical import CylindricalModel, CylindricalOptions
from pivrel.recipe.projections.drape import DrapeModel, DrapeOptions
from pivrel.recipe.projections.flatten import FlattenModel, FlattenOptions
from pivrel.recipe.projections.flow import FlowModel, FlowOptions
from pivrel.recipe.projections.lines import LinesModel, LinesOptions
from pivrel.recipe.projections.planar import PlanarModel, PlanarOptions
from pivrel.recipe.projections.roll import RollModel, RollOptions
from pivrel.recipe.projections.spherical import SphericalModel, SphericalOptions
from pivrel.recipe.projections.triplanar import TriplanarModel, TriplanarOptions

ProjectionModel = Annotated[
    PlanarModel
    | BoxModel
    | CylindricalModel
    | SphericalModel
    | TriplanarModel
    | FlowModel
    | RollModel
    | CameraModel
    | DrapeModel
    | LinesModel
    | FlattenModel,
    Field(discriminator="kind"),
]  # fmt: skip
"""From the simplest to the most involved: of two trials that come out alike the simpler one goes first."""

OptionsModel = Annotated[
    PlanarOptions
    | BoxOptions
    | CylindricalOptions
    | SphericalOptions
    | TriplanarOptions
    | FlowOptions
    | RollOptions
    | CameraOptions
    | DrapeOptions
    | LinesOptions
    | FlattenOptions,
    Field(discriminator="kind"),
]  # fmt: skip

PROJECTIONS: Mapping[str, type[ProjectionModel]] = {
    model.core.kind: model for model in get_args(get_args(ProjectionModel)[0])
}
"""Every kind by its name."""


def projection_model(projection: Projection) -> ProjectionModel:
    """The model of a projection, every option stated."""
    return PROJECTIONS[projection.kind].of(projection)


def with_options(projection: ProjectionModel, options: OptionsModel) -> ProjectionModel:
    """The projection with the options that are stated, and the rest as it was.

    ValueError for options of another kind; pydantic's ValidationError where one does not fit.
    """
    if options.kind != projection.kind:
        raise ValueError(f"it is laid by {projection.kind}, which has no options of {options.kind}")
    stated = options.model_dump(exclude_unset=True, by_alias=True)
    return type(projection).model_validate({**projection.model_dump(by_alias=True), **stated})


def trial_candidates() -> list[Projection]:
    """What a trial of all projections compares, from the simplest to the most involved."""
    return [candidate for model in PROJECTIONS.values() for candidate in model.core.tried()]


__all__ = ["PROJECTIONS", "OptionsBase", "OptionsModel", "ProjectionBase", "ProjectionModel", "projection_model",
           "trial_candidates", "with_options"]  # fmt: skip
