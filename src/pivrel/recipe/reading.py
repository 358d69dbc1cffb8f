"""A whole recipe, read from its text and checked, or refused in one sentence."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError, model_validator

from pivrel.bounded_json import JsonError, read_json
from pivrel.core.laying.finish import Finish
from pivrel.core.plain_text import PRINTABLE
from pivrel.errors import InputError
from pivrel.recipe.finishes import FinishModel
from pivrel.recipe.materials import MaterialModel
from pivrel.recipe.values import Key, Strict


class RecipeError(InputError):
    """A recipe that breaks a rule; the message is one sentence: where, and what."""


class RecipeModel(Strict):
    """A whole recipe."""

    recipe: Literal[1]
    materials: Annotated[dict[Key, MaterialModel], Field(max_length=10_000)]
    finishes: Annotated[list[FinishModel], Field(max_length=100_000)]

    @model_validator(mode="after")
    def _materials_exist(self) -> RecipeModel:
        for row, finish in enumerate(self.finishes):
            for material in finish.material_ids:
                if material not in self.materials:
                    raise ValueError(
                        f"finish {row} ({finish.name!r}) names the material {material!r}, "
                        "which the recipe does not have"
                    )
        return self

    def to_core(self) -> list[Finish]:
        """The finishes in their order."""
        return [f.to_core(lambda key: self.materials[key].to_core()) for f in self.finishes]


def first_error(error: ValidationError) -> str:
    """The first thing that is wrong, as one sentence with its place."""
    first = error.errors()[0]
    # pydantic names the branch of a union too ("pick.patches.patches"); a reader wants the key once.
    loc = [str(place) for place in first["loc"]]
    unions = ("pick", "projection", "not", "edit")
    places = [place for i, place in enumerate(loc) if not (i and loc[i - 1] in unions)]
    where = ".".join(places)
    what = str(first["msg"]).removeprefix("Value error, ")
    if first["type"] == "extra_forbidden":
        what = "this key is not known"
    elif first["type"] == "missing":
        what = "this key is missing"
    elif first.get("ctx", {}).get("pattern") == PRINTABLE:
        what = "must be one line of text, without control characters"
    return f"{where}: {what}" if where else what


def read_recipe(text: str | bytes) -> RecipeModel:
    """A recipe from its JSON text. RecipeError says what is wrong and where."""
    try:
        # Numbers that are not finite are told where they stand.
        data = read_json(text, own=True)
    except JsonError as error:
        raise RecipeError(str(error)) from None
    try:
        return RecipeModel.model_validate(data)
    except ValidationError as error:
        raise RecipeError(first_error(error)) from None


def recipe_schema() -> dict[str, Any]:
    """The recipe's JSON Schema (draft 2020-12)."""
    schema = RecipeModel.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}
