"""Models of the command line: read, with what is wrong told."""

from __future__ import annotations

import argparse
from pathlib import Path

from pivrel.cli.files import CommandError, read_bytes
from pivrel.formats.bundle import Folder, FormatError
from pivrel.formats.imported import Imported
from pivrel.formats.reading import read_model
from pivrel.formats.registry import readable


def load_model(path: Path, args: argparse.Namespace) -> Imported:
    """The model of a file, or CommandError."""
    data = read_bytes(path)
    try:
        if readable(path.name).aside:
            return _read_aside(path, args)
        return read_model(path.name, data, Folder(path.parent), args.unit, args.up)
    except FormatError as error:
        raise CommandError(path, str(error)) from None


def _read_aside(path: Path, args: argparse.Namespace) -> Imported:
    """The model read in a process of its own, which a broken file may bring down alone."""
    from pivrel.jobs.model_import import ModelFile, ModelImport

    model = ModelFile(path.name, args.unit, args.up, args.tolerance, check=False)
    job = ModelImport(model, path.parent.resolve())
    try:
        job.wait()
        return job.imported()
    finally:
        job.stop()
