"""The flat view as a picture: taken out, painted by other hands, and laid again at the same place."""

import io
import json

import numpy as np
import PIL.Image
import pytest
import trimesh

from tests.shapes import cuboid
from tests.web.test_flat import DEEP, HIGH, WIDE, box

__all__ = ["box"]

DOT = (255, 0, 255)


def taken_out(asking, **asked):
    answer = asking.client.get(f"{asking.path}/flat/F1.png", query_string=asked)
    assert answer.status_code == 200, answer.json
    return answer.data


def opened(data):
    picture = PIL.Image.open(io.BytesIO(data))
    return picture, json.loads(picture.info["Pivrel"])


def brought_back(asking, picture, noted=True, name="painted.png", **asked):
    out = io.BytesIO()
    note = PIL.PngImagePlugin.PngInfo()
    if noted:
        note.add_text("Pivrel", picture.info["Pivrel"])
    picture.save(out, "PNG", pnginfo=note)
    out.seek(0)
    return asking.client.post(
        f"{asking.path}/flat/F1/painted", data={"files": (out, name)}, query_string=asked
    )


def laid(asking, answer):
    assert answer.status_code == 201, answer.json
    told = answer.json
    return asking.edit(kind="lay_picture", finish="F1", material=told["material"], low_mm=told["low_mm"])


def on_the_model(asking, place):
    """(3,) mm where on the model a place of the sheet lies, by the flat view."""
    _, arrays = asking.flat()
    st = arrays["st"].reshape(-1, 4, 2)
    for row, face in enumerate(arrays["faces"]):
        (a, b, _, d), points = st[row], BOX[face]
        x, y = np.linalg.solve(np.column_stack([b - a, d - a]), np.asarray(place) - a)
        if 0 <= x <= 1 and 0 <= y <= 1:
            return points[0] + x * (points[1] - points[0]) + y * (points[3] - points[0])
    raise AssertionError("nothing lies there")


MESH = cuboid(WIDE, DEEP, HIGH)
BOX = MESH.points[MESH.corners].reshape(-1, 4, 3)


def shown_at(asking, point):
    """The image of the hand-over's material, and the pixel (from the left and the top) that lies at a place of the model."""
    answer = asking.client.get(f"{asking.path}/handover/glb")
    scene = trimesh.load_scene(io.BytesIO(answer.data), file_type="glb")
    x, y, z = point
    wanted = np.array([[x, z, -y]]) / 1000
    best = (np.inf, PIL.Image.new("RGB", (1, 1)), np.zeros(2))
    for name in scene.graph.nodes_geometry:
        transform, geometry = scene.graph[name]
        mesh = scene.geometry[geometry].copy().apply_transform(transform)
        near, off, triangle = trimesh.proximity.closest_point_naive(mesh, wanted)
        if off[0] < best[0]:
            corners = mesh.faces[triangle[0]]
            share = trimesh.triangles.points_to_barycentric(mesh.vertices[corners][None], near)[0]
            uv = share @ mesh.visual.uv[corners]
            best = off[0], mesh.visual.material.baseColorTexture, uv
    assert best[0] < 1e-6
    _, image, (u, v) = best
    return image, np.array([u * image.width, (1 - v) * image.height])


@pytest.mark.parametrize("projection", ["flatten", "box"])
def test_painted_dots_come_out_at_their_places_on_the_model(box, projection):
    if projection == "box":
        box.edit(kind="set_projection", finishes=["F1"], projection={"kind": "box"})
    box.edit(kind="turn_by", finishes=["F1"], turn_by=17)
    if projection == "box":
        box.edit(kind="arrange_pieces", finish="F1", pick={"all": True}, how="packed")
    picture, note = opened(taken_out(box, per_m=2000, bleed_mm="8 mm"))
    assert np.allclose(picture.info["dpi"], 50.8, atol=0.01), "true to size on paper too"
    low, size = np.array(note["low_mm"]), np.array(note["size_mm"])
    np.testing.assert_allclose(size * 2, picture.size, atol=1e-6)
    header, _ = box.flat()
    dots = []
    for piece in header["pieces"]:
        a = np.array(piece["box_mm"])
        middle = (a[:2] + a[2:]) / 2 + [7.3, -4.1]
        x, y = np.floor((middle - low) * 2).astype(int)
        y = picture.height - 1 - y
        picture.putpixel((int(x), int(y)), DOT)
        at = low + (np.array([x, picture.height - y]) + [0.5, -0.5]) / 2
        dots.append(((x, y), on_the_model(box, at)))
    assert len(dots) >= 4
    state = laid(box, brought_back(box, picture))
    assert state["finishes"][0]["tile"] is False
    assert box.flat()[0]["overlap_m2"] == 0
    for (x, y), point in dots:
        image, at = shown_at(box, point)
        assert image.size == picture.size
        off = at - (np.array([x, y]) + 0.5)
        assert np.abs(off).max() < 0.02, "pixels"
        assert image.getpixel((int(at[0]), int(at[1])))[:3] == DOT
    box.step("undo")
    assert box.state["finishes"][0]["material"] == "oak"


