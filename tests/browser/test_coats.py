"""Coats in the view against the core's own evaluation, pixel by pixel."""

from __future__ import annotations

import json
from io import BytesIO

import numpy as np
import PIL.Image
import pytest
from selenium.webdriver import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

from pivrel.core.cache import KeepAll
from pivrel.core.evaluation.textures import Textures
from pivrel.core.geometry.surface import Surface
from pivrel.core.schedule import Schedule
from pivrel.materials.images import decode, encode
from pivrel.recipe import JointsModel, read_recipe
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
from tests.browser.pixels import linear, rounded_body, seen, soft_image, stored
from tests.conftest import facts_of
from tests.lengths import some
from tests.shapes import cuboid, mesh_of

REPEAT = (900.0, 650.0)
JOINTS = {"unit_mm": [150, 65], "width_mm": 0, "at_mm": [20, 10], "bond": 0.5}
DATUM = {"origin_mm": [30, -20, 10], "x_axis": [1, 0.3, 0], "z_axis": [0.1, 0, 1]}
KEYS = ("coat0", "coat1", "coat2")

FADE = {"fade": {"from_mm": [0, 0, -400], "to_mm": [80, 60, 380], "ease": "smooth"}}
NOISE = {"noise": {"size_mm": 320, "seed": 5, "low": 0.35, "high": 0.65, "octaves": 3}}
STROKES = {"strokes": {"lines": [{"points_mm": [[-300, -480, 0], [0, -540, 200], [300, -480, 150]], "radius_mm": 60}], "soft_mm": 90}}  # fmt: skip

FINISHES = {
    "fade, seams and strokes over a box": {
        "projection": {"kind": "box", "corners": "separate"},
        "spread": {"by": "unit", "lightness": 0.05, "seed": 3},
        "toned": [{"pick": {"facing": [1, -1, 0], "within_deg": 40}, "tint": "#e8ffd8", "lightness": 0.7}],
        "coats": [
            {"name": "Faded", "material": "coat1", "where": FADE, "strength": 0.9},
            {"name": "Along the seams", "material": "coat2", "projection": {"kind": "triplanar"}, "datum": DATUM,
             "turn_deg": 90, "where": {"seams": {"within_mm": 50, "soft_mm": 70}}},
            {"name": "Brushed", "tint": "#e0a040", "where": STROKES, "channels": {"base_color": "multiply"}},
        ],
    },
    "planar over triplanar, by facing, band and noise": {
        "projection": {"kind": "triplanar", "blend": 0.4}, "turn_deg": 20,
        "coats": [
            {"name": "Leak", "material": "coat1", "projection": {"kind": "planar"}, "turn_deg": 30,
             "offset_mm": [40, 90], "scale": [1.2, 0.9], "datum": {"origin_mm": [0, -600, 0], "x_axis": [1, 0, 0], "z_axis": [0, -1, 0]},
             "channels": {"base_color": "multiply"},
             "where": {"every": [{"not": {"facing": {"direction": [0, 0, 1], "within_deg": 20, "soft_deg": 50}}}, NOISE]}},
            {"name": "Band", "material": "coat2", "turn_deg": 90,
             "where": {"any": [{"band": {"direction": [0, 0, 1], "from_mm": -100, "to_mm": 60, "soft_mm": 120}},
                               {"fade_round": {"centre_mm": [200, -500, 300], "radii_mm": [250, 60], "ease": "linear"}}]}},
            {"name": "Image", "tint": "#304060", "strength": 0.7,
             "where": {"image": {"material": "coat2", "channel": "base_color", "low": 0.1, "high": 0.5,
                                 "projection": {"kind": "cylindrical"}, "datum": DATUM}}},
        ],
    },
    "cells of a triplanar, cells of a coat": {
        "projection": {"kind": "triplanar"}, "tint": "#d8e8ff", "lightness": 1.1,
        "spread": {"by": "cell", "lightness": 0.2, "seed": 3},
        "cells": {"size_mm": 260, "width_mm": 60, "turn_deg": "quarters", "shift": True, "seed": 3},
        "coats": [
            {"name": "Turned", "material": "coat1", "projection": {"kind": "box", "corners": "separate"}, "datum": DATUM,
             "cells": {"size_mm": 300, "width_mm": 90, "turn_deg": 40, "shift": False, "seed": 9},
             "where": {"fade_about": {"origin_mm": [0, 0, 0], "axis": [0, 0.2, 1], "radii_mm": [250, 520], "ease": "linear"}}},
            {"name": "Off", "material": "coat2", "on": False},
            {"name": "Edges", "tint": "#ffffff", "where": {"edges": {"kind": "both", "angle_deg": 1, "within_mm": 4, "soft_mm": 60}},
             "strength": 0.3},
        ],
    },
}  # fmt: skip


