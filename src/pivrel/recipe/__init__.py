"""The recipe: the JSON that states materials and finishes, checked, and as the core's own classes.

The published JSON Schema is generated from these models (`recipe_schema`).
"""

from pivrel.recipe.datums import DatumModel
from pivrel.recipe.finishes import AdjustmentModel, FinishModel, GrainModel, VariationModel
from pivrel.recipe.materials import JointsModel, MaterialModel, SheetModel
from pivrel.recipe.picks import PickModel, face_count, pick_model, with_ids
from pivrel.recipe.projections import ProjectionModel, projection_model
from pivrel.recipe.reading import RecipeError, RecipeModel, first_error, read_recipe, recipe_schema
from pivrel.recipe.values import Number, Pair, Strict, Triple, changed, not_zero

__all__ = [
    "AdjustmentModel",
    "DatumModel",
    "FinishModel",
    "GrainModel",
    "JointsModel",
    "MaterialModel",
    "Number",
    "Pair",
    "PickModel",
    "ProjectionModel",
    "RecipeError",
    "RecipeModel",
    "SheetModel",
    "Strict",
    "Triple",
    "VariationModel",
    "changed",
    "face_count",
    "first_error",
    "not_zero",
    "pick_model",
    "projection_model",
    "read_recipe",
    "recipe_schema",
    "with_ids",
]
