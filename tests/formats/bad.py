"""Files that break, each with a word that its sentence must hold; for the readers, the web and the CLI."""

from __future__ import annotations

import base64
import json
import struct
from typing import Any

GOOD_OBJ = b"v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n"


def triangle(**changes: Any) -> dict[str, Any]:
    """A right triangle as glTF JSON with its buffer within; `changes` overwrite top-level keys."""
    data = struct.pack("<9f", 0, 0, 0, 1, 0, 0, 0, 1, 0)
    root: dict[str, Any] = {
        "asset": {"version": "2.0"},
        "scene": 0,
        "scenes": [{"nodes": [0]}],
        "nodes": [{"name": "leaf", "mesh": 0}],
        "meshes": [{"primitives": [{"attributes": {"POSITION": 0}}]}],
        "accessors": [{"bufferView": 0, "componentType": 5126, "count": 3, "type": "VEC3"}],
        "bufferViews": [{"buffer": 0, "byteLength": 36}],
        "buffers": [{"byteLength": 36, "uri": "data:;base64," + base64.b64encode(data).decode()}],
    }
    return {**root, **changes}


def gltf(**changes: Any) -> bytes:
    return json.dumps(triangle(**changes)).encode()


def glb(root: dict[str, Any], binary: bytes = b"") -> bytes:
    text = json.dumps(root).encode()
    text += b" " * (-len(text) % 4)
    chunks = struct.pack("<II", len(text), 0x4E4F534A) + text
    if binary:
        chunks += struct.pack("<II", len(binary), 0x004E4942) + binary
    return struct.pack("<4sII", b"glTF", 2, 12 + len(chunks)) + chunks


NAN = base64.b64encode(struct.pack("<9f", 0, 0, 0, float("nan"), 0, 0, 0, 1, 0)).decode()
WHOLE = glb(triangle())
TWO_GB = 2_000_000_000

# name -> (files, of which the first is the model; a word of the sentence)
BAD: dict[str, tuple[dict[str, bytes], str]] = {
    "obj empty": ({"a.obj": b""}, "empty"),
    "obj without faces": ({"a.obj": b"v 0 0 0\n# f 1 2 3\n"}, "no faces"),
    "obj cut in a number": ({"a.obj": GOOD_OBJ + b"v 1.0 2.0"}, "line 5"),
    "obj index out of range": ({"a.obj": GOOD_OBJ + b"f 1 2 9\n"}, "index 9"),
    "obj index zero": ({"a.obj": GOOD_OBJ + b"f 0 1 2\n"}, "line 5"),
    "obj negative index too far": ({"a.obj": GOOD_OBJ + b"f -1 -2 -4\n"}, "index -4"),
    "obj normal out of range": ({"a.obj": GOOD_OBJ + b"f 1//1 2//1 3//1\n"}, "line 5"),
    "obj nan": ({"a.obj": b"v 0 nan 0\n" + GOOD_OBJ}, "line 1"),
    "obj infinite": ({"a.obj": b"v 0 1e999 0\n" + GOOD_OBJ}, "line 1"),
    "obj word for a number": ({"a.obj": b"v 0 zero 0\n" + GOOD_OBJ}, "line 1"),
    "obj face of two corners": ({"a.obj": GOOD_OBJ + b"f 1 2\n"}, "at least 3"),
    "obj that is a picture": ({"a.obj": b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR" * 9}, "not an OBJ"),
    "mtl path leaves the folder": (
        {"a.obj": b"mtllib a.mtl\n" + GOOD_OBJ, "a.mtl": b"newmtl m\nmap_Kd ../../etc/passwd\n"},
        "leaves the model's folder",
    ),
    "mtl absolute path": (
        {"a.obj": b"mtllib a.mtl\n" + GOOD_OBJ, "a.mtl": b"newmtl m\nmap_Kd C:\\x\\wood.png\n"},
        "leaves the model's folder",
    ),
    "mtllib leaves the folder": ({"a.obj": b"mtllib ../a.mtl\n" + GOOD_OBJ}, "leaves the model's folder"),
    "mtl color that is none": (
        {"a.obj": b"mtllib a.mtl\n" + GOOD_OBJ, "a.mtl": b"newmtl m\nKd nan 0 0\n"},
        "a.mtl line 2",
    ),
    "glb empty": ({"a.glb": b""}, "empty"),
    "glb header cut": ({"a.glb": WHOLE[:10]}, "header"),
    "glb cut": ({"a.glb": WHOLE[:-20]}, "cut short"),
    "glb of another kind": ({"a.glb": b"PK\x03\x04" + bytes(40)}, "not a GLB"),
    "glb version 1": ({"a.glb": struct.pack("<4sII", b"glTF", 1, 20) + bytes(8)}, "version 1"),
    "glb chunk too long": ({"a.glb": WHOLE[:12] + struct.pack("<I", TWO_GB) + WHOLE[16:]}, "claims 2000000000"),
    "glb claims 2 GB of values": (
        {"a.glb": glb(triangle(accessors=[{"bufferView": 0, "componentType": 5126, "count": TWO_GB // 12, "type": "VEC3"}]))},
        "claims 166666666 values",
    ),
    "gltf claims 2 GB of nothing": (
        {"a.gltf": gltf(accessors=[{"componentType": 5126, "count": TWO_GB // 12, "type": "VEC3"}])},
        "holds no data",
    ),
    "gltf buffer claims 2 GB": (
        {"a.gltf": gltf(buffers=[{"byteLength": TWO_GB, "uri": "data:;base64,AAAA"}])},
        "claims 2000000000 bytes",
    ),
    "gltf json broken": ({"a.gltf": gltf()[:-30]}, "JSON is broken"),
    "gltf that is a list": ({"a.gltf": b"[1, 2]"}, "no 'asset'"),
    "gltf buffer file missing": ({"a.gltf": gltf(buffers=[{"byteLength": 36, "uri": "a.bin"}])}, "'a.bin', which is missing"),
    "gltf buffer path leaves": (
        {"a.gltf": gltf(buffers=[{"byteLength": 36, "uri": "..%2F..%2Fetc%2Fpasswd"}])},
        "leaves the model's folder",
    ),
    "gltf buffer from an address": (
        {"a.gltf": gltf(buffers=[{"byteLength": 36, "uri": "http://127.0.0.1/a.bin"}])},
        "is an address",
    ),
    "gltf nan": ({"a.gltf": gltf(buffers=[{"byteLength": 36, "uri": "data:;base64," + NAN}])}, "not a finite number"),
    "gltf index out of range": (
        {"a.gltf": gltf(meshes=[{"primitives": [{"attributes": {"POSITION": 7}}]}])},
        "accessor 7",
    ),
    "gltf mesh out of range": ({"a.gltf": gltf(nodes=[{"mesh": 4}])}, "mesh 4"),
    "gltf no faces": ({"a.gltf": gltf(nodes=[{"name": "nothing"}])}, "no faces"),
    "gltf node its own child": ({"a.gltf": gltf(nodes=[{"children": [0]}])}, "its own ancestor"),
    "gltf words for numbers": ({"a.gltf": gltf(nodes=[{"mesh": 0, "scale": ["a", 1, 1]}])}, "wrong kind"),
    "gltf packed": ({"a.gltf": gltf(extensionsRequired=["KHR_draco_mesh_compression"])}, "Draco"),
    "wrong ending": ({"a.docx": b"PK"}, ".docx"),
}  # fmt: skip