@pytest.fixture(scope="module")
def soft_materials(server):
    """Three materials whose colors change slowly, one of them see-through in places."""
    images = {key: soft_image(seed) for seed, key in enumerate(KEYS)}
    images["coat1"] = np.dstack([images["coat1"], 0.25 + 0.75 * soft_image(8)[..., 0]])
    database = Database(server.data)
    with database.transaction() as db:
        for key, image in images.items():
            body = LibraryBody(
                name=f"Soft {key}, made up", repeat_mm=REPEAT, grain_deg=0.0, metallic=0, use="test",
                joints=JointsModel.model_validate(JOINTS),
                images=blobs.put_images(db, {"base_color": encode(image)}),
            )  # fmt: skip
            projects.put_library(db, key, 90, body)
    yield {key: encode(image) for key, image in images.items()}
    with database.transaction() as db:
        db.execute("DELETE FROM library_material WHERE key LIKE 'coat_'")


@pytest.fixture
def body(server, browser, soft_materials):
    shape = rounded_body()
    mesh = mesh_of(shape.vertices, shape.faces)
    database = Database(server.data)
    with database.transaction() as db:
        facts = facts_of("body.obj", triangles=len(shape.faces))
        project = projects.create(db, "Coated body", blobs.put_mesh(db, mesh), facts)
    yield project, Surface(mesh)
    browser.leave()
    with database.transaction() as db:
        projects.delete(db, project)


@pytest.mark.pixels
@pytest.mark.parametrize("name", some(FINISHES, 2))
def test_pixels_of_coats_are_the_cores_own(browser, server, soft_materials, body, name):
    project, surface = body
    stated = FINISHES[name]
    path = f"/api/projects/{project}"
    lay = {
        "kind": "lay",
        "material": "coat0",
        "pick": {"all": True},
        "projection": stated["projection"],
        "datum": DATUM,
    }
    state = server.ask("POST", f"{path}/edits", {"revision": 0, "edit": lay})
    for edit in (
        {"kind": "turn_to", "turn_deg": stated.get("turn_deg", 0)},
        {"kind": "set_tone", "tint": stated.get("tint"), "lightness": stated.get("lightness", 1)},
        {"kind": "set_cells", "cells": stated.get("cells")},
        {"kind": "set_spread", "spread": stated.get("spread")},
        {"kind": "set_toned", "toned": stated.get("toned", [])},
        {"kind": "set_coats", "coats": stated["coats"]},
    ):
        state = server.ask(
            "POST", f"{path}/edits", {"revision": state["revision"], "edit": {**edit, "finishes": ["F1"]}}
        )
    browser.open(f"/projects/{project}")
    browser.shown(state["revision"])
    browser.press("o")
    browser.until(lambda: browser.button("Color").get_attribute("data-state") == "on", "the look")
    shown = seen(browser, surface)

    coats = state["finishes"][0]["coats"]
    recipe = {
        "recipe": 1,
        "materials": {key: {"name": key, "repeat_mm": REPEAT, "joints": JOINTS} for key in KEYS},
        "finishes": [{"name": "f", "material": "coat0", "pick": {"all": True}, "datum": DATUM, **stated, "coats": coats}],
    }  # fmt: skip
    (finish,) = read_recipe(json.dumps(recipe)).to_core()
    coated = Schedule(surface, "body", {"F1": finish}, KeepAll()).coated("F1")
    textures = {key: textures_of(image) for key, image in soft_materials.items()}
    at = coated.places(shown.points, shown.normals, shown.faces)
    want = stored(coated.evaluate(at, textures).base_color)
    difference = np.abs(shown.colors - want)
    assert difference.mean(axis=0).max() <= 2, difference.mean(axis=0)
    # A seam of the sheet beneath is no place to compare.
    assert (difference.max(axis=1) <= 12).mean() >= 0.98, np.sort(difference.max(axis=1))[-20:]
    assert shown.colors.std(axis=0).min() > 8, "there is a pattern to compare"


