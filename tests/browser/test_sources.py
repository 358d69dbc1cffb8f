"""A textured model opened in the page: its images are seen, taken as a material, laid, and handed over as they came."""

import io
import json

import numpy as np
import PIL.Image
import pytest
import trimesh
from trimesh.visual.material import PBRMaterial, SimpleMaterial

from pivrel.formats.model.gltf_data import split_glb
from tests.formats.test_handover import validated
from tests.formats.test_sources import textured_box
from tests.lengths import some

RED, CREAM = (180, 40, 40), (240, 220, 200)


def checked():
    pixels = np.zeros((128, 128, 3), np.uint8)
    for i in range(4):
        for j in range(4):
            pixels[i * 32 : i * 32 + 32, j * 32 : j * 32 + 32] = RED if (i + j) % 2 else CREAM
    return PIL.Image.fromarray(pixels)


def glb(folder):
    material = PBRMaterial(
        name="Checked cloth", baseColorTexture=checked(), metallicFactor=0.0, roughnessFactor=0.9
    )
    scene = trimesh.Scene({"Box": textured_box(material=material)})
    (folder / "cloth.glb").write_bytes(scene.export(file_type="glb"))
    return [folder / "cloth.glb"]


def obj(folder):
    material = SimpleMaterial(image=checked(), diffuse=(255, 255, 255, 255), name="Checked_cloth")
    text, files = trimesh.exchange.obj.export_obj(
        textured_box(material=material), include_texture=True, return_texture=True, mtl_name="cloth.mtl"
    )
    (folder / "cloth.obj").write_text(text)
    for name, data in files.items():
        (folder / name).write_bytes(data)
    return [folder / "cloth.obj", *(folder / name for name in files)]


def share_of(pixels, color, within=0.07):
    """The share of pixels that have about the hue of a color, in whatever light."""
    total = pixels.sum(axis=2, keepdims=True).clip(1)
    wanted = np.array(color) / sum(color)
    return float((np.abs(pixels / total - wanted).max(axis=2) < within).mean())


def images_of(data):
    text, binary = split_glb(data)
    root = json.loads(text)
    views = [root["bufferViews"][image["bufferView"]] for image in root["images"]]
    return [binary[v.get("byteOffset", 0) :][: v["byteLength"]] for v in views]


@pytest.mark.pixels
@pytest.mark.parametrize("made_by", some([glb, obj], 1))
def test_a_textured_model_from_opening_to_hand_over(browser, server, tmp_path, made_by):
    paths = made_by(tmp_path)
    browser.open("/")
    browser.css("[data-testid=model-files]").send_keys("\n".join(map(str, paths)))
    browser.shows("The check")
    assert browser.text("[data-testid=import-brings]") == "1 material · 1 image · 1 UV set"
    if made_by is obj:
        browser.choose("Unit", "button[.='m']")
        browser.until(lambda: "600" in browser.text("[data-testid=import-size]"), "600 mm")
    browser.click("Open as a project")
    browser.shown()
    browser.settle()
    seen = browser.pixels()
    # The tone curve takes off what a surface mirrors, which makes a dark red redder.
    assert share_of(seen, RED, 0.13) > 0.05, "the image is seen on the bare faces"
    assert share_of(seen, CREAM) > 0.05

    browser.click("Model")
    browser.item("Materials that it brought")
    browser.shows("lies at about 500 × 500 mm")
    browser.click("Take as a material")
    browser.shows("is an estimate")
    browser.shows("(estimated)")
    browser.press("2")
    browser.click_model(-60, 40)
    browser.until(lambda: "patch" in browser.picked(), "a side")
    browser.click("Lay on the pick")
    project = int(browser.driver.current_url.rsplit("/", 1)[1])
    path = f"/api/projects/{project}"
    browser.until(lambda: server.ask("GET", path)["finishes"], "laid")
    state = server.ask("GET", path)
    (finish,) = state["finishes"]
    assert finish["repeat_mm"] == pytest.approx([500, 500], abs=0.01)
    assert state["materials"][finish["material"]]["estimated"] is True
    browser.shown(state["revision"])
    browser.click("As it came")
    browser.shows("as the model came: 1 material, 1 image, 1 UV set")
    browser.settle()
    assert share_of(browser.pixels(), RED, 0.13) > 0.05

    browser.click("Undo")
    browser.until(lambda: not server.ask("GET", path)["finishes"], "undone")
    browser.click("Hand-over")
    browser.css("[data-testid=download-glb]").click()
    out = browser.downloaded("cloth.glb")
    source = next(p for p in paths if p.suffix in (".glb", ".png", ".jpg"))
    sent = images_of(source.read_bytes()) if source.suffix == ".glb" else [source.read_bytes()]
    assert images_of(out) == sent, "byte for byte what came in"
    (tmp_path / "out.glb").write_bytes(out)
    theirs = trimesh.load_scene(io.BytesIO(out), file_type="glb")
    (mesh,) = theirs.geometry.values()
    assert np.array_equal(
        np.asarray(mesh.visual.material.baseColorTexture.convert("RGB")), np.asarray(checked())
    )
    assert validated(tmp_path / "out.glb")["numErrors"] == 0
