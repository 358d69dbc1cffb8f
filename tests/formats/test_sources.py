"""What a model brings: materials, images and UV sets, through the readers, the store and the writers.

Files are written by trimesh 5 and by the CAD kernel; Pivrel's own come back to it twice.
"""

import io
import json
from dataclasses import replace

import numpy as np
import PIL.Image
import pytest
import trimesh
from pygltflib import GLTF2
from trimesh.visual import TextureVisuals
from trimesh.visual.material import PBRMaterial, SimpleMaterial

from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.mesh import SourceMaterial, SourceTexture
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying.finish import Finish
from pivrel.core.measure.uv_scale import uv_scale
from pivrel.core.picks import Faces
from pivrel.core.projection import Box
from pivrel.core.sheet import Material
from pivrel.formats.bundle import Upload
from pivrel.formats.convention import Convention
from pivrel.formats.laid import Look
from pivrel.formats.model.gltf_data import split_glb
from pivrel.formats.reading import read_model
from pivrel.materials.images import Image
from pivrel.project.sources import estimated_size
from pivrel.store import meshes
from tests.formats.cad import step_bytes
from tests.laying import handed_over, laid_model


def picture(seed, size=(24, 16), mode="RGB"):
    pixels = np.random.default_rng(seed).integers(0, 255, (size[1], size[0], len(mode)), dtype=np.uint8)
    return PIL.Image.fromarray(pixels, mode)


def png(image):
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def textured_box(extents=(0.6, 0.4, 0.25), at=(0, 0, 0), material=None):
    """A box of metres with its own UVs: half a metre of surface is one UV unit."""
    box = trimesh.creation.box(extents)
    box.unmerge_vertices()
    normal = box.vertex_normals
    axis = np.argmax(np.abs(normal), axis=1)
    flat = np.array([np.delete(v, a) for v, a in zip(box.vertices, axis, strict=True)])
    box.visual = TextureVisuals(uv=flat * 2.0 + (0.1, 0.7), material=material)
    box.apply_translation(at)
    return box


def scene(kind):
    if kind == "obj":
        material = SimpleMaterial(image=picture(1), diffuse=(200, 120, 40, 255), name="walnut")
        return trimesh.Scene([textured_box(material=material)])
    one = PBRMaterial(
        name="walnut", baseColorFactor=(230, 200, 180, 255), metallicFactor=0.25, roughnessFactor=0.65,
        baseColorTexture=picture(1), normalTexture=picture(2), metallicRoughnessTexture=picture(3),
        occlusionTexture=picture(4), emissiveTexture=picture(5), emissiveFactor=(0.1, 0.2, 0.3), doubleSided=True,
    )  # fmt: skip
    two = PBRMaterial(
        name="glass",
        baseColorFactor=(20, 40, 60, 128),
        metallicFactor=0.0,
        roughnessFactor=0.05,
        alphaMode="BLEND",
    )
    cut = PBRMaterial(
        name="leaf", baseColorTexture=picture(6, mode="RGBA"), alphaMode="MASK", alphaCutoff=0.4
    )
    boxes = {
        "A": textured_box(material=one),
        "B": textured_box(at=(1, 0, 0), material=two),
        "C": textured_box(at=(2, 0, 0), material=cut),
    }
    return trimesh.Scene(boxes)


def written(kind):
    """(name of the model, files) as trimesh exports them."""
    if kind == "glb":
        return "m.glb", {"m.glb": scene("glb").export(file_type="glb")}
    if kind == "gltf":
        files = scene("gltf").export(file_type="gltf")
        return "model.gltf", dict(files)
    text, files = trimesh.exchange.obj.export_obj(
        scene("obj"), include_texture=True, return_texture=True, mtl_name="m.mtl"
    )
    return "m.obj", {"m.obj": text.encode(), **files}


def opened(name, files, **reading):
    return read_model(name, files[name], Upload(files), **reading)


def nothing_laid(imported):
    return laid_model(Surface(imported.mesh), [], [], imported.images, imported.image_names)


def handed_back(imported, suffix):
    files = handed_over(nothing_laid(imported), suffix, "out", imported.convention)
    return next(iter(files)), files


def uv_by_place(mesh):
    """(N, 5) each corner's place and first UVs, sorted, to compare meshes whose corners lie otherwise."""
    rows = np.column_stack([mesh.points[mesh.corners], mesh.uv_sets[0]])
    return rows[np.lexsort(np.round(rows, 4).T)]


