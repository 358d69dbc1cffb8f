"""Broken model files written by hand: of each format what its own rules say cannot be, and what no program writes."""

from __future__ import annotations

import json
import struct

from tests.formats import cad
from tests.formats.bad import BAD, GOOD_OBJ, glb, gltf, triangle

OBJ = [
    b"\n", b"#\n", b"v\n", b"v 0 0\n", b"v a b c\n", b"v 1e400 0 0\nf 1 1 1\n", b"v 0 0 0\nf 1\n", b"v 0 0 0\nf 1 1\n",
    b"v 0 0 0\nf 1 1 1\n", b"f 1 2 3\n", b"v 0 0 0\n" * 3 + b"f 0 1 2\n", b"v 0 0 0\n" * 3 + b"f -1 -2 -9\n",
    b"v 0 0 0\n" * 3 + b"f 99999999999999999999 1 2\n", b"v 0 0 0\n" * 3 + b"f 1/2/3/4 1 2\n", b"v 0 0 0\n" * 3 + b"f 1.5 2 3\n",
    b"v 0 0 0\n" * 3 + b"f 1//9 2//9 3//9\n", b"v 0 0 0 " + b"0 " * 5000 + b"\nf 1 1 1\n", b"\\\n" * 500 + GOOD_OBJ,
    GOOD_OBJ.replace(b" ", b"\t \t"), GOOD_OBJ.replace(b"\n", b"\r"), b"\xef\xbb\xbf" + GOOD_OBJ, GOOD_OBJ + b"\xff\xfe\x00",
    b"o " + b"x" * 100_000 + b"\n" + GOOD_OBJ, b"usemtl \x01\x02\n" + GOOD_OBJ, b"mtllib a.obj\n" + GOOD_OBJ,
    b"v nan nan nan\n" * 3 + b"f 1 2 3\n", b"v 1e300 0 0\nv 0 1e300 0\nv 0 0 1e300\nf 1 2 3\n", b"curv2 1 2\nend\n" + GOOD_OBJ,
    GOOD_OBJ + b"f " + b"1 2 3 " * 20_000 + b"\n", b"l 1 2\np 1\n", GOOD_OBJ.upper(),
]  # fmt: skip

SOLID = b"solid s\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid s\n"
STL = [
    b"solid\n", b"solid s\nendsolid s\n", SOLID[:60], SOLID.replace(b"vertex 0 0 0\n", b""), SOLID.replace(b"1 0 0", b"a b c"),
    SOLID.replace(b"vertex 1 0 0", b"vertex 1e400 0 0"), SOLID.replace(b"endloop", b"endlop"), SOLID.upper(), SOLID * 2,
    SOLID.replace(b"0 1 0", b"0 0 0"), bytes(80), bytes(84), bytes(80) + struct.pack("<I", 2**32 - 1), bytes(80) + struct.pack("<I", 1),
    bytes(80) + struct.pack("<I", 1) + bytes(50), bytes(80) + struct.pack("<I", 1) + b"\xff" * 50, b"solid" + bytes(75) + struct.pack("<I", 1) + bytes(50),
    bytes(80) + struct.pack("<I", 2) + struct.pack("<12fH", 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0), b"\0" * 5000, b"facet" * 1000,
]  # fmt: skip

HEAD = b"ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\nproperty list uchar int vertex_indices\nend_header\n"
BODY = b"0 0 0\n1 0 0\n0 1 0\n3 0 1 2\n"
PLY = [
    b"ply\n", b"ply\nend_header\n", HEAD, HEAD + b"0 0 0\n", HEAD + BODY[:-2], HEAD + BODY.replace(b"3 0 1 2", b"3 0 1 9"),
    HEAD + BODY.replace(b"3 0 1 2", b"3 0 1 -1"), HEAD + BODY.replace(b"3 0 1 2", b"0"), HEAD + BODY.replace(b"3 0 1 2", b"255 0 1 2"),
    HEAD + BODY.replace(b"1 0 0", b"nan 0 0"), HEAD + BODY.replace(b"1 0 0", b"x y z"), HEAD.replace(b"vertex 3", b"vertex 999999999999") + BODY,
    HEAD.replace(b"vertex 3", b"vertex -3") + BODY, HEAD.replace(b"float x", b"float") + BODY, HEAD.replace(b"float x", b"words x") + BODY,
    HEAD.replace(b"ascii", b"binary_little_endian") + b"\0" * 10, HEAD.replace(b"ascii", b"binary_big_endian") + bytes(36) + b"\3" + bytes(12),
    HEAD.replace(b"ascii 1.0", b"ascii 2.0") + BODY, HEAD.replace(b"property float z\n", b"") + BODY, HEAD.replace(b"element face 1", b"element edge 1") + BODY,
    HEAD.replace(b"uchar int", b"int uchar") + BODY, HEAD.replace(b"\n", b"\r\n") + BODY, b"comment x\n" * 1000 + HEAD + BODY, HEAD * 3 + BODY,
]  # fmt: skip