@pytest.mark.slow
@pytest.mark.pixels
def test_a_baked_finish_opened_again_looks_the_same(browser, server, soft_materials, body, tmp_path):
    project, surface = body
    stated = FINISHES["planar over triplanar, by facing, band and noise"]
    path = f"/api/projects/{project}"
    lay = {
        "kind": "lay",
        "material": "coat0",
        "pick": {"all": True},
        "projection": stated["projection"],
        "datum": DATUM,
    }
    state = server.ask("POST", f"{path}/edits", {"revision": 0, "edit": lay})
    coats = {"kind": "set_coats", "coats": stated["coats"], "finishes": ["F1"]}
    state = server.ask("POST", f"{path}/edits", {"revision": state["revision"], "edit": coats})
    browser.open(f"/projects/{project}")
    browser.shown(state["revision"])
    before = seen(browser, surface)

    browser.open(f"/projects/{project}/hand-over")
    browser.click("Bake to images…")
    browser.css("[data-testid=bake-plan]")
    browser.type("Pixels per metre", "400")
    browser.until(lambda: "400 px/m" in browser.text("[data-testid=bake-plan]"), "the new plan")
    assert "1 of " in browser.text("[data-testid=bake-plan]")
    browser.click("Bake 1 image a channel")
    browser.css("[data-testid=bake-done]")
    (tmp_path / "baked.glb").write_bytes(browser.downloaded("Coated_body_baked.glb"))
    browser.click("Close")

    browser.open("/")
    browser.css("[data-testid=model-files]").send_keys(str(tmp_path / "baked.glb"))
    browser.shows("What Pivrel found in it")
    browser.click("Open as a project")
    browser.shown()
    browser.shows("The schedule is empty")
    after = seen(browser, surface)
    difference = np.abs(after.colors.astype(float) - before.colors)
    assert difference.mean(axis=0).max() <= 4, difference.mean(axis=0)
    assert np.percentile(difference.max(axis=1), 95) <= 16
    assert before.colors.std(axis=0).min() > 8, "there is a pattern to compare"


def textures_of(image) -> Textures:
    with PIL.Image.open(BytesIO(image.data)) as picture:
        alpha = np.asarray(picture.convert("RGBA"), float)[..., 3:] / 255
    return Textures(base_color=linear(decode(image)), alpha=alpha)


@pytest.fixture
def wall(server, browser, soft_materials):
    """A wall of 4 m by 3 m, seen from the front."""
    database = Database(server.data)
    with database.transaction() as db:
        facts = facts_of("wall.obj", triangles=12)
        project = projects.create(db, "Board-marked wall", blobs.put_mesh(db, cuboid(4000, 300, 3000)), facts)
    lay = {
        "kind": "lay",
        "material": "coat0",
        "pick": {"all": True},
        "projection": {"kind": "box", "corners": "separate"},
    }
    server.ask("POST", f"/api/projects/{project}/edits", {"revision": 0, "edit": lay})
    browser.open(f"/projects/{project}")
    browser.shown(1)
    browser.press("4")
    browser.settle()
    yield project
    browser.leave()
    with database.transaction() as db:
        projects.delete(db, project)


def coats_of(server, project):
    return server.ask("GET", f"/api/projects/{project}")["finishes"][0]["coats"]


def select(browser, label, words):
    Select(browser.css(f"[aria-label='{label}']")).select_by_visible_text(words)


def at_height(browser, x, z):
    """The color of the view at a place on the front of the wall."""
    view = browser.css("[data-testid=view]")
    matrix = np.array([float(v) for v in view.get_attribute("data-eye").split(",")]).reshape(4, 4).T
    u, v, _, w = matrix @ (x, 0, z, 1.0)
    box, picture = view.rect, browser.screenshot()
    px, py = box["x"] + (u / w + 1) / 2 * box["width"], box["y"] + (1 - v / w) / 2 * box["height"]
    return picture[int(py) - 2 : int(py) + 3, int(px) - 2 : int(px) + 3].reshape(-1, 3).mean(axis=0)


