"""The work of an import: reads one model, checks it, and writes what was found.

The job's folder takes mesh.npz, faults.npz, facts.json and images/.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np

from pivrel.core.geometry.faults import find_faults
from pivrel.core.geometry.surface import Surface
from pivrel.formats.bundle import Folder
from pivrel.formats.reading import read_model
from pivrel.jobs.line import Line
from pivrel.store.meshes import mesh_data


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
    line.tell("checking the model", 0.0)
    faults = find_faults(Surface(imported.mesh)) if request["check"] else []
    (folder / "mesh.npz").write_bytes(mesh_data(imported.mesh))
    with (folder / "faults.npz").open("wb") as out:
        counted: dict[str, Any] = {f.key: np.concatenate([[f.count], f.faces]) for f in faults}
        np.savez(out, **counted)
    (folder / "images").mkdir()
    for sha256, image in imported.images.items():
        (folder / "images" / sha256).write_bytes(image.data)
    facts = {k: v for k, v in vars(imported).items() if k not in ("mesh", "images")}
    facts["images"] = {sha256: image.mime for sha256, image in imported.images.items()}
    (folder / "facts.json").write_text(json.dumps(facts))
