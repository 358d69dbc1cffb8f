"""Baked hand-overs, read back by others' code: what the images show is what the core evaluates."""

from __future__ import annotations

import json
from io import BytesIO

import numpy as np
import PIL.Image
import pygltflib
import pytest
from scipy.ndimage import map_coordinates

from pivrel.cli.main import main
from pivrel.core.cache import KeepAll
from pivrel.core.geometry.surface import Surface
from pivrel.core.schedule import Schedule
from pivrel.demo import lido
from pivrel.formats.bundle import Folder
from pivrel.formats.reading import read_model
from pivrel.materials import srgb
from pivrel.materials.images import encode
from pivrel.materials.textures import textures_of
from pivrel.recipe import read_recipe
from tests.formats.test_handover import validated
from tests.lengths import some

CHANNELS = ("base_color", "roughness", "metallic", "occlusion")


def waves(seed: int, channels: int, side: int = 96):
    """A smooth image that repeats, 0 to 1."""
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[:side, :side] / side * 2 * np.pi
    bands = []
    for _ in range(channels):
        band = sum(
            np.sin(i * x + j * y + rng.uniform(0, 6)) / (1 + i + j) for i in range(3) for j in range(3)
        )
        bands.append(0.5 + 0.4 * band / np.abs(band).max())
    return np.stack(bands, axis=2)


def material(folder, name, seed, repeat):
    """A material of smooth images in a recipe's folder; bumps lean by up to 20 degrees."""
    bumps = waves(seed + 1, 2) - 0.5
    normal = np.dstack([bumps * 0.7, np.ones(bumps.shape[:2])])
    normal /= np.linalg.norm(normal, axis=2, keepdims=True)
    images = {
        "base_color": waves(seed, 3), "normal": normal / 2 + 0.5, "roughness": waves(seed + 2, 1)[..., 0],
        "height": waves(seed + 3, 1)[..., 0], "occlusion": waves(seed + 4, 1)[..., 0],
    }  # fmt: skip
    for channel, pixels in images.items():
        (folder / f"{name}_{channel}.png").write_bytes(encode(pixels).data)
    return {"name": name, "repeat_mm": repeat, "images": {c: f"{name}_{c}.png" for c in images}}


def part_as_obj(path, name):
    mesh = lido.build()
    surface = Surface(mesh)
    faces = np.flatnonzero(mesh.face_part == mesh.part_names.index(name))
    used = np.unique(mesh.corners[surface.corners_of(faces)])
    number = np.zeros(len(mesh.points), int)
    number[used] = np.arange(len(used)) + 1
    lines = ["v {:.6f} {:.6f} {:.6f}".format(*point) for point in mesh.points[used]]
    for face in faces:
        corners = mesh.corners[mesh.face_start[face] : mesh.face_start[face + 1]]
        lines.append("f " + " ".join(str(number[c]) for c in corners))
    path.write_text("\n".join(lines))


MOSS = {"name": "Moss", "material": "over",
        "where": {"facing": {"direction": [0, 0, 1], "within_deg": 30, "soft_deg": 30}}}  # fmt: skip
LEAK = {"name": "Leak", "material": "over", "projection": {"kind": "planar"},
        "channels": {"base_color": "multiply", "height": "add"},
        "datum": {"origin_mm": [3000, 0, 2600], "x_axis": [1, 0, 0], "z_axis": [0, -1, 0]},
        "where": {"fade": {"from_mm": [0, 0, 400], "to_mm": [0, 0, 1800], "ease": "smooth"}}}  # fmt: skip
WORK = {
    "boulder": ("Boulder 1", {"kind": "triplanar"}, MOSS, 250),
    "wall": ("Wall south", {"kind": "box"}, LEAK, 130),
}


def recipe_in(folder, which):
    part, projection, coat, density = WORK[which]
    part_as_obj(folder / "model.obj", part)
    finish = {
        "name": "Stone",
        "material": "under",
        "pick": {"all": True},
        "projection": projection,
        "coats": [coat],
    }
    (folder / "recipe.json").write_text(
        json.dumps({
            "recipe": 1, "finishes": [finish],
            "materials": {"under": material(folder, "under", 3, [700, 500]), "over": material(folder, "over", 40, [900, 900])},
        })
    )  # fmt: skip
    return density


