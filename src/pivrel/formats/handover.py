"""The files of a hand-over, by name, for each format that is written."""

from __future__ import annotations

import zipfile
from io import BytesIO

import numpy as np

from pivrel.core.laying import BARE
from pivrel.formats.gltf_write import write_glb, write_gltf
from pivrel.formats.laid import LaidModel, UniqueNames, safe_file_name, surfacings
from pivrel.formats.obj import write_mtl, write_obj
from pivrel.formats.units import Convention

WRITABLE = (".glb", ".gltf", ".obj")


def obj_files(model: LaidModel, stem: str, convention: Convention) -> dict[str, bytes]:
    """An OBJ, its MTL and the images, in the unit and axes given."""
    rows, face_row = surfacings(model)
    file_names, material_names = UniqueNames(), UniqueNames()
    written: dict[str, str] = {}
    files: dict[str, bytes] = {}
    materials = []
    for row in rows:
        images: dict[str, str] = {}
        name = material_names.take(safe_file_name(row.name))
        if row.row != BARE:
            for channel, image in model.looks[row.row].images.items():
                if image.sha256 not in written:
                    file = file_names.take(f"{stem}_{safe_file_name(row.name)}_{channel}") + image.suffix
                    written[image.sha256] = file
                    files[file] = image.data
                images[channel] = written[image.sha256]
        r, g, b, a = row.rgba if row.row == BARE else (1.0, 1.0, 1.0, 1.0)
        materials.append((name, (r, g, b), a, images))
    mesh = model.surface.mesh
    repeat = np.array([f.material.repeat_mm for f in model.finishes] + [(1.0, 1.0)])
    # BARE is -1, the last row: NaN stays NaN.
    uv = model.st / repeat[np.repeat(model.face_finish, np.diff(mesh.face_start))]
    text = write_obj(
        mesh,
        model.surface.shading_normals,
        uv,
        face_row,
        [m[0] for m in materials],
        f"{stem}.mtl",
        convention,
    )
    return {f"{stem}.obj": text.encode(), f"{stem}.mtl": write_mtl(materials).encode(), **files}


def handover_files(model: LaidModel, suffix: str, stem: str, convention: Convention) -> dict[str, bytes]:
    """Every file of a hand-over by name; the model's own file comes first."""
    if suffix == ".glb":
        return {f"{stem}.glb": write_glb(model)}
    if suffix == ".gltf":
        return write_gltf(model, stem)
    return obj_files(model, stem, convention)


def zipped(files: dict[str, bytes]) -> bytes:
    """The files as one ZIP; images are packed already, so only text is compressed."""
    out = BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, data in files.items():
            packed = name.endswith((".png", ".jpg"))
            archive.writestr(name, data, zipfile.ZIP_STORED if packed else zipfile.ZIP_DEFLATED)
    return out.getvalue()
