"""An OBJ as a hand-over: the model, its MTL, and its images."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.laying import BARE
from pivrel.formats.convention import Convention
from pivrel.formats.laid import LaidModel, Surfacing, UniqueNames, safe_file_name, surfacings
from pivrel.formats.model.mtl import MtlMaterial, texture_options, write_mtl
from pivrel.formats.model.obj import one_line, write_obj
from pivrel.materials.images import Image, unpacked_surface


class _ObjImages:
    """The images of an OBJ under file names of their own, each written once."""

    def __init__(self, stem: str) -> None:
        self.stem, self.names = stem, UniqueNames()
        self.written: dict[str, str] = {}
        self.files: dict[str, bytes] = {}

    def file(self, image: Image, name: str) -> str:
        if image.sha256 not in self.written:
            file = self.names.take(f"{self.stem}_{safe_file_name(name)}") + image.suffix
            self.written[image.sha256] = file
            self.files[file] = image.data
        return self.written[image.sha256]


def _finish_material(name: str, row: Surfacing, model: LaidModel, images: _ObjImages) -> MtlMaterial:
    look = model.looks[row.row].images
    named = {channel: images.file(image, f"{row.name}_{channel}") for channel, image in look.items()}
    red, green, blue, *_ = model.finishes[row.row].tone.factors
    return MtlMaterial(name, (red, green, blue), images=named)


def _source_material(name: str, row: Surfacing, model: LaidModel, images: _ObjImages) -> MtlMaterial:
    """What the model came with, its images as they were; a packed one is taken apart."""
    source, named = row.source, dict[str, str]()
    for channel, texture in source.textures:
        image = model.images.get(texture.image)
        if image is None:
            continue
        given = {channel: image}
        if channel == "metallic_roughness":
            given = dict(zip(("roughness", "metallic"), unpacked_surface(image), strict=True))
        for own, picture in given.items():
            file = images.file(picture, f"{row.name}_{own}")
            named[own] = texture_options(texture) + file
    r, g, b, a = source.rgba
    stated = source.stated or ("illum 2",)
    return MtlMaterial(name, (r, g, b), a, named, source.roughness, source.metallic, source.emissive, stated)


def write(model: LaidModel, stem: str, convention: Convention) -> dict[str, bytes]:
    """An OBJ, its MTL and the images, in the unit and axes given."""
    rows, face_row = surfacings(model)
    names, images = UniqueNames(), _ObjImages(stem)
    materials = [
        (_finish_material if row.row != BARE else _source_material)(
            names.take(safe_file_name(row.name)), row, model, images
        )
        for row in rows
    ]
    text = write_obj(
        model.surface.mesh,
        model.surface.shading_normals,
        _written_uv(model, rows, face_row),
        face_row,
        [m.name for m in materials],
        f"{stem}.mtl",
        convention,
    )
    told = "".join(f"# {one_line(sentence)}\n" for sentence in model.left_out)
    text = told + text
    return {f"{stem}.obj": text.encode(), f"{stem}.mtl": write_mtl(materials).encode(), **images.files}


def _written_uv(model: LaidModel, rows: list[Surfacing], face_row: Ints) -> Floats:
    """(C, 2) the texture coordinates of an OBJ, which has one set: by the sheet, or those that bare faces had."""
    mesh = model.surface.mesh
    repeat = np.array([f.material.repeat_mm for f in model.finishes] + [(1.0, 1.0)])
    sides = np.diff(mesh.face_start)
    # BARE is -1, the last row: NaN stays NaN.
    uv: Floats = model.st / repeat[np.repeat(model.face_finish, sides)]
    if model.baked_uv is not None:
        baked = np.array([look.baked for look in model.looks] + [False])
        own = np.repeat(baked[model.face_finish], sides)
        uv[own] = model.baked_uv[own]
    for number, row in enumerate(rows):
        used = next((t.uv_set for _, t in row.source.textures), 0)
        if row.row == BARE and used < len(mesh.uv_sets):
            own = np.repeat(face_row == number, sides)
            uv[own] = mesh.uv_sets[used][own]
    return uv
