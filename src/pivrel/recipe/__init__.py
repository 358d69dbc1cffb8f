"""The recipe: the JSON that states materials and finishes, checked, and as the core's own classes.

The published JSON Schema is generated from these models (`recipe_schema`).
"""

from pivrel.recipe.finishes import FinishModel, GrainModel, VariationModel
from pivrel.recipe.materials import JointsModel, MaterialModel, SheetModel
from pivrel.recipe.picks import PickModel, face_count, pick_json, with_ids
from pivrel.recipe.projections import DatumModel, ProjectionModel, projection_json
from pivrel.recipe.reading import RecipeError, RecipeModel, first_error, read_recipe, recipe_schema
from pivrel.recipe.values import Number, Pair, Triple, not_zero

__all__ = [
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
    "Triple",
    "VariationModel",
    "face_count",
    "first_error",
    "not_zero",
    "pick_json",
    "projection_json",
    "read_recipe",
    "recipe_schema",
    "with_ids",
]