@pytest.mark.pixels(0.5)
def test_a_stain_that_fades_out_above_the_ground_in_six_steps(browser, server, wall):
    plain = {z: at_height(browser, 700, z) for z in (150, 600, 2400)}
    browser.row("F1").click()
    browser.click("Add a coat ▾")  # 1
    browser.item("A stain that fades out")
    browser.css("[data-testid=coat]")
    select(browser, "Material of the coat", "Soft coat1, made up")  # 2
    browser.until(lambda: coats_of(server, wall)[0]["material"] == "coat1", "the material")
    select(browser, "How the coat is laid", "Planar")  # 3
    browser.until(lambda: coats_of(server, wall)[0]["projection"], "the laying")
    browser.choose("How its color joins", "button[.='Stains']")  # 4
    browser.until(lambda: coats_of(server, wall)[0]["channels"]["base_color"] == "multiply", "the join")
    browser.type("Nothing at, z", "400")  # 5
    browser.until(lambda: coats_of(server, wall)[0]["where"]["fade"]["from_mm"][2] == 400, "the fade")
    browser.settle()
    stained = {z: at_height(browser, 700, z) for z in plain}
    assert np.abs(stained[150] - plain[150]).max() <= 3, "nothing of it below 400 mm"
    assert (plain[2400] - stained[2400]).max() > 12, "above it what lies beneath is darker"

    # The grip of the fade: the picture follows while it is held, and what is let go is kept.
    grip = browser.css("[data-testid=mask-grip-0-0]")
    hand = (
        ActionChains(browser.driver)
        .move_to_element(grip)
        .click_and_hold()
        .move_by_offset(0, -60)
        .move_by_offset(0, -60)
    )
    hand.perform()
    browser.until(
        lambda: np.abs(at_height(browser, 700, 600) - stained[600]).max() > 1, "the picture under the hand"
    )
    assert coats_of(server, wall)[0]["where"]["fade"]["from_mm"][2] == 400, "nothing is kept yet"
    ActionChains(browser.driver).send_keys("1200").send_keys(Keys.ENTER).release().perform()
    browser.until(lambda: coats_of(server, wall)[0]["where"]["fade"]["from_mm"][2] == 1200, "what was typed")
    browser.settle()
    assert np.abs(at_height(browser, 700, 600) - plain[600]).max() <= 3

    # Where it lies, alone; and the same by undo.
    browser.click("Show where")
    browser.settle()
    assert at_height(browser, 700, 300).mean() > at_height(browser, 700, 2800).mean() + 20
    browser.click("Finish")
    browser.chord(Keys.CONTROL, "z")
    browser.until(lambda: coats_of(server, wall)[0]["where"]["fade"]["from_mm"][2] == 400, "undo")


