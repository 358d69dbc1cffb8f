"""Tangents in GLB: a normal map read through them leans as the sheet that was laid."""

import subprocess
from dataclasses import replace
from io import BytesIO

import numpy as np
import pytest
import trimesh
from pygltflib import GLTF2

from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying.finish import Finish
from pivrel.core.laying.tangents import tangents
from pivrel.core.picks import All
from pivrel.core.projection import Box, Cylindrical
from pivrel.core.sheet import Material
from pivrel.formats.laid import Look
from pivrel.formats.model.gltf_write import write_glb
from pivrel.materials.images import encode
from tests.browser.test_triplanar_light import SLOPE, mapped_pixel
from tests.formats.test_handover import FRONTEND
from tests.laying import laid_model
from tests.shapes import column, cuboid, mesh_of

STONE = Material("stone", (100.0, 80.0))


def arrays(data: bytes):
    gltf = GLTF2().load_from_bytes(data)
    blob = gltf.binary_blob()

    def read(index):
        accessor = gltf.accessors[index]
        view = gltf.bufferViews[accessor.bufferView]
        width = {"VEC2": 2, "VEC3": 3, "VEC4": 4}[accessor.type]
        return (
            np.frombuffer(blob, "<f4", accessor.count * width, view.byteOffset)
            .reshape(-1, width)
            .astype(float)
        )

    for mesh in gltf.meshes:
        for primitive in mesh.primitives:
            a = primitive.attributes
            yield read(a.POSITION), read(a.NORMAL), read(a.TEXCOORD_0), read(a.TANGENT)


@pytest.mark.parametrize("turn", [0, 90, 180, 270, 33])
@pytest.mark.parametrize("scale", [(1, 1), (-1, 1), (1, -1), (-1.5, -0.5)])
def test_a_mapped_slope_leans_as_the_sheet_lies(turn, scale):
    surface = Surface(cuboid(300, 200, 150))
    finish = Finish("f", STONE, All(), Box(), Datum(), turn_deg=turn, scale=scale)
    image = encode(np.broadcast_to(mapped_pixel(), (8, 8, 3)))
    look = Look({"base_color": image, "normal": image})
    model = laid_model(surface, [finish], [(look, look, look)])
    for points, normals, uv, tangent in arrays(write_glb(model)):
        assert np.linalg.norm(tangent[:, :3], axis=1) == pytest.approx(1, abs=1e-6)
        assert np.abs((tangent[:, :3] * normals).sum(axis=1)).max() < 1e-6
        bitangent = np.cross(normals, tangent[:, :3]) * tangent[:, 3:]
        shaded = normals - SLOPE[0] * tangent[:, :3] - SLOPE[1] * bitangent
        # What the images mean, from positions and texture places alone: heights that rise by SLOPE a unit of
        # length along u and up the image (1 - v in glTF), on each flat side.
        for side in np.unique(np.round(normals, 3), axis=0):
            own = np.abs(normals - side).max(axis=1) < 0.01
            away = points[own] - points[own].mean(axis=0)
            to_uv = np.linalg.lstsq(away, uv[own] - uv[own].mean(axis=0), rcond=None)[0]
            along, up = to_uv[:, 0], -to_uv[:, 1]
            along, up = along / np.linalg.norm(along), up / np.linalg.norm(up)
            want = side / np.linalg.norm(side) - SLOPE[0] * along - SLOPE[1] * up
            cosine = (shaded[own] @ want) / np.linalg.norm(shaded[own], axis=1) / np.linalg.norm(want)
            assert cosine.min() > np.cos(np.radians(0.1))


def test_tangents_run_round_a_column_without_a_break():
    surface = Surface(column(48, 150, 400, rows=2))
    finish = Finish("f", STONE, All(), Cylindrical(), Datum())
    image = encode(np.full((4, 4, 3), 0.5))
    look = Look({"base_color": image, "normal": image})
    ((_, normals, _, tangent),) = arrays(write_glb(laid_model(surface, [finish], [(look, look, look)])))
    side = np.abs(normals[:, 1]) < 0.5
    # Counter-clockwise about glTF's Y, seen from above.
    want = np.cross([0, 1, 0], normals[side])
    assert (tangent[side, :3] * want).sum(axis=1).min() > np.cos(np.radians(4))
    assert (tangent[side, 3] == 1).all()
    plain = Look({"base_color": image})
    glb = write_glb(laid_model(surface, [replace(finish)], [(plain, plain, plain)]))
    assert b"TANGENT" not in BytesIO(glb).read(4000)


MIKK = """
const {generateTangents} = require('mikktspace'), fs = require('fs');
const read = (name) => { const b = fs.readFileSync(`${process.argv[1]}/${name}`); return new Float32Array(b.buffer, b.byteOffset, b.length / 4); };
fs.writeFileSync(`${process.argv[1]}/out`, Buffer.from(generateTangents(read('points'), read('normals'), read('uv')).buffer));
"""


def mikktspace(folder, points, normals, uv):
    """(N, 4) the tangents of MikkTSpace's own code (npm mikktspace 1.1.1), of triangles that share no corner."""
    for name, values in (("points", points), ("normals", normals), ("uv", uv)):
        (folder / name).write_bytes(np.ascontiguousarray(values, "<f4").tobytes())
    subprocess.run(["node", "-e", MIKK, str(folder)], cwd=FRONTEND, check=True)
    return np.frombuffer((folder / "out").read_bytes(), "<f4").reshape(-1, 4)


@pytest.mark.parametrize("shape", ["ball", "column", "folded strip, mirrored on one side"])
def test_tangents_are_those_of_mikktspace(shape, tmp_path):
    if shape == "column":
        surface = Surface(column(24, 150, 400, rows=2))
    else:
        ball = trimesh.creation.icosphere(subdivisions=3, radius=500)
        surface = Surface(mesh_of(ball.vertices, ball.faces))
    places = surface.mesh.points[surface.mesh.corners]
    # Smooth over the model and true nowhere; on the last one turned over where x is below nought.
    st = places[:, :2] + 0.2 * places[:, 2:] * (1, 0.5)
    if shape.startswith("folded"):
        st = np.column_stack([np.abs(places[:, 0]) + 0.3 * places[:, 2], places[:, 1] + 0.1 * places[:, 2]])
    found = tangents(surface, st, surface.shading_normals)
    at = surface.triangles.reshape(-1)
    want = mikktspace(tmp_path, places[at], surface.shading_normals[at], st[at])
    # Where the sheet stands on edge neither has a direction to agree on.
    a, b, c = (st[surface.triangles[:, k]] for k in range(3))
    u, v = b - a, c - a
    det = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]
    clear = np.repeat(np.abs(det) > 0.05 * surface.triangle_areas, 3)
    cosine = (found[at, :3] * want[:, :3]).sum(axis=1)
    assert np.percentile(cosine[clear], 1) > np.cos(np.radians(0.5))
    assert (cosine[clear] > np.cos(np.radians(2))).mean() > 0.97
    assert (found[at, 3] == want[:, 3])[clear].mean() > 0.99
