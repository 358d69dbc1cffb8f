"""The work of an import: reads one model, checks it, and writes what was found.

The job's folder takes mesh.npz, facts.json and images/, which can be read while the model is checked, and faults.npz.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np

from pivrel.core.geometry.faults import find_faults
from pivrel.core.geometry.surface import Surface
from pivrel.formats.bundle import Folder, Upload
from pivrel.formats.imported import Imported
from pivrel.formats.reading import read_model
from pivrel.jobs.line import Line
from pivrel.jobs.model_import import MODEL
from pivrel.store.meshes import mesh_data

SQUARE = b"v 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nf 1 2 3\nf 1 3 4\n"


def prepare() -> Surface:
    """Reads and checks something small, so that all that this takes is loaded; what was read."""
    surface = Surface(read_model("square.obj", SQUARE, Upload({}), "mm", "z").mesh)
    find_faults(surface)
    return surface


def work(folder: Path, request: dict[str, Any], line: Line) -> None:
    """Reads the model of the request and writes what was found."""
    files = Path(request["folder"])
    data = (files / request["name"]).read_bytes()
    imported = read_model(
        request["name"],
        data,
        Folder(files),
        request["unit"],
        request["up"],
        request["tolerance_mm"],
        line.tell,
    )
    _keep(folder, imported)
    line.say(made=MODEL)
    line.tell("checking the model", 0.0)
    faults = find_faults(Surface(imported.mesh)) if request["check"] else []
    with (folder / "faults.npz").open("wb") as out:
        counted: dict[str, Any] = {f.key: np.concatenate([[f.count], f.faces]) for f in faults}
        np.savez(out, **counted)


def _keep(folder: Path, imported: Imported) -> None:
    """Writes what was read."""
    (folder / "mesh.npz").write_bytes(mesh_data(imported.mesh))
    (folder / "images").mkdir()
    for sha256, image in imported.images.items():
        (folder / "images" / sha256).write_bytes(image.data)
    facts = {k: v for k, v in vars(imported).items() if k not in ("mesh", "images")}
    facts["images"] = {sha256: image.mime for sha256, image in imported.images.items()}
    (folder / "facts.json").write_text(json.dumps(facts))