@pytest.mark.pixels
def test_the_sheet_of_a_coat_is_dragged_and_the_picture_follows(browser, server, wall):
    browser.row("F1").click()
    browser.click("Add a coat ▾")
    browser.item("All over")
    browser.css("[data-testid=coat]")
    assert not browser.all("[data-testid=datum]"), (
        "a coat that lies as what is beneath it has no datum of its own"
    )
    select(browser, "Material of the coat", "Soft coat1, made up")
    browser.until(lambda: coats_of(server, wall)[0]["material"] == "coat1", "the material")
    select(browser, "How the coat is laid", "Planar")
    browser.until(lambda: coats_of(server, wall)[0]["projection"], "the laying")
    # The next key is meant for the model: in the list it would choose what begins with it.
    browser.press("n")
    browser.css("[data-testid=channel-seams]")
    assert coats_of(server, wall)[0]["projection"]["kind"] == "planar"
    browser.press("f")
    browser.settle()
    sheet = browser.css("[data-testid=datum] [data-testid=sheet]")
    before = at_height(browser, 2900, 700)
    ActionChains(browser.driver).move_to_element(sheet).click_and_hold().move_by_offset(45, -30).perform()
    browser.until(
        lambda: np.abs(at_height(browser, 2900, 700) - before).max() > 4, "the picture under the hand"
    )
    assert coats_of(server, wall)[0]["offset_mm"] == [0, 0], "nothing is kept yet"
    ActionChains(browser.driver).send_keys("300 × 200").send_keys(Keys.ENTER).release().perform()
    browser.until(lambda: coats_of(server, wall)[0]["offset_mm"] == [300, 200], "what was typed")
    state = server.ask("GET", f"/api/projects/{wall}")
    assert state["finishes"][0]["offset_mm"] == [0, 0], "the finish beneath stays where it is"
    # Kept under a name, and laid once more.
    browser.click("Kept ▾")
    browser.type("Keep the coats of Soft coat0 as", "Wash")
    browser.css("[aria-label='Lay Wash over this finish']").click()
    browser.until(lambda: len(coats_of(server, wall)) == 2, "the kept coat")
    first, second = coats_of(server, wall)
    assert first["material"] == second["material"] and second["offset_mm"] == [300, 200]
    browser.css("[aria-label='Forget Wash']").click()
    browser.shows("None is kept yet.")


@pytest.mark.pixels
def test_a_coat_is_brushed_switched_off_and_taken_off(browser, server, wall):
    plain = at_height(browser, 2100, 1500)
    browser.row("F1").click()
    browser.click("Add a coat ▾")
    browser.item("With a brush")
    browser.css("[data-testid=mask-strokes]")
    browser.type("Radius of the brush", "200")
    browser.click("Draw…")
    browser.drag_model(60, 0)
    browser.until(lambda: coats_of(server, wall)[0]["where"]["strokes"]["lines"], "the stroke")
    (line,) = coats_of(server, wall)[0]["where"]["strokes"]["lines"]
    assert line["radius_mm"] == 200 and len(line["points_mm"]) > 1
    assert all(abs(y) < 1e-3 for _, y, _ in line["points_mm"]), "on the front of the wall"
    browser.click("Done drawing")
    browser.settle()
    assert (plain - at_height(browser, 2100, 1500)).max() > 8
    browser.css("[aria-label='Show the coat Brushed']").click()
    browser.until(lambda: not coats_of(server, wall)[0]["on"], "switched off")
    browser.click("Last off")
    browser.until(lambda: not coats_of(server, wall)[0]["where"]["strokes"]["lines"], "the stroke gone")
    browser.css("[aria-label='Take Brushed off']").click()
    browser.until(lambda: coats_of(server, wall) == [], "taken off")


@pytest.mark.pixels
def test_coats_are_ordered_joined_and_shown_by_channel(browser, server, wall):
    browser.row("F1").click()
    browser.click("Add a coat ▾")
    browser.item("All over")
    browser.until(lambda: len(coats_of(server, wall)) == 1, "the first")
    browser.click("Add a coat ▾")
    browser.item("In patches")
    browser.until(lambda: len(coats_of(server, wall)) == 2, "the second")
    assert [c["name"] for c in coats_of(server, wall)] == ["Coat", "In patches"]
    browser.css("[aria-label='Move In patches down, under the one before']").click()
    browser.until(lambda: [c["name"] for c in coats_of(server, wall)] == ["In patches", "Coat"], "the order")
    browser.click("And where ▾")
    browser.item("Band")
    browser.until(lambda: "every" in (coats_of(server, wall)[0]["where"] or {}), "two masks")
    browser.word("Together", "one of these holds")
    browser.until(lambda: "any" in coats_of(server, wall)[0]["where"], "one of them")
    browser.type("Roughness", "0.2")
    browser.until(lambda: coats_of(server, wall)[0]["roughness"] == 0.2, "the roughness")
    browser.click("Channel")
    browser.choose("Channel", "button[.='Roughness']")
    browser.settle()
    smooth, rough = at_height(browser, 3000, 60), at_height(browser, 3000, 330)
    assert smooth.mean() == pytest.approx(0.2 * 255, abs=3), "the band at the foot is as smooth as stated"
    assert rough.mean() >= smooth.mean()
