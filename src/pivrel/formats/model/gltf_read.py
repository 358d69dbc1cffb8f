"""Reading glTF 2.0 and GLB: the scene's meshes in model space, node transforms applied."""

from __future__ import annotations

from typing import Any

import numpy as np

from pivrel.bounded_json import JsonError, read_json
from pivrel.core.arrays import Floats
from pivrel.core.geometry.mesh import REACH_MM, Mesh, MeshError, checked, merged
from pivrel.formats.bundle import Bundle, FormatError
from pivrel.formats.convention import Convention, to_model
from pivrel.formats.found_model import FoundModel, GivenFile
from pivrel.formats.model.gltf_data import Buffers, item, split_glb
from pivrel.formats.model.gltf_sources import GltfSources
from pivrel.formats.source_images import SourceImages

GLTF_SPACE = Convention.of("m", "y")
TRIANGLES, STRIP, FAN = 4, 5, 6
MAX_DEPTH = 500
MOST_VISITS = 1000
"""How often one node may be met: glTF 2.0, section 3.5.2, allows once, and some writers share nodes all the same."""

UNREAD = {"KHR_draco_mesh_compression": "Draco compression", "EXT_meshopt_compression": "meshopt compression",
          "KHR_meshopt_compression": "meshopt compression"}  # fmt: skip


def read_glb(data: bytes, bundle: Bundle) -> tuple[Mesh, SourceImages]:
    """The mesh of a GLB in model space, its images, and what was found on the way."""
    text, binary = split_glb(data)
    return _read(text, binary, bundle)


def read_gltf(data: bytes, bundle: Bundle) -> tuple[Mesh, SourceImages]:
    """The mesh of a glTF in JSON, its buffers and images beside it or within it."""
    return _read(data, None, bundle)


MOST_BYTES, MOST_VALUES = 1 << 30, 50_000_000
"""Of a scene's JSON, which a process of its own reads."""


def _read(text: bytes, binary: bytes | None, bundle: Bundle) -> tuple[Mesh, SourceImages]:
    try:
        root = read_json(text, MOST_BYTES, MOST_VALUES)
        if not isinstance(root, dict) or not isinstance(root.get("asset"), dict):
            raise FormatError("the JSON is not a glTF: it has no 'asset'")
        version = str(root["asset"].get("version", ""))
        if not version.startswith("2."):
            raise FormatError(f"this is glTF version {version or 'unknown'}; only version 2 can be read")
        for extension in root.get("extensionsRequired", []):
            if extension in UNREAD:
                raise FormatError(
                    f"the model needs {UNREAD[extension]} ({extension}), which Pivrel does not read; "
                    "save it without"
                )
        return _Scene(root, Buffers(root, binary, bundle)).read()
    except JsonError as broken:
        raise FormatError(str(broken).replace("the JSON", "the glTF's JSON", 1)) from None
    except MeshError as broken:
        raise FormatError(str(broken)) from None
    except (AttributeError, TypeError, KeyError, IndexError, ValueError, OverflowError) as broken:
        if isinstance(broken, FormatError):
            raise
        raise FormatError(f"the glTF's JSON has a value of the wrong kind ({broken})") from None


