"""The polygon mesh as a model file states it: points, faces with their corners, parts."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from itertools import accumulate
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats, Floats32, Ints, Mask, marked
from pivrel.core.geometry.exact import ExactSurface
from pivrel.errors import InputError

REACH_MM = 1e11
"""How far from the origin a model may lie: 100,000 km, which holds every map grid of the earth. At that distance a
double still tells hundredths of a micrometre apart, and products of such lengths stay far from overflowing."""


class MeshError(InputError):
    """A mesh that contradicts itself; the message says what and where in one sentence."""


Wrap = Literal["repeat", "clamp", "mirror"]


@dataclass(frozen=True)
class SourceTexture:
    """An image that the model file gives a channel of a material.

    image: the content hash of its bytes. uv_set: which of the mesh's UV sets it lies by. wrap: along and
    up. offset, scale, turn: applied to the UVs, v counted from the top, before the image is looked up (turn in
    radians; as in glTF's KHR_texture_transform). factor: the strength of a normal map or of occlusion.
    """

    image: str
    uv_set: int = 0
    wrap: tuple[Wrap, Wrap] = ("repeat", "repeat")
    offset: tuple[float, float] = (0.0, 0.0)
    scale: tuple[float, float] = (1.0, 1.0)
    turn: float = 0.0
    factor: float = 1.0

    @property
    def is_moved(self) -> bool:
        """Whether the UVs are changed before the image is looked up."""
        return (self.offset, self.scale, self.turn) != ((0.0, 0.0), (1.0, 1.0), 0.0)


@dataclass(frozen=True)
class SourceMaterial:
    """The material that the model file gives a face: shown and handed over where no finish lies.

    rgba: linear base color, each component 0 to 1. metallic, roughness: factors, None where the file
    states none. emissive: linear. alpha: how the base color's alpha counts; below cutoff a "mask" hides.
    textures: by channel: base_color, normal, metallic_roughness (packed in blue and green), roughness,
    metallic, occlusion, emissive, alpha, height. stated: lines of an MTL that have no meaning here, as they
    came.
    """

    name: str
    rgba: tuple[float, float, float, float] = (0.8, 0.8, 0.8, 1.0)
    metallic: float | None = None
    roughness: float | None = None
    emissive: tuple[float, float, float] = (0.0, 0.0, 0.0)
    alpha: Literal["opaque", "mask", "blend"] = "opaque"
    cutoff: float = 0.5
    double_sided: bool = False
    textures: tuple[tuple[str, SourceTexture], ...] = ()
    stated: tuple[str, ...] = ()

    def texture(self, channel: str) -> SourceTexture | None:
        """The texture of a channel, or None."""
        return next((texture for name, texture in self.textures if name == channel), None)


@dataclass(frozen=True)
class Mesh:
    """Polygons in the model's own coordinates: right-handed, Z up, millimetres.

    points: (P, 3) float64.
    corners: (C,) int32, the point of each corner, face after face.
    face_start: (F + 1,) int32; face f owns corners[face_start[f]:face_start[f + 1]].
    face_part: (F,) int32 into part_names.
    normals: (C, 3) float32 unit shading normals as the file gave them, or None.
    face_source: (F,) int32 into sources, -1 where the file names no material.
    uv_sets: of each texture coordinate set of the file (C, 2) float64 by corner, v up; NaN where a corner
        has none.
    face_patch: (F,) int32 into exact, the B-rep face that each face is a piece of, or None where the
        file states none.
    exact: the surface of each such patch.
    part_elements, part_storeys: what a building model says of each part; empty where it says nothing.
    """

    points: Floats
    corners: Ints
    face_start: Ints
    face_part: Ints
    part_names: tuple[str, ...]
    normals: Floats32 | None = None
    face_source: Ints | None = None
    sources: tuple[SourceMaterial, ...] = ()
    face_patch: Ints | None = None
    exact: tuple[ExactSurface, ...] = ()
    part_elements: tuple[str, ...] = ()
    part_storeys: tuple[str, ...] = ()
    uv_sets: tuple[Floats, ...] = ()

    @property
    def source_of_face(self) -> Ints:
        """(F,) int32 into sources, -1 where the file names no material, whether or not it names any."""
        return np.full(self.face_count, -1, np.int32) if self.face_source is None else self.face_source

    @property
    def face_count(self) -> int:
        return len(self.face_start) - 1

    @property
    def corner_count(self) -> int:
        return len(self.corners)

    def bounds(self) -> Floats:
        """(2, 3) smallest and largest coordinates in mm, of the points that faces use."""
        used = self.points if self.uses_every_point else self.points[self.used_points]
        # Column by column: over the rows of a narrow array a minimum takes ten times as long.
        return np.array([[column.min() for column in used.T], [column.max() for column in used.T]]) + 0.0

    @cached_property
    def used_points(self) -> Mask:
        """(P,) the points that faces use."""
        return marked(self.corners, len(self.points))

    @property
    def uses_every_point(self) -> bool:
        return bool(self.used_points.all())


def checked(mesh: Mesh) -> Mesh:
    """The same mesh, or MeshError where an index, a count or a coordinate cannot be right."""
    if mesh.face_count < 1:
        raise MeshError("the model has no faces")
    _check_shapes(mesh)
    if not np.isfinite(mesh.points).all():
        row = int(np.flatnonzero(~np.isfinite(mesh.points).all(axis=1))[0])
        raise MeshError(f"point {row} has a coordinate that is not a finite number")
    if mesh.corners.min() < 0 or mesh.corners.max() >= len(mesh.points):
        corner = int(np.flatnonzero((mesh.corners < 0) | (mesh.corners >= len(mesh.points)))[0])
        face = int(np.searchsorted(mesh.face_start, corner, side="right")) - 1
        raise MeshError(
            f"face {face} refers to point {int(mesh.corners[corner])}, but there are only {len(mesh.points)}"
        )
    if np.diff(mesh.face_start).min() < 3:
        face = int(np.argmin(np.diff(mesh.face_start)))
        raise MeshError(f"face {face} has fewer than 3 corners")
    return mesh


def within_reach(mesh: Mesh) -> Mesh:
    """The same mesh, or MeshError where a point lies too far from the origin to be computed with."""
    # Over all numbers at once, which takes a tenth of the time of a search by rows.
    if max(mesh.points.max(initial=0.0), -mesh.points.min(initial=0.0)) > REACH_MM:
        far = np.abs(mesh.points).max(axis=1)
        row = int(np.flatnonzero(far > REACH_MM)[0])
        most = float(far[row])
        raise MeshError(
            f"point {row} lies {most / 1e6:.3g} km from the origin; models within {REACH_MM / 1e6:,.0f} km of it "
            "can be opened"
        )
    return mesh


def _check_shapes(mesh: Mesh) -> None:
    """MeshError where the arrays do not fit each other."""
    faces, corners = mesh.face_count, mesh.corner_count
    fits = (
        mesh.points.ndim == 2
        and mesh.points.shape[1] == 3
        and mesh.corners.ndim == mesh.face_start.ndim == mesh.face_part.ndim == 1
        and mesh.face_start[0] == 0
        and mesh.face_start[-1] == corners
        and len(mesh.face_part) == faces
        and (mesh.normals is None or mesh.normals.shape == (corners, 3))
        and (mesh.face_source is None or mesh.face_source.shape == (faces,))
        and (mesh.face_patch is None or mesh.face_patch.shape == (faces,))
        and all(uv.shape == (corners, 2) for uv in mesh.uv_sets)
        and len(mesh.part_elements) in (0, len(mesh.part_names))
        and len(mesh.part_storeys) in (0, len(mesh.part_names))
    )
    if not fits:
        raise MeshError("the model's arrays do not fit each other")
    parts, sources = len(mesh.part_names), len(mesh.sources)
    source = np.full(1, -1) if mesh.face_source is None else mesh.face_source
    patch = np.zeros(1) if mesh.face_patch is None else mesh.face_patch
    if patch.min() < 0 or (mesh.face_patch is not None and patch.max() >= len(mesh.exact)):
        raise MeshError("a face belongs to a patch that the model does not have")
    if (
        mesh.face_part.min() < 0
        or mesh.face_part.max() >= parts
        or source.min() < -1
        or source.max() >= sources
    ):
        raise MeshError("a face belongs to a part or a material that the model does not have")


def merged(meshes: list[Mesh]) -> Mesh:
    """Several meshes as one, parts and faces in the order given; one alone is that mesh itself.

    Normals, stated patches and what a building model says of parts are kept only when every mesh has them.
    """
    if len(meshes) == 1:
        return meshes[0]
    point_base = _bases([len(m.points) for m in meshes])
    corner_base = _bases([m.corner_count for m in meshes])
    part_base = _bases([len(m.part_names) for m in meshes])
    source_base = _bases([len(m.sources) for m in meshes])
    starts = [m.face_start[:-1] + corner_base[i] for i, m in enumerate(meshes)]
    sources = [
        np.where(m.source_of_face < 0, -1, m.source_of_face + source_base[i]) for i, m in enumerate(meshes)
    ]
    normals = [m.normals for m in meshes if m.normals is not None]
    patch_base = _bases([len(m.exact) for m in meshes])
    patches = [m.face_patch + patch_base[i] for i, m in enumerate(meshes) if m.face_patch is not None]
    stated = len(patches) == len(meshes)
    told = all(m.part_elements for m in meshes)
    sets = max(len(m.uv_sets) for m in meshes)
    return Mesh(
        points=np.concatenate([m.points for m in meshes]),
        corners=np.concatenate([m.corners + point_base[i] for i, m in enumerate(meshes)]).astype(np.int32),
        face_start=np.concatenate([*starts, corner_base[-1:]]).astype(np.int32),
        face_part=np.concatenate([m.face_part + part_base[i] for i, m in enumerate(meshes)]).astype(np.int32),
        part_names=tuple(name for m in meshes for name in m.part_names),
        normals=np.concatenate(normals) if len(normals) == len(meshes) else None,
        face_source=np.concatenate(sources).astype(np.int32),
        sources=tuple(source for m in meshes for source in m.sources),
        face_patch=np.concatenate(patches).astype(np.int32) if stated else None,
        exact=tuple(exact for m in meshes for exact in m.exact) if stated else (),
        part_elements=tuple(name for m in meshes for name in m.part_elements) if told else (),
        part_storeys=tuple(name for m in meshes for name in m.part_storeys) if told else (),
        uv_sets=tuple(np.concatenate([_uv_set(m, k) for m in meshes]) for k in range(sets)),
    )


def _uv_set(mesh: Mesh, number: int) -> Floats:
    """A UV set of a mesh, NaN throughout where it has no such set."""
    return mesh.uv_sets[number] if number < len(mesh.uv_sets) else np.full((mesh.corner_count, 2), np.nan)


def _bases(counts: list[int]) -> list[int]:
    """Where each mesh's ids begin, and their sum; plain numbers, so that adding one keeps an array's type."""
    return [0, *accumulate(counts)]
