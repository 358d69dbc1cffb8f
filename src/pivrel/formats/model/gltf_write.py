"""Writing glTF 2.0 and GLB: a node a part, a primitive a finish, UVs true to the millimetre."""

from __future__ import annotations

import json
from functools import cached_property
from itertools import pairwise
from pathlib import PurePosixPath
from typing import Any

import numpy as np
from pygltflib import (
    ARRAY_BUFFER,
    ELEMENT_ARRAY_BUFFER,
    FLOAT,
    GLTF2,
    UNSIGNED_INT,
    Accessor,
    Asset,
    Attributes,
    Buffer,
    BufferView,
    Material,
    Mesh,
    Node,
    NormalMaterialTexture,
    OcclusionTextureInfo,
    PbrMetallicRoughness,
    Primitive,
    Sampler,
    Scene,
    Texture,
    TextureInfo,
)
from pygltflib import Image as GltfImage

from pivrel import __version__
from pivrel.core.arrays import marked
from pivrel.core.coats.tones import AS_IT_IS
from pivrel.core.geometry.mesh import SourceMaterial, SourceTexture, Wrap
from pivrel.core.geometry.same_rows import same_rows
from pivrel.core.laying.tangents import tangents
from pivrel.formats.convention import Convention, from_model
from pivrel.formats.laid import LaidModel, Surfacing, UniqueNames, safe_file_name, surfacings
from pivrel.formats.model.gltf_read import GLTF_SPACE
from pivrel.formats.model.gltf_sources import TRANSFORM, WRAPS
from pivrel.materials.images import Image, packed_surface

LINEAR, LINEAR_MIPMAP_LINEAR = 9729, 9987
WRAP_CODES = {wrap: code for code, wrap in WRAPS.items()}


def _transform(texture: SourceTexture) -> dict[str, Any]:
    """What KHR_texture_transform says of a texture."""
    out: dict[str, Any] = {}
    if texture.offset != (0.0, 0.0):
        out["offset"] = list(texture.offset)
    if texture.scale != (1.0, 1.0):
        out["scale"] = list(texture.scale)
    if texture.turn:
        out["rotation"] = texture.turn
    return out


def _numbered(corners: Any, count: int) -> tuple[Any, Any]:
    """The corner ids that occur, ascending, and each one's place among them; count: of all there are."""
    held = marked(corners.reshape(-1), count)
    return np.flatnonzero(held), (np.cumsum(held) - 1)[corners]


def write_glb(model: LaidModel) -> bytes:
    """A GLB with everything in it."""
    writer = _Writer(model, embed=True)
    gltf = writer.build()
    gltf.set_binary_blob(bytes(writer.binary))
    data: list[bytes] = gltf.save_to_bytes()
    return b"".join(data)


def write_gltf(model: LaidModel, stem: str) -> dict[str, bytes]:
    """The files of a glTF by name: `stem`.gltf, `stem`.bin and the images."""
    writer = _Writer(model, embed=False)
    gltf = writer.build()
    gltf.buffers[0].uri = f"{stem}.bin"
    text = json.dumps(json.loads(gltf.to_json()), indent=1)
    return {f"{stem}.gltf": text.encode(), f"{stem}.bin": bytes(writer.binary), **writer.files}


