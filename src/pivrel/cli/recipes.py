"""Recipes of the command line and the images that they name, read; and laid models, written."""

from __future__ import annotations

from pathlib import Path

from pivrel.cli.files import CommandError, read_bytes, write_all
from pivrel.formats.bundle import Folder, FormatError
from pivrel.formats.convention import Convention
from pivrel.formats.laid import LaidModel, Look, safe_file_name
from pivrel.formats.model_format import ModelFormat
from pivrel.formats.recipe_looks import look_of
from pivrel.formats.registry import suffix_of, writable
from pivrel.materials.images import ImageError
from pivrel.recipe import MaterialModel, RecipeError, RecipeModel, read_recipe


def load_recipe(path: Path) -> RecipeModel:
    """The recipe of a file, or CommandError."""
    try:
        return read_recipe(read_bytes(path))
    except RecipeError as error:
        raise CommandError(path, str(error)) from None


def load_look(path: Path, material: MaterialModel) -> Look:
    """The images of a recipe's material; a checker where it names none."""
    try:
        return look_of(Folder(path.parent), material)
    except (FormatError, ImageError) as error:
        raise CommandError(path, str(error)) from None


def output_format(output: Path) -> ModelFormat:
    """The format that a file is to be written in, by its name. CommandError where there is none."""
    try:
        return writable(suffix_of(output.name))
    except FormatError as error:
        raise CommandError(output, str(error)) from None


def write_model(
    output: Path, kind: ModelFormat, model: LaidModel, convention: Convention, beside: dict[str, bytes]
) -> None:
    """Writes a laid model under the name of its file, and what belongs to it beside that, all of it or nothing."""
    stem = output.stem
    files = kind.write(model, stem if suffix_of(output.name) == ".glb" else safe_file_name(stem), convention)
    own = next(iter(files))
    write_all(output.parent, {(output.name if n == own else n): d for n, d in (files | beside).items()})