@pytest.mark.parametrize("suffix", [".glb", ".gltf"])
@pytest.mark.parametrize("kind", ["glb", "gltf"])
def test_gltf_by_trimesh_is_handed_over_as_it_came(kind, suffix):
    name, files = written(kind)
    imported = opened(name, files)
    by_name = {s.name: s for s in imported.mesh.sources}
    walnut, glass, leaf = (by_name[n] for n in ("walnut", "glass", "leaf"))
    assert {c for c, _ in walnut.textures} == {
        "base_color",
        "normal",
        "metallic_roughness",
        "occlusion",
        "emissive",
    }
    assert (walnut.metallic, walnut.roughness, walnut.double_sided) == (0.25, 0.65, True)
    assert (glass.alpha, leaf.alpha, leaf.cutoff) == ("blend", "mask", 0.4)
    assert len(imported.images) == 6
    again_name, again_files = handed_back(imported, suffix)
    again = opened(again_name, again_files)
    assert set(again.images) == set(imported.images)
    assert {s: i.data for s, i in again.images.items()} == {s: i.data for s, i in imported.images.items()}
    assert {s.name: s for s in again.mesh.sources} == by_name
    np.testing.assert_allclose(uv_by_place(again.mesh), uv_by_place(imported.mesh), atol=1e-6)
    # Against trimesh's own reading of what Pivrel wrote, not only against Pivrel's.
    if suffix == ".glb":
        theirs = trimesh.load_scene(io.BytesIO(again_files[again_name]), file_type="glb")
        names = {m.visual.material.name for m in theirs.geometry.values()}
        assert names == {"walnut", "glass", "leaf"}
        own = next(m for m in theirs.geometry.values() if m.visual.material.name == "walnut").visual.material
        assert np.array_equal(np.asarray(own.baseColorTexture), np.asarray(picture(1)))
        assert own.roughnessFactor == 0.65 and own.metallicFactor == 0.25
        np.testing.assert_allclose(own.emissiveFactor, (0.1, 0.2, 0.3))


def test_the_bytes_of_each_image_are_those_of_the_file():
    name, files = written("glb")
    imported = opened(name, files)
    stated, binary = split_glb(files[name])
    root = json.loads(stated)
    views = [root["bufferViews"][i["bufferView"]] for i in root["images"]]
    theirs = {binary[v.get("byteOffset", 0) :][: v["byteLength"]] for v in views}
    _, out = handed_back(imported, ".glb")
    kept = GLTF2().load_from_bytes(out["out.glb"])
    own_views = [kept.bufferViews[i.bufferView] for i in kept.images]
    own = {bytes(kept.binary_blob()[v.byteOffset :][: v.byteLength]) for v in own_views}
    assert own == theirs and len(own) == 6


def test_obj_by_trimesh_keeps_image_uvs_and_color():
    name, files = written("obj")
    imported = opened(name, files, unit="m", up="y")
    (source,) = imported.mesh.sources
    assert source.rgba[:3] == pytest.approx(np.array([200, 120, 40]) / 255, abs=1e-6)
    sent = next(data for n, data in files.items() if n.endswith((".png", ".jpg")))
    assert [i.data for i in imported.images.values()] == [sent]
    again_name, again_files = handed_back(imported, ".obj")
    again = opened(again_name, again_files, unit="m", up="y")
    assert [i.data for i in again.images.values()] == [sent]
    (other,) = again.mesh.sources
    assert other.rgba == source.rgba and other.textures == source.textures and other.stated == source.stated
    np.testing.assert_allclose(uv_by_place(again.mesh), uv_by_place(imported.mesh), atol=1e-6)
    as_glb = opened(*handed_back(imported, ".glb"))
    assert [i.data for i in as_glb.images.values()] == [sent] and as_glb.mesh.sources[0].rgba == source.rgba


def test_a_step_with_colors_is_handed_over_in_them():
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox

    shapes = [
        ("Red", BRepPrimAPI_MakeBox(60, 40, 20).Shape()),
        ("Plain", BRepPrimAPI_MakeBox(30, 30, 30).Shape()),
    ]
    imported = read_model("m.step", step_bytes(shapes, colors={"Red": (0.8, 0.1, 0.2)}), Upload({}))
    color = next(s for s in imported.mesh.sources).rgba
    again = opened(*handed_back(imported, ".glb"))
    assert color in [s.rgba for s in again.mesh.sources]
    red = [imported.mesh.face_source == k for k, s in enumerate(imported.mesh.sources) if s.rgba == color]
    assert imported.mesh.part_names[imported.mesh.face_part[red[0]][0]] == "Fixture/Red"