class _Writer:
    def __init__(self, model: LaidModel, embed: bool) -> None:
        self.model, self.embed = model, embed
        told = {"extras": {"left_out": list(model.left_out)}} if model.left_out else {}
        self.gltf = GLTF2(asset=Asset(version="2.0", generator=f"Pivrel {__version__}", **told))
        self.binary = bytearray()
        self.files: dict[str, bytes] = {}
        self.file_names = UniqueNames()
        self.textures: dict[tuple[str, tuple[Wrap, Wrap]], int] = {}
        self.samplers: dict[tuple[Wrap, Wrap], int] = {}
        self.images: dict[str, int] = {}

    @cached_property
    def tangents(self) -> Any:
        """(C, 4) in glTF's axes: where +s runs at each corner, and the side of +t."""
        surface = self.model.surface
        st = self.model.st
        if surface.mesh.uv_sets:
            st = np.where(np.isnan(st), surface.mesh.uv_sets[0], st)
        return self._tangents(st)

    @cached_property
    def baked_tangents(self) -> Any:
        """The same along the u of the baked UVs."""
        return self._tangents(self.model.baked_uv)

    def _tangents(self, st: Any) -> Any:
        surface = self.model.surface
        found = tangents(surface, st, surface.shading_normals)
        return np.column_stack([from_model(found[:, :3], Convention(1.0, "y")), found[:, 3]])

    def build(self) -> GLTF2:
        rows, face_row = surfacings(self.model)
        self.gltf.materials = [self._material(row) for row in rows]
        self._parts(rows, face_row)
        self.gltf.scenes = [Scene(nodes=list(range(len(self.gltf.nodes))))]
        self.gltf.scene = 0
        self.gltf.buffers = [Buffer(byteLength=len(self.binary))]
        return self.gltf

    def _parts(self, rows: list[Surfacing], face_row: Any) -> None:
        surface = self.model.surface
        mesh, face = surface.mesh, surface.triangle_face
        # Triangles sorted by part and then by finish: each run of both is one primitive.
        key = mesh.face_part[face].astype(np.int64) * len(rows) + face_row[face]
        order = np.argsort(key, kind="stable")
        starts = [*np.flatnonzero(np.diff(key[order], prepend=-1)).tolist(), len(order)]
        current = -1
        for begin, end in pairwise(starts):
            part, row = divmod(int(key[order[begin]]), len(rows))
            if part != current:
                current = part
                shift = self._shift(part)
                x, y, z = from_model(shift, GLTF_SPACE)
                self.gltf.nodes.append(
                    Node(
                        name=mesh.part_names[part],
                        mesh=len(self.gltf.meshes),
                        translation=[x, y, z] if shift.any() else None,
                    )
                )
                self.gltf.meshes.append(Mesh(name=mesh.part_names[part], primitives=[]))
            primitive = self._primitive(surface.triangles[order[begin:end]], rows[row], row, shift)
            self.gltf.meshes[-1].primitives.append(primitive)

    def _shift(self, part: int) -> Any:
        """(3,) mm that a part far from the origin is written near it by; its node puts it back."""
        mesh = self.model.surface.mesh
        first = int(mesh.face_start[np.argmax(mesh.face_part == part)])
        near = mesh.points[mesh.corners[first]]
        # Below 100 m float32 metres still hold a hundredth of a millimetre.
        return np.round(near, -3) if np.abs(near).max() > 1e5 else np.zeros(3)

    def _primitive(self, triangles: Any, surfacing: Surfacing, row: int, shift: Any) -> Primitive:
        mesh = self.model.surface.mesh
        used, index = _numbered(triangles, mesh.corner_count)
        columns = {
            "POSITION": from_model(mesh.points[mesh.corners[used]] - shift, GLTF_SPACE),
            "NORMAL": from_model(self.model.surface.shading_normals[used], Convention(1.0, "y")),
            **(self._source_uvs(surfacing, used) if surfacing.row < 0 else self._laid_uvs(surfacing, used)),
        }
        # Corners that are alike in all of it are one vertex.
        number, first = same_rows(np.column_stack([v.astype(np.float32) for v in columns.values()]))
        attributes = Attributes()
        for name, values in columns.items():
            kind = f"VEC{values.shape[1]}"
            setattr(attributes, name, self._accessor(values[first], kind, bounds=name == "POSITION"))
        return Primitive(attributes=attributes, indices=self._indices(number[index]), material=row)

    def _laid_uvs(self, surfacing: Surfacing, used: Any) -> dict[str, Any]:
        """Where the sheet lies on the corners of a finish, and tangents where it has a normal map."""
        uv = self.model.st[used] / self.model.finishes[surfacing.row].material.repeat_mm
        out = {"TEXCOORD_0": np.nan_to_num(uv) * (1, -1) + (0, 1)}
        look = self.model.looks[surfacing.row]
        if look.baked and self.model.baked_uv is not None:
            out["TEXCOORD_1"] = np.nan_to_num(self.model.baked_uv[used]) * (1, -1) + (0, 1)
        if "normal" in look.images:
            out["TANGENT"] = (self.baked_tangents if look.baked else self.tangents)[used]
        return out

    def _source_uvs(self, surfacing: Surfacing, used: Any) -> dict[str, Any]:
        """The UV sets that bare faces came with, and tangents where a normal map lies by the first of them."""
        sets = self.model.surface.mesh.uv_sets
        # Only the sets that these faces have, and no gap between them.
        have = [np.isfinite(uv[used]).any() for uv in sets]
        out = {}
        for number in range(max((k + 1 for k, there in enumerate(have) if there), default=0)):
            out[f"TEXCOORD_{number}"] = np.nan_to_num(sets[number][used]) * (1, -1) + (0, 1)
        normal = surfacing.source.texture("normal")
        if normal is not None and normal.uv_set == 0 and have and have[0]:
            out["TANGENT"] = self.tangents[used]
        return out

    def _material(self, surfacing: Surfacing) -> Material:
        if surfacing.row < 0:
            return self._source_material(surfacing)
        look = self.model.looks[surfacing.row]
        # The sheet's own UVs come first, so that the material can be laid again; baked images lie by the second set.
        by = {"texCoord": 1 if look.baked else None}
        base, normal, rough = (look.images.get(c) for c in ("base_color", "normal", "roughness"))
        metal, shade = look.images.get("metallic"), look.images.get("occlusion")
        pbr = PbrMetallicRoughness(
            metallicFactor=1.0 if metal else look.metallic, roughnessFactor=1.0 if rough else 0.8
        )
        tone = self.model.finishes[surfacing.row].tone
        if tone != AS_IT_IS:
            *color, rougher, _ = tone.factors
            pbr.baseColorFactor = [*(min(part, 1.0) for part in color), 1.0]
            pbr.roughnessFactor = min(pbr.roughnessFactor * rougher, 1.0)
        if base:
            pbr.baseColorTexture = TextureInfo(
                index=self._texture(base, f"{surfacing.name}_base_color"), **by
            )
        if rough or metal:
            packed = packed_surface(rough, metal)
            pbr.metallicRoughnessTexture = TextureInfo(
                index=self._texture(packed, f"{surfacing.name}_roughness"), **by
            )
        return Material(
            name=surfacing.name,
            pbrMetallicRoughness=pbr,
            normalTexture=NormalMaterialTexture(
                index=self._texture(normal, f"{surfacing.name}_normal"),
                scale=self.model.finishes[surfacing.row].tone.bump,
                **by,
            )
            if normal
            else None,
            occlusionTexture=OcclusionTextureInfo(
                index=self._texture(shade, f"{surfacing.name}_occlusion"), **by
            )
            if shade
            else None,
            alphaCutoff=None,
        )

    def _source_material(self, surfacing: Surfacing) -> Material:
        """What the model came with, as it came."""
        source = surfacing.source
        pbr = PbrMetallicRoughness(
            baseColorFactor=list(source.rgba),
            metallicFactor=0.0 if source.metallic is None else source.metallic,
            roughnessFactor=0.8 if source.roughness is None else source.roughness,
            baseColorTexture=self._source_texture(source, "base_color", TextureInfo),
            metallicRoughnessTexture=self._source_texture(source, "metallic_roughness", TextureInfo)
            or self._packed_texture(source, surfacing.name),
        )
        normal = self._source_texture(source, "normal", NormalMaterialTexture)
        occlusion = self._source_texture(source, "occlusion", OcclusionTextureInfo)
        alpha = "blend" if source.alpha == "opaque" and source.rgba[3] < 1 else source.alpha
        return Material(
            name=surfacing.name,
            pbrMetallicRoughness=pbr,
            normalTexture=normal,
            occlusionTexture=occlusion,
            emissiveTexture=self._source_texture(source, "emissive", TextureInfo),
            emissiveFactor=list(source.emissive) if any(source.emissive) else None,
            alphaMode=alpha.upper(),
            alphaCutoff=source.cutoff if alpha == "mask" else None,
            doubleSided=True if source.double_sided else None,
        )

    def _source_texture(self, source: SourceMaterial, channel: str, kind: Any) -> Any:
        """A texture of a source material as glTF refers to it, or None."""
        texture = source.texture(channel)
        image = self.model.images.get(texture.image) if texture else None
        if texture is None or image is None:
            return None
        name = self.model.image_names.get(texture.image) or f"{source.name}_{channel}"
        info = kind(index=self._texture(image, name, texture.wrap), texCoord=texture.uv_set or None)
        if channel == "normal" and texture.factor != 1.0:
            info.scale = texture.factor
        if channel == "occlusion" and texture.factor != 1.0:
            info.strength = texture.factor
        if texture.is_moved:
            info.extensions[TRANSFORM] = _transform(texture)
            if TRANSFORM not in self.gltf.extensionsUsed:
                self.gltf.extensionsUsed.append(TRANSFORM)
        return info

    def _packed_texture(self, source: SourceMaterial, name: str) -> TextureInfo | None:
        """Roughness and metal that came apart, as an OBJ has them, in the one image that glTF wants."""
        held = [source.texture(channel) for channel in ("roughness", "metallic")]
        rough, metal = (self.model.images.get(t.image) if t else None for t in held)
        if rough is None and metal is None:
            return None
        return TextureInfo(index=self._texture(packed_surface(rough, metal), f"{name}_roughness"))

    def _texture(self, image: Image, name: str, wrap: tuple[Wrap, Wrap] = ("repeat", "repeat")) -> int:
        """The texture of an image, written once however many materials use it."""
        key = (image.sha256, wrap)
        if key not in self.textures:
            self.textures[key] = len(self.gltf.textures)
            self.gltf.textures.append(Texture(sampler=self._sampler(wrap), source=self._image(image, name)))
        return self.textures[key]

    def _sampler(self, wrap: tuple[Wrap, Wrap]) -> int:
        if wrap not in self.samplers:
            self.samplers[wrap] = len(self.gltf.samplers)
            along, up = (WRAP_CODES[side] for side in wrap)
            self.gltf.samplers.append(
                Sampler(magFilter=LINEAR, minFilter=LINEAR_MIPMAP_LINEAR, wrapS=along, wrapT=up)
            )
        return self.samplers[wrap]

    def _image(self, image: Image, name: str) -> int:
        if image.sha256 not in self.images:
            self.images[image.sha256] = len(self.gltf.images)
            if self.embed:
                view = self._view(image.data, None)
                self.gltf.images.append(GltfImage(bufferView=view, mimeType=image.mime, name=name))
            else:
                file = self.file_names.take(safe_file_name(PurePosixPath(name).stem)) + image.suffix
                self.files[file] = image.data
                self.gltf.images.append(GltfImage(uri=file, mimeType=image.mime, name=name))
        return self.images[image.sha256]

    def _view(self, data: bytes, target: int | None) -> int:
        self.binary.extend(bytes(-len(self.binary) % 4))
        view = BufferView(buffer=0, byteOffset=len(self.binary), byteLength=len(data), target=target)
        self.binary.extend(data)
        self.gltf.bufferViews.append(view)
        return len(self.gltf.bufferViews) - 1

    def _accessor(self, values: Any, kind: str, bounds: bool = False) -> int:
        data = np.ascontiguousarray(values, "<f4")
        accessor = Accessor(
            bufferView=self._view(data.tobytes(), ARRAY_BUFFER),
            componentType=FLOAT,
            count=len(data),
            type=kind,
        )
        if bounds:
            accessor.min = [float(v) for v in data.min(axis=0)]
            accessor.max = [float(v) for v in data.max(axis=0)]
        self.gltf.accessors.append(accessor)
        return len(self.gltf.accessors) - 1

    def _indices(self, index: Any) -> int:
        data = np.ascontiguousarray(index.reshape(-1), "<u4")
        self.gltf.accessors.append(
            Accessor(
                bufferView=self._view(data.tobytes(), ELEMENT_ARRAY_BUFFER),
                componentType=UNSIGNED_INT,
                count=len(data),
                type="SCALAR",
            )
        )
        return len(self.gltf.accessors) - 1


def glb(model: LaidModel, stem: str, convention: Convention) -> dict[str, bytes]:
    """One GLB; its unit and axes are those of glTF."""
    return {f"{stem}.glb": write_glb(model)}


def gltf(model: LaidModel, stem: str, convention: Convention) -> dict[str, bytes]:
    """A glTF with its files beside it; its unit and axes are those of glTF."""
    return write_gltf(model, stem)