class _Scene:
    """One walk over the nodes, collecting a mesh a part."""

    def __init__(self, root: dict[str, Any], buffers: Buffers) -> None:
        self.root, self.buffers = root, buffers
        self.sources = GltfSources(root, buffers)
        self.meshes: list[Mesh] = []
        self.found = self.sources.images.found
        self.visiting: set[int] = set()
        self.names: dict[str, int] = {}
        self.visits: dict[int, int] = {}
        self.mirrored = self.uneven = 0

    def read(self) -> tuple[Mesh, SourceImages]:
        for node in self._roots():
            self._node(node, np.eye(4))
        if not self.meshes:
            raise FormatError("the model has no faces: no node of its scene holds triangles")
        if self.mirrored:
            self.found.append(
                f"{self.mirrored} mirrored node transforms were applied and the faces turned back"
            )
        if self.uneven:
            self.found.append(f"{self.uneven} uneven node scales were applied")
        self.sources.look_at_all()
        return checked(_with_joined_sources(merged(self.meshes))), self.sources.images

    def _roots(self) -> list[int]:
        scenes, nodes = self.root.get("scenes"), self.root.get("nodes") or []
        if scenes:
            roots = item(scenes, self.root.get("scene", 0), "scene", "the file").get("nodes", [])
            return list(roots)
        children = {c for node in nodes for c in node.get("children", [])}
        return [i for i in range(len(nodes)) if i not in children]

    def _node(self, index: int, parent: Floats) -> None:
        node = item(self.root.get("nodes"), index, "node", "the scene")
        if index in self.visiting or len(self.visiting) > MAX_DEPTH:
            raise FormatError(f"node {index} is its own ancestor, or lies more than {MAX_DEPTH} deep")
        self.visits[index] = self.visits.get(index, 0) + 1
        if self.visits[index] > MOST_VISITS:
            raise FormatError(
                f"node {index} is the child of other nodes over and over; it can have one parent"
            )
        self.visiting.add(index)
        world = parent @ _local(node, index)
        if "mesh" in node:
            self._mesh(node, node["mesh"], world)
        for child in node.get("children", []):
            self._node(child, world)
        self.visiting.remove(index)

    def _mesh(self, node: dict[str, Any], index: int, world: Floats) -> None:
        stated = item(self.root.get("meshes"), index, "mesh", "a node")
        primitives = [
            part for p, stated_part in enumerate(stated.get("primitives", []))
            if (part := self._primitive(stated_part, f"mesh {index}, primitive {p}", world)) is not None
        ]  # fmt: skip
        if not primitives:
            return
        scale = np.linalg.norm(world[:3, :3], axis=0)
        self.mirrored += bool(np.linalg.det(world[:3, :3]) < 0)
        self.uneven += bool(scale.max() > scale.min() * 1.0001)
        name = self._unique(str(node.get("name") or stated.get("name") or f"part {len(self.meshes) + 1}"))
        whole = merged(primitives)
        self.meshes.append(
            Mesh(**{**vars(whole), "part_names": (name,), "face_part": np.zeros_like(whole.face_part)})
        )

    def _unique(self, name: str) -> str:
        """Copies of one name are told apart by a number, so that each stays a part of its own."""
        count = self.names[name] = self.names.get(name, 0) + 1
        return name if count == 1 else self._unique(f"{name} ({count})")

    def _primitive(self, stated: dict[str, Any], where: str, world: Floats) -> Mesh | None:
        mode = stated.get("mode", TRIANGLES)
        if mode not in (TRIANGLES, STRIP, FAN):
            self.found.append(f"{where} holds points or lines, which are left out")
            return None
        attributes = stated.get("attributes", {})
        if "POSITION" not in attributes:
            raise FormatError(f"{where} has no positions")
        local = self.buffers.accessor(attributes["POSITION"], where).astype(np.float64)
        if local.shape[1:] != (3,):
            raise FormatError(f"{where} has positions that are not triples")
        if not np.isfinite(local).all():
            row = int(np.flatnonzero(~np.isfinite(local).all(axis=1))[0])
            raise FormatError(f"{where}: point {row} has a coordinate that is not a finite number")
        if "indices" in stated:
            order = self.buffers.accessor(stated["indices"], where).reshape(-1)
            if order.dtype.kind != "u":
                order = order.astype(np.int64)
        else:
            order = np.arange(len(local))
        if len(order) and order.max() >= len(local):
            raise FormatError(f"{where} refers to point {order.max()}, but there are {len(local)}")
        corners = _as_triangles(order, mode)
        if not len(corners):
            return None
        if mode == TRIANGLES and len(order) % 3:
            raise FormatError(f"{where} has {len(order)} corners, which is not a number of whole triangles")
        normals = None
        if "NORMAL" in attributes:
            normals = self.buffers.accessor(attributes["NORMAL"], where).astype(np.float64)
            if normals.shape != local.shape:
                raise FormatError(f"{where} has {len(normals)} normals for {len(local)} points")
        linear = world[:3, :3]
        if np.linalg.det(linear) < 0:
            corners = corners[:, ::-1]
        flat = np.ascontiguousarray(corners.reshape(-1), np.int32)
        placed = local @ linear.T
        placed += world[:3, 3]
        points = to_model(placed, GLTF_SPACE)
        source = self.sources.material(stated["material"], where) if "material" in stated else None
        return Mesh(
            points=points,
            corners=flat,
            face_start=np.arange(0, len(flat) + 1, 3, dtype=np.int32),
            face_part=np.zeros(len(corners), np.int32),
            part_names=("",),
            normals=_corner_normals(normals, linear, flat),
            face_source=np.full(len(corners), 0 if source else -1, np.int32),
            sources=(source,) if source else (),
            uv_sets=tuple(uv[flat] for uv in self._uv_sets(attributes, len(local), where)),
        )

    def _uv_sets(self, attributes: dict[str, Any], points: int, where: str) -> list[Floats]:
        """(V, 2) of each texture coordinate set, v up."""
        out: list[Floats] = []
        while f"TEXCOORD_{len(out)}" in attributes:
            uv = self.buffers.accessor(attributes[f"TEXCOORD_{len(out)}"], where).astype(np.float64)
            if uv.shape != (points, 2):
                raise FormatError(f"{where} has {len(uv)} texture coordinates for {points} points")
            if not np.isfinite(uv).all():
                self.found.append(
                    f"{where} has texture coordinates that are not finite numbers; they are left out"
                )
                uv = np.where(np.isfinite(uv).all(axis=1, keepdims=True), uv, np.nan)
            out.append(np.column_stack([uv[:, 0], 1.0 - uv[:, 1]]))
        return out