@pytest.fixture(scope="module", params=some(WORK, 1))
def baked(request, tmp_path_factory):
    """A folder with the recipe, the model, and the GLB that the command line made of them."""
    folder = tmp_path_factory.mktemp(request.param)
    density = recipe_in(folder, request.param)
    told = ["bake", "recipe.json", "model.obj", "-o", "out.glb", "--px-per-m", str(density)]
    with pytest.MonkeyPatch.context() as patch:
        patch.chdir(folder)
        assert main([*told, "--unit", "mm", "--up", "z"]) == 0
    return folder


def primitives(glb: bytes):
    """Each primitive's attributes, triangles and images by channel; read by pygltflib alone."""
    gltf = pygltflib.GLTF2.load_from_bytes(glb)
    blob = gltf.binary_blob()

    def read(number, width):
        accessor = gltf.accessors[number]
        view = gltf.bufferViews[accessor.bufferView]
        kind = "<f4" if accessor.componentType == 5126 else "<u4"
        return np.frombuffer(blob, kind, accessor.count * width, view.byteOffset or 0).reshape(-1, width)

    def image(info):
        view = gltf.bufferViews[gltf.images[gltf.textures[info.index].source].bufferView]
        return np.asarray(PIL.Image.open(BytesIO(blob[view.byteOffset : view.byteOffset + view.byteLength])))

    for mesh in gltf.meshes:
        for one in mesh.primitives:
            made = gltf.materials[one.material]
            pbr = made.pbrMetallicRoughness
            infos = {"base_color": pbr.baseColorTexture, "packed": pbr.metallicRoughnessTexture,
                     "normal": made.normalTexture, "occlusion": made.occlusionTexture}  # fmt: skip
            assert {info.texCoord for info in infos.values() if info} == {1}
            a = one.attributes
            yield {
                "points": read(a.POSITION, 3), "normals": read(a.NORMAL, 3), "uv": read(a.TEXCOORD_1, 2),
                "tangents": read(a.TANGENT, 4), "triangles": read(one.indices, 1).reshape(-1, 3),
                "images": {c: image(info) for c, info in infos.items() if info}, "metal": pbr.metallicFactor,
            }  # fmt: skip


def bilinear(image, uv):
    """scipy's own linear interpolation between the centres of pixels; v counts from the top."""
    image = image[..., None] if image.ndim == 2 else image
    height, width = image.shape[:2]
    at = np.stack([uv[:, 1] * height - 0.5, uv[:, 0] * width - 0.5])
    return np.stack(
        [map_coordinates(image[..., k].astype(float), at, order=1, mode="nearest") for k in range(image.shape[2])], axis=1
    )  # fmt: skip


def scattered(one, count, rng):
    """Random points of a primitive, evenly over its area: the triangle and the shares of its corners."""
    corners = one["points"][one["triangles"]]
    area = np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1)
    triangle = rng.choice(len(area), count, p=area / area.sum())
    share = rng.dirichlet([1, 1, 1], count)
    return one["triangles"][triangle], share


def between(values, corners, share):
    return np.einsum("nk,nkj->nj", share, values[corners].astype(float))


def unit(rows):
    return rows / np.linalg.norm(rows, axis=1, keepdims=True)


def in_model(rows):
    """From glTF's axes to the model's."""
    return rows[:, [0, 2, 1]] * (1, -1, 1)


def nearest_triangles(points, places, triangles):
    """Which triangle VTK finds nearest to each point."""
    # Loading all of it takes seconds.
    import vtk
    from vtk.util.numpy_support import numpy_to_vtk

    mesh = vtk.vtkPolyData()
    held = vtk.vtkPoints()
    held.SetDataTypeToDouble()
    held.SetData(numpy_to_vtk(np.ascontiguousarray(places)))
    cells = vtk.vtkCellArray()
    for triangle in triangles.tolist():
        cells.InsertNextCell(3, triangle)
    mesh.SetPoints(held)
    mesh.SetPolys(cells)
    locator = vtk.vtkStaticCellLocator()
    locator.SetDataSet(mesh)
    locator.BuildLocator()
    found, at, part, distance = vtk.mutable(0), [0.0] * 3, vtk.mutable(0), vtk.mutable(0.0)
    out = []
    for point in points:
        locator.FindClosestPoint(point, at, found, part, distance)
        out.append(int(found))
    return np.array(out)