def test_the_picture_shows_sheet_checker_or_nothing_within_the_bleed(box):
    narrow, _ = opened(taken_out(box, longest=600, bleed_mm=0, outlines=False))
    assert max(narrow.size) == 600
    wide, note = opened(taken_out(box, per_m=500, bleed_mm="20 mm", outlines=True))
    pixels = np.asarray(wide).astype(int)
    beside = np.array([238, 236, 229])
    header, _ = box.flat()
    a = np.array(header["pieces"][0]["box_mm"])
    column = int(((a[0] + a[2]) / 2 - note["low_mm"][0]) * 0.5)

    def shown(t):
        row = wide.height - 1 - int((t - note["low_mm"][1]) * 0.5)
        return pixels[row, column]

    assert (shown(a[1] - 10) != beside).any(), "the sheet goes on over the bleed"
    lowest = min(p["box_mm"][1] for p in header["pieces"])
    assert lowest == pytest.approx(note["low_mm"][1] + 20)
    dark = (pixels == [31, 36, 33]).all(axis=2)
    assert dark.sum() > 500
    plain, _ = opened(taken_out(box, per_m=500, bleed_mm=0, shows="plain", outlines=False))
    assert len(plain.getcolors()) == 2
    checker, _ = opened(taken_out(box, per_m=500, bleed_mm=0, shows="checker", square_mm=50))
    assert len(checker.getcolors(1 << 20)) > 20


def test_the_sheet_in_the_picture_is_where_it_lies(box):
    """The material in the picture, pixel for pixel, is what the hand-over shows at the same place."""
    picture, note = opened(taken_out(box, per_m=1000, bleed_mm=0, outlines=False))
    box.edit(kind="arrange_pieces", finish="F1", pick={"all": True}, how="apart")
    close = 0
    for piece in box.flat()[0]["pieces"]:
        a = np.array(piece["box_mm"])
        for share in (0.31, 0.62):
            place = a[:2] + share * (a[2:] - a[:2])
            image, at = shown_at(box, on_the_model(box, place))
            there = image.getpixel((int(at[0]) % image.width, int(at[1]) % image.height))
            x, y = (place - note["low_mm"]) * [1, 1]
            here = picture.getpixel((int(x), int(picture.height - y)))
            close += np.abs(np.subtract(here, there[:3])).max() < 40
    assert close >= 10, "of 12; the picture shows fewer pixels than the image has"


def test_what_cannot_be_a_picture_or_its_place_is_refused_in_one_sentence(box):
    refused = box.client.get(f"{box.path}/flat/F1.png", query_string={"per_m": 100000})
    assert refused.status_code == 422 and "ask for" in refused.json["error"]
    picture, _ = opened(taken_out(box, longest=512))
    cut = picture.crop((0, 0, picture.width // 2, picture.height))
    cut.info = picture.info
    assert "cut or squeezed" in brought_back(box, cut).json["error"]
    # Twice as many pixels of the same sides are the same picture.
    larger = picture.resize((picture.width * 2, picture.height * 2))
    larger.info = picture.info
    assert brought_back(box, larger).status_code == 201
    # A program that drops the note: the pieces as they lie now.
    answer = brought_back(box, picture, noted=False, longest=512)
    assert "no longer notes its place" in answer.json["said"]
    assert answer.json["low_mm"] == pytest.approx(json.loads(picture.info["Pivrel"])["low_mm"])
    box.edit(kind="move_pieces", finish="F1", pick={"faces": [2]}, shift_mm=[5, 0])
    assert "have moved" in brought_back(box, picture).json["said"]
    assert box.client.get(f"{box.path}/flat/F9.png").status_code == 404
    box.edit(kind="drop_adjustment", finish="F1")
    box.edit(kind="set_projection", finishes=["F1"], projection={"kind": "triplanar"})
    refused = box.client.get(f"{box.path}/flat/F1.png")
    assert "blends three sheets" in refused.json["error"]


def test_a_picture_on_what_runs_on_lies_in_its_place_too(box):
    box.edit(kind="set_projection", finishes=["F1"], projection={"kind": "box"})
    box.edit(kind="run_on", finishes=["F1"], run_on=True)
    picture, note = opened(taken_out(box, per_m=500))
    before = box.flat()[1]["st"].reshape(-1, 2)
    laid(box, brought_back(box, picture))
    after = box.flat()[1]["st"].reshape(-1, 2)
    np.testing.assert_allclose(after, before - np.array(note["low_mm"]), atol=0.02)