def laid_by_pivrel():
    """A box with one side laid and the rest bare with what it came with, as Pivrel hands it over."""
    imported = opened(*written("glb"))
    base, rough, normal = (Image(png(picture(k))) for k in (11, 12, 13))
    finish = Finish(
        "Tiles", Material("tiles", (300.0, 200.0)), Faces((0, 1, 14)), Box(), Datum(), turn_deg=30.0
    )
    look = Look({"base_color": base, "roughness": rough, "normal": normal}, 0.2)
    model = laid_model(Surface(imported.mesh), [finish], [(look,) * 3], imported.images, imported.image_names)
    return handed_over(model, ".glb", "out", Convention.of("m", "y"))["out.glb"], (base, rough, normal)


def test_pivrels_own_glb_opened_and_handed_over_twice_changes_nothing():
    first, (base, _, normal) = laid_by_pivrel()
    imported = read_model("out.glb", first, Upload({}))
    tiles = next(s for s in imported.mesh.sources if s.name == "Tiles")
    assert imported.images[tiles.texture("base_color").image].data == base.data
    assert imported.images[tiles.texture("normal").image].data == normal.data
    _, second = handed_back(imported, ".glb")
    back = read_model("out.glb", second["out.glb"], Upload({}))
    _, third = handed_back(back, ".glb")
    assert second["out.glb"] == third["out.glb"], "byte for byte from the second time on"
    assert set(back.images) == set(imported.images)
    assert {s.name: s for s in back.mesh.sources} == {s.name: s for s in imported.mesh.sources}
    np.testing.assert_allclose(uv_by_place(back.mesh), uv_by_place(imported.mesh), atol=1e-6)
    assert back.mesh.part_names == imported.mesh.part_names
    np.testing.assert_allclose(
        np.sort(back.mesh.points, axis=0)[::9], np.sort(imported.mesh.points, axis=0)[::9], atol=1e-3
    )


def test_wrap_transform_and_second_uv_set_are_kept(tmp_path):
    name, files = written("glb")
    gltf = GLTF2().load_from_bytes(files[name])
    text = json.loads(gltf.to_json())
    text["samplers"] = [{"wrapS": 33071, "wrapT": 33648}]
    for texture in text["textures"]:
        texture["sampler"] = 0
    info = text["materials"][0]["pbrMetallicRoughness"]["baseColorTexture"]
    info["extensions"] = {"KHR_texture_transform": {"offset": [0.25, 0.5], "scale": [2, 3], "rotation": 0.4}}
    info["texCoord"] = 1
    for mesh in text["meshes"]:
        for primitive in mesh["primitives"]:
            primitive["attributes"]["TEXCOORD_1"] = primitive["attributes"]["TEXCOORD_0"]
    text["buffers"][0]["uri"] = "a.bin"
    upload = {"a.gltf": json.dumps(text).encode(), "a.bin": gltf.binary_blob()}
    imported = opened("a.gltf", upload)
    assert len(imported.mesh.uv_sets) == 2
    moved = next(
        s.texture("base_color") for s in imported.mesh.sources if s.name == text["materials"][0]["name"]
    )
    assert moved == SourceTexture(moved.image, 1, ("clamp", "mirror"), (0.25, 0.5), (2.0, 3.0), 0.4)
    again = opened(*handed_back(imported, ".gltf"))
    assert {s.name: s for s in again.mesh.sources} == {s.name: s for s in imported.mesh.sources}
    assert len(again.mesh.uv_sets) == 2


MTL = """newmtl oak
Ka 0.2 0.2 0.2
Kd 0.8 0.6 0.4
Ks 0.1 0.1 0.1
Ns 42.5
Ke 0.1 0 0
illum 2
d 0.5
Pr 0.3
Pm 0.7
map_Kd -s 2 3 1 -o 0.5 0.25 0 oak base.png
norm -bm 0.8 n.png
map_Pr r.png
map_Pm -clamp on m.png
map_Ks s.png
"""
QUAD = "mtllib a.mtl\nv 0 0 0\nv 1 0 0\nv 1 1 0\nv 0 1 0\nvt 0 0\nvt 2 0\nvt 2 2.5 0\nvt 0 2.5\nusemtl oak\nf 1/1 2/2 3/3 4/4\n"


def obj_files(**less):
    files = {"a.obj": QUAD.encode(), "a.mtl": MTL.encode()}
    files |= {f"{n}.png": png(picture(k)) for k, n in enumerate(("oak base", "n", "r", "m", "s"))}
    return {n: d for n, d in files.items() if n not in less.get("without", ())}


