"""How a project looks: the images of its materials and of its model, and a small picture of it."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from pivrel.core.arrays import Floats, Ints, distinct
from pivrel.core.geometry.mesh import SourceMaterial
from pivrel.core.laying import BARE
from pivrel.formats.laid import LaidModel, Look, upright_normal
from pivrel.formats.leaving_out import written
from pivrel.materials import srgb
from pivrel.materials.checker import checker_for
from pivrel.materials.images import Image, decode, encode, thumbnail
from pivrel.project.computing import Computing
from pivrel.project.laid import LaidProject, surface_of
from pivrel.project.picture import draw
from pivrel.store import blobs, pictures, projects
from pivrel.store.connection import Connection
from pivrel.store.documents import Contents, MaterialBody
from pivrel.store.projects import Project

SWATCH = 128


def laid(
    db: Connection, computing: Computing, project: Project, contents: Contents | None = None
) -> LaidProject:
    """A project's finishes on its surface, as they are now or with other contents."""
    owner = f"project {project.id}"
    surface = surface_of(computing, project.mesh, lambda: blobs.get_mesh(db, project.mesh), owner)
    return LaidProject(project.mesh, surface, contents or projects.contents(db, project.id), computing, owner)


def looks_of(db: Connection, project: LaidProject) -> dict[str, Look]:
    """How each material of a project looks; a checker where it has no images."""
    return {key: look_of(db, document.body) for key, document in project.contents.materials.items()}


def look_of(db: Connection, body: MaterialBody) -> Look:
    """How a kept material looks; a checker where it has no images."""
    images = upright_normal(blobs.get_images(db, body.images), body.normal_y)
    return Look(images or {"base_color": checker_for(body.repeat_mm)}, body.metallic)


def source_images(db: Connection, project: Project) -> tuple[dict[str, Image], dict[str, str]]:
    """The images that a project's model brought, by hash, and what it called them."""
    names = {image.sha256: image.name for image in project.model.images}
    return blobs.get_images(db, {sha256: sha256 for sha256 in names}), names


def picture_of(db: Connection, computing: Computing, project: Project) -> bytes:
    """JPEG bytes of a project as it is; drawn once a revision."""
    held = pictures.get(db, project.id, project.revision)
    if held is not None:
        return held
    project_laid = laid(db, computing, project)
    looks, source = looks_of(db, project_laid), source_images(db, project)
    with computing.long_work():
        return written(project_laid.as_written(looks, *source), _drawn)


def keep_picture(db: Connection, project: Project, data: bytes) -> None:
    """Keeps a picture for the revision that it shows."""
    pictures.put(db, project.id, project.revision, data)


def _drawn(model: LaidModel) -> bytes:
    """The model with its finishes, and where it is bare with what it came with."""
    mesh = model.surface.mesh
    swatches = [_small(look.images.get("base_color")) for look in model.looks]
    repeats = [f.material.repeat_mm for f in model.finishes]
    face_row, st = model.face_finish.copy(), model.st.copy()
    if mesh.face_source is not None:
        _dress_bare(model, mesh.face_source, face_row, st, swatches, repeats)
    return draw(model.surface, face_row, st, swatches, repeats)


def _dress_bare(
    model: LaidModel,
    face_source: Ints,
    face_row: Ints,
    st: Floats,
    swatches: list[Image | None],
    repeats: list[tuple[float, float]],
) -> None:
    """Adds a row for each material that bare faces came with; changes what it is given."""
    mesh = model.surface.mesh
    bare = face_row == BARE
    for number in distinct(face_source[bare & (face_source >= 0)]).tolist():
        own = bare & (face_source == number)
        source = mesh.sources[number]
        texture = source.texture("base_color")
        image = model.images.get(texture.image) if texture else None
        face_row[own] = len(swatches)
        swatches.append(_small(image) if image else encode(color_swatch(source)))
        repeats.append((1.0, 1.0))
        if texture is not None and texture.uv_set < len(mesh.uv_sets):
            corners = np.repeat(own, np.diff(mesh.face_start))
            st[corners] = mesh.uv_sets[texture.uv_set][corners]


def color_swatch(source: SourceMaterial) -> Floats:
    """(4, 4, 3) a source material's color as an image has it."""
    rgb = np.clip(np.array(source.rgba[:3]), 0, 1)
    return np.tile(srgb.coded(rgb), (4, 4, 1))


def mean_color(source: SourceMaterial, images: Mapping[str, Image]) -> Floats:
    """(3,) the color that a source material shows from afar, as an image has it."""
    texture = source.texture("base_color")
    image = images.get(texture.image) if texture else None
    if image is None:
        own: Floats = color_swatch(source)[0, 0]
        return own
    mean: Floats = decode(thumbnail(image, 16)).mean(axis=(0, 1)) * np.sqrt(np.clip(source.rgba[:3], 0, 1))
    return mean


def _small(image: Image | None) -> Image | None:
    return thumbnail(image, SWATCH) if image else None