def _local(node: dict[str, Any], index: int) -> Floats:
    """(4, 4) column-vector transform of a node."""
    if "matrix" in node:
        out = np.array(node["matrix"], np.float64).reshape(4, 4).T
    else:
        x, y, z, w = np.array(node.get("rotation", [0, 0, 0, 1]), np.float64)
        out = np.eye(4)
        out[:3, :3] = [
            [1 - 2 * (y * y + z * z), 2 * (x * y - z * w), 2 * (x * z + y * w)],
            [2 * (x * y + z * w), 1 - 2 * (x * x + z * z), 2 * (y * z - x * w)],
            [2 * (x * z - y * w), 2 * (y * z + x * w), 1 - 2 * (x * x + y * y)],
        ]
        out[:3, :3] *= np.array(node.get("scale", [1, 1, 1]), np.float64)
        out[:3, 3] = node.get("translation", [0, 0, 0])
    if not np.isfinite(out).all() or np.abs(out).max() > REACH_MM:
        raise FormatError(f"node {index} has a transform that is not finite, or out of reach")
    return out


def _as_triangles(order: Any, mode: int) -> Any:
    """(T, 3) from the corner order of a list, a strip or a fan (glTF 2.0, section 3.7.2.1)."""
    if mode == TRIANGLES:
        return order[: len(order) // 3 * 3].reshape(-1, 3)
    count = max(len(order) - 2, 0)
    i = np.arange(count)
    if mode == FAN:
        return np.stack([order[i + 1], order[i + 2], np.full(count, order[0] if count else 0)], axis=1)
    return np.stack([order[i], order[i + 1 + i % 2], order[i + 2 - i % 2]], axis=1)


def _corner_normals(normals: Floats | None, linear: Floats, corners: Any) -> Any:
    """(C, 3) unit normals in model space: the cofactor matrix turns them, as it does any normal."""
    if normals is None:
        return None
    cofactor = np.stack([np.cross(linear[(i + 1) % 3], linear[(i + 2) % 3]) for i in range(3)])
    cofactor *= np.sign(np.linalg.det(linear)) or 1.0
    turned = to_model(normals @ cofactor.T, Convention(1.0, "y"))
    length = np.linalg.norm(turned, axis=1, keepdims=True)
    if not np.isfinite(length).all() or (length == 0).any():
        return None
    return (turned / length).astype(np.float32)[corners]


def _with_joined_sources(mesh: Mesh) -> Mesh:
    """The mesh with each source material listed once, however many primitives use it."""
    unique = list(dict.fromkeys(mesh.sources))
    places = {source: place for place, source in enumerate(unique)}
    index = np.array([places[s] for s in mesh.sources] + [-1], np.int32)
    return Mesh(**{**vars(mesh), "sources": tuple(unique), "face_source": index[mesh.source_of_face]})


def glb(given: GivenFile) -> FoundModel:
    """A binary glTF."""
    mesh, images = read_glb(given.data, given.bundle)
    return FoundModel(mesh, images=images)


def gltf(given: GivenFile) -> FoundModel:
    """A glTF with its files beside it."""
    mesh, images = read_gltf(given.data, given.bundle)
    return FoundModel(mesh, images=images)