def test_every_line_of_an_mtl_is_handed_on():
    imported = opened("a.obj", obj_files(), unit="m", up="z")
    (oak,) = imported.mesh.sources
    assert oak.rgba == (0.8, 0.6, 0.4, 0.5) and (oak.roughness, oak.metallic, oak.emissive) == (
        0.3,
        0.7,
        (0.1, 0, 0),
    )
    assert oak.texture("base_color").scale == (2, 3) and oak.texture("base_color").offset == (0.5, -2.25)
    assert oak.texture("metallic").wrap == ("clamp", "clamp")
    np.testing.assert_array_equal(imported.mesh.uv_sets[0], [(0, 0), (2, 0), (2, 2.5), (0, 2.5)])
    name, files = handed_back(imported, ".obj")
    again = opened(name, files, unit="m", up="z")
    assert again.mesh.sources == (oak,)
    for line in ("Ka 0.2 0.2 0.2", "Ks 0.1 0.1 0.1", "Ns 42.5", "illum 2"):
        assert line in files["out.mtl"].decode().splitlines()
    as_glb = opened(*handed_back(imported, ".glb"))
    packed = as_glb.images[as_glb.mesh.sources[0].texture("metallic_roughness").image]
    with PIL.Image.open(io.BytesIO(packed.data)) as image:
        r, m = (np.asarray(picture(k).convert("L")) for k in (2, 3))
        np.testing.assert_array_equal(np.asarray(image)[..., 1], r)
        np.testing.assert_array_equal(np.asarray(image)[..., 2], m)


@pytest.mark.parametrize("broken", [b"not an image", png(picture(1))[:60]])
def test_missing_and_unreadable_images_are_said_and_the_model_comes_in(broken):
    files = obj_files(without=("n.png",)) | {"r.png": broken}
    imported = opened("a.obj", files, unit="m", up="z")
    assert any("'n.png' is missing" in line for line in imported.found)
    assert any("'r.png' cannot be read" in line for line in imported.found)
    assert {c for c, _ in imported.mesh.sources[0].textures} == {"base_color", "metallic", "specular"}
    name, made = written("gltf")
    lacking = {n: d for n, d in made.items() if not n.endswith("image_0.png")}
    gone = set(made) - set(lacking)
    if gone:
        found = opened(name, lacking)
        assert any("missing" in line for line in found.found) and found.mesh.face_count == 36


def test_sources_survive_the_store():
    imported = opened(*written("glb"))
    back = meshes.read_mesh(meshes.mesh_data(imported.mesh))
    assert back.sources == imported.mesh.sources
    np.testing.assert_array_equal(back.uv_sets[0], imported.mesh.uv_sets[0])
    plain = SourceMaterial("old", (0.1, 0.2, 0.3, 1.0))
    assert meshes._source(["old", [0.1, 0.2, 0.3, 1.0]]) == plain, "as an earlier version kept it"


def test_the_size_of_an_image_is_estimated_from_its_uvs():
    """Half a metre of the box is one UV unit, whatever the side; the median does not mind a few odd faces."""
    imported = opened(*written("glb"))
    surface = Surface(imported.mesh)
    walnut = next(k for k, s in enumerate(imported.mesh.sources) if s.name == "walnut")
    faces = np.flatnonzero(imported.mesh.face_source == walnut).astype(np.int32)
    found = uv_scale(surface, faces, imported.mesh.uv_sets[0], (1.0, 1.0))
    assert (found.width_mm, found.height_mm) == pytest.approx(
        (500, 500), rel=1e-6
    ) and found.true_share == pytest.approx(1)
    twice = uv_scale(surface, faces, imported.mesh.uv_sets[0], (2.0, 1.0))
    assert (twice.width_mm, twice.height_mm) == pytest.approx((250, 500), rel=1e-6), (
        "where the image is repeated twice a unit"
    )
    assert uv_scale(surface, faces, np.zeros_like(imported.mesh.uv_sets[0]), (1.0, 1.0)) is None


@pytest.mark.parametrize(
    ("channels", "size"),
    [(("base_color",), 250), (("roughness",), 500), (("roughness", "base_color"), 250), ((), None)],
    ids=lambda given: "+".join(given) or "none" if isinstance(given, tuple) else "",
)
def test_the_size_of_a_source_is_that_of_its_base_color_or_else_of_its_first_image(channels, size):
    """The base color lies by a UV set that is twice as fine as that of the roughness."""
    imported = opened(*written("glb"))
    coarse = imported.mesh.uv_sets[0]
    number = next(k for k, s in enumerate(imported.mesh.sources) if s.name == "walnut")
    lies = {"roughness": SourceTexture("r", uv_set=0), "base_color": SourceTexture("b", uv_set=1)}
    sources = list(imported.mesh.sources)
    sources[number] = replace(sources[number], textures=tuple((name, lies[name]) for name in channels))
    mesh = replace(imported.mesh, uv_sets=(coarse, 2 * coarse), sources=tuple(sources))
    found = estimated_size(Surface(mesh), number)
    assert (found and (found.width_mm, found.height_mm)) == (size and pytest.approx((size, size), rel=1e-6))