def _gltf(**changed: object) -> bytes:
    return gltf(**changed)


WORDS = ["", "x", None, -1, 2**63, 1e300, [], {}, [[]], True]
GLTF = [
    *(_gltf(**{part: value}) for part in ("nodes", "meshes", "accessors", "bufferViews", "scenes") for value in ("x", 5, [None], [{}], [[]])),
    _gltf(scene=99), _gltf(nodes=[{"mesh": 0, "matrix": [0] * 16}]), _gltf(nodes=[{"mesh": 0, "matrix": [1e300] * 16}]),
    _gltf(nodes=[{"mesh": 0, "rotation": [0, 0, 0, 0]}]), _gltf(nodes=[{"mesh": 0, "scale": [0, 0, 0]}]),
    _gltf(nodes=[{"mesh": 0, "children": [1]}, {"children": [0]}]), _gltf(materials=[{"pbrMetallicRoughness": {"baseColorFactor": "x"}}]),
    _gltf(images=[{"uri": "data:image/png;base64,!!!!"}]), _gltf(textures=[{"source": 9}]), _gltf(buffers=[{"byteLength": -1, "uri": "data:;base64,AAAA"}]),
    b"{}", b"[]", b"null", b'{"asset": {}}', b'{"asset": {"version": "9.0"}}', b"[" * 50_000, b'{"asset": {"version": 1' + b"0" * 400 + b"}}",
    json.dumps({"asset": {"version": "2.0"}, "nodes": [{"name": "n"}] * 20_000, "scenes": [{"nodes": list(range(20_000))}]}).encode(),
]  # fmt: skip

WHOLE = glb(triangle())
GLB = [WHOLE[:12], WHOLE[:20], WHOLE[:-1], WHOLE + b"\0" * 100, WHOLE[:8] + struct.pack("<I", 0) + WHOLE[12:], WHOLE[:16] + b"XXXX" + WHOLE[20:],
       WHOLE[:12] + struct.pack("<I", 0) + WHOLE[16:], b"glTF" + bytes(200), WHOLE * 2, WHOLE[::-1]]  # fmt: skip

STEP_FILE, IFC_FILE = cad.step(parts=("Plate",)), cad.ifc()
PLAIN = [
    lambda t: b"ISO-10303-21;", lambda t: b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\nENDSEC;\nEND-ISO-10303-21;\n",
    lambda t: t.replace(b"ENDSEC;", b""), lambda t: t.replace(b";", b""), lambda t: t.replace(b"#", b"@"), lambda t: t.replace(b"#1", b"#1#1"),
    lambda t: t.replace(b"(", b"((" ), lambda t: t.replace(b"'", b'"'), lambda t: t.replace(b",", b",$,", 40), lambda t: t.replace(b"#2", b"#999999"),
    lambda t: t.replace(b"0.", b"1E400,", 9), lambda t: t.replace(b"1.", b"-1.", 40), lambda t: t[: len(t) // 3], lambda t: t[: len(t) // 2] + t[-200:],
    lambda t: t.replace(b"DATA;", b"DATA;\n#1=#1;\n", 1), lambda t: t.replace(b"DATA;", b"DATA;\n" + b"#7=X(" * 400, 1), lambda t: t.upper().replace(b"(", b"(0,", 30),
    lambda t: b"\0" * 200 + t, lambda t: t.replace(b"\n", b" "), lambda t: b"/*" + t,
]  # fmt: skip
"""What is done to a text of ISO 10303-21."""


def every() -> list[tuple[str, dict[str, bytes]]]:
    """Each with its name and its files, the model first."""
    named = [("a.obj", OBJ), ("a.stl", STL), ("a.ply", PLY), ("a.gltf", GLTF), ("a.glb", GLB)]
    out = [(f"{name} {at}", {name: data}) for name, files in named for at, data in enumerate(files)]
    for name, text in (("a.step", STEP_FILE), ("a.ifc", IFC_FILE)):
        out += [(f"{name} {at}", {name: harm(text)}) for at, harm in enumerate(PLAIN)]
    return out + [(name, files) for name, (files, _) in BAD.items() if next(iter(files.values()))]