def evaluated(folder, points, normals):
    """What the core says of points, on the face that VTK finds nearest."""
    recipe = read_recipe((folder / "recipe.json").read_text())
    imported = read_model("model.obj", (folder / "model.obj").read_bytes(), Folder(folder), unit="mm", up="z")
    surface = Surface(imported.mesh)
    (finish,) = recipe.to_core()
    coated = Schedule(surface, "m", {"F1": finish}, KeepAll()).coated("F1")
    nearest = nearest_triangles(points, surface.mesh.points, surface.mesh.corners[surface.triangles])
    textures = {}
    for key, stated in recipe.materials.items():
        images = {
            str(c): encode(np.asarray(PIL.Image.open(folder / name)) / 255)
            for c, name in stated.images.items()
        }
        textures[key] = textures_of(images, 0.0)
    at = coated.places(points, normals, surface.triangle_face[nearest])
    return coated.evaluate(at, textures)


def test_5000_points_read_back_are_what_the_core_evaluates(baked, record_property):
    (one,) = primitives((baked / "out.glb").read_bytes())
    corners, share = scattered(one, 5000, np.random.default_rng(5))
    uv = between(one["uv"], corners, share)
    normals = unit(between(one["normals"], corners, share))
    want = evaluated(baked, in_model(between(one["points"], corners, share)) * 1000, in_model(normals))
    images = one["images"]
    packed = bilinear(images["packed"], uv) / 255
    # Looked up in light, as a reader of glTF does.
    seen = {
        "base_color": bilinear(srgb.decoded(images["base_color"] / 255), uv),
        "roughness": packed[:, 1],
        "metallic": packed[:, 2] * one["metal"],
        "occlusion": bilinear(images["occlusion"], uv)[:, 0] / 255,
    }
    for channel in CHANNELS:
        off = np.abs(srgb.coded(seen[channel]) - srgb.coded(getattr(want, channel))) if channel == "base_color" else (
            np.abs(seen[channel] - getattr(want, channel)))  # fmt: skip
        record_property(channel, float(off.mean() * 255))
        assert off.mean() * 255 < 3, channel
        assert np.percentile(off, 99) * 255 < 12, channel
    tangent = unit(between(one["tangents"][:, :3], corners, share))
    across = unit(np.cross(normals, tangent) * one["tangents"][corners[:, 0], 3:])
    x, y, z = (bilinear(images["normal"], uv) / 255 * 2 - 1).T
    bent = unit(tangent * x[:, None] + across * y[:, None] + normals * z[:, None])
    off = np.abs(in_model(bent) - want.normal) / 2
    record_property("normal", float(off.mean() * 255))
    assert off.mean() * 255 < 3


def test_the_heights_beside_it_are_the_evaluated_mm(baked, capsys):
    (one,) = primitives((baked / "out.glb").read_bytes())
    corners, share = scattered(one, 2000, np.random.default_rng(6))
    normals = unit(between(one["normals"], corners, share))
    want = evaluated(baked, in_model(between(one["points"], corners, share)) * 1000, in_model(normals))
    picture = PIL.Image.open(baked / "out_height_1.png")
    assert picture.mode == "I;16"
    seen = bilinear(np.asarray(picture), between(one["uv"], corners, share))[:, 0] / 65535
    # What black and white are is told; here it is fitted, and has to fit.
    slope, base = np.polyfit(seen, want.height, 1)
    assert np.abs(seen * slope + base - want.height).mean() < 0.02 * np.ptp(want.height)


def test_the_validator_finds_nothing(baked):
    found = validated(baked / "out.glb")
    assert (found["numErrors"], found["numWarnings"]) == (0, 0), found["messages"]


def test_the_density_is_as_promised(baked):
    (one,) = primitives((baked / "out.glb").read_bytes())
    height, width = one["images"]["base_color"].shape[:2]
    px = one["uv"].astype(float) * (width, height)
    corners = one["triangles"]

    def areas(values):
        u, v = (values[corners[:, k]] - values[corners[:, 0]] for k in (1, 2))
        return np.linalg.norm(np.cross(u, v), axis=1)

    solid = areas(one["points"].astype(float))
    flat = areas(np.column_stack([px, np.zeros(len(px))]))
    density = WORK["boulder" if len(corners) > 1000 else "wall"][3]
    # On the whole as asked, and on every face of the wall, which is flat.
    assert np.sqrt(flat.sum() / solid.sum()) == pytest.approx(density, rel=0.005)
    if len(corners) < 1000:
        large = solid > 1e-4
        np.testing.assert_allclose(np.sqrt(flat[large] / solid[large]), density, rtol=0.02)
