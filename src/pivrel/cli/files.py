"""Files of the command line: read with what is wrong told, and written all of them or none."""

from __future__ import annotations

import argparse
import os
import tempfile
from pathlib import Path

from pivrel.errors import PivrelError
from pivrel.formats.bundle import MAX_FILE_BYTES, Folder, FormatError
from pivrel.formats.imported import Imported
from pivrel.formats.laid import LaidModel, Look, safe_file_name
from pivrel.formats.model_format import ModelFormat
from pivrel.formats.reading import read_model
from pivrel.formats.recipe_looks import look_of
from pivrel.formats.registry import readable, suffix_of, writable
from pivrel.formats.units import Convention
from pivrel.jobs.model_import import ModelFile, ModelImport
from pivrel.materials.images import ImageError
from pivrel.recipe import MaterialModel, RecipeError, RecipeModel, read_recipe


class CommandError(PivrelError):
    """What is wrong, with the file it concerns."""

    def __init__(self, file: Path | str, what: str) -> None:
        super().__init__(f"{file}: {what}")


def read_bytes(path: Path) -> bytes:
    """The bytes of a file that must be there."""
    try:
        if path.stat().st_size > MAX_FILE_BYTES:
            raise CommandError(path, f"the file is larger than {MAX_FILE_BYTES >> 30} GB")
        return path.read_bytes()
    except OSError as error:
        raise CommandError(path, (error.strerror or "cannot be read").lower()) from None


def load_model(path: Path, args: argparse.Namespace) -> Imported:
    """The model of a file, or CommandError."""
    data = read_bytes(path)
    try:
        if readable(path.name).aside:
            return _read_aside(
                ModelFile(path.name, args.unit, args.up, args.tolerance, check=False), path.parent
            )
        return read_model(path.name, data, Folder(path.parent), args.unit, args.up)
    except FormatError as error:
        raise CommandError(path, str(error)) from None


def _read_aside(model: ModelFile, folder: Path) -> Imported:
    """The model read in a process of its own, which a broken file may bring down alone."""
    job = ModelImport(model, folder.resolve())
    try:
        job.wait()
        return job.imported()
    finally:
        job.stop()


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


def write_all(folder: Path, files: dict[str, bytes]) -> None:
    """Writes files under temporary names and then moves them, so that none is left half-written."""
    waiting: list[tuple[str, Path]] = []
    try:
        for name, data in files.items():
            handle, temporary = tempfile.mkstemp(dir=folder, prefix=".pivrel-")
            waiting.append((temporary, folder / name))
            with os.fdopen(handle, "wb") as file:
                file.write(data)
            Path(temporary).chmod(0o644)
        for temporary, target in waiting:
            Path(temporary).replace(target)
    except OSError as error:
        raise CommandError(folder, f"cannot be written to: {(error.strerror or '').lower()}") from None
    finally:
        for temporary, _ in waiting:
            Path(temporary).unlink(missing_ok=True)


def new_file(path: Path) -> Path:
    """A file to be written that must not be there yet, in a folder that must."""
    if path.exists():
        raise CommandError(path, "is there already; name another file")
    if not path.absolute().parent.is_dir():
        raise CommandError(path.parent, "there is no such folder")
    return path
