"""Materials as a user brings them: images in, sized, read, mended, handed on; and light on bumps at every turn."""

from __future__ import annotations

import io
import zipfile

import numpy as np
import PIL.Image
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.support.select import Select

from pivrel.materials.images import encode
from pivrel.store import blobs, projects
from pivrel.store.database import Database
from pivrel.store.documents import LibraryBody
from tests.browser.test_triplanar_light import SLOPE, mapped_pixel, quad
from tests.conftest import COARSER, facts_of
from tests.edits import edits_of
from tests.shapes import mesh_of


@pytest.fixture(scope="module")
def brick_photo(tmp_path_factory, made_materials):
    """The brick of the library as a photographer would send it: no size, and channels in the file names."""
    folder = tmp_path_factory.mktemp("photo")
    names = {
        "base_color": "Old_Wall_Color_2K.png",
        "normal": "Old_Wall_NormalDX_2K.png",
        "roughness": "Old_Wall_Roughness_2K.png",
    }
    for channel, image in made_materials["brick"].images.items():
        (folder / names[channel]).write_bytes(image.data)
    grey = PIL.Image.fromarray(np.full((300, 300), 32000, np.uint16))
    grey.save(folder / "Old_Wall_Height_16bit.png")
    return folder


def bring(browser, *files):
    browser.css("[aria-label='Images of a material']").send_keys("\n".join(str(f) for f in files))


def shown_key(browser, server, name):
    browser.until(lambda: any(m["name"] == name for m in server.ask("GET", "/api/library")), name)
    return next(m for m in server.ask("GET", "/api/library") if m["name"] == name)


@pytest.mark.pixels
def test_a_material_is_brought_calibrated_changed_and_handed_on(browser, server, demo, brick_photo, tmp_path):
    browser.open(f"/projects/{demo['lido']}/materials")
    bring(browser, *sorted(brick_photo.iterdir()))
    browser.shows(f"height is 300 x 300 pixels, base color {1536 // COARSER} x {1024 // COARSER}")
    browser.shows("16 bits a channel in height")
    browser.click("Close")
    made = shown_key(browser, server, "Old wall")
    assert set(made["images"]) == {"base_color", "normal", "roughness", "height"}
    assert made["normal_y"] == "-", "the file name says so"
    assert made["repeat_mm"] == pytest.approx([1000, 2000 / 3])

    # Four courses of the photo are known to be 300 mm high; four bricks with their joints 900 mm wide.
    browser.click("Calibrate")
    browser.shows("Click the first of two places")
    box = browser.css("[data-testid=repeat]")
    size = box.rect
    for down in (0.25, 0.75):
        place = ActionChains(browser.driver)
        place.move_to_element_with_offset(box, 3, round(size["height"] * (down - 0.5))).click().perform()
    browser.choose("Distance measured", "button[.='up']")
    browser.type("True distance", "300mm")
    browser.until(
        lambda: shown_key(browser, server, "Old wall")["repeat_mm"][0] == pytest.approx(900, rel=0.005),
        "the size",
    )
    width, height = shown_key(browser, server, "Old wall")["repeat_mm"]
    assert (width, height) == (pytest.approx(900, rel=0.005), pytest.approx(600, rel=0.005))
    # What four courses of 75 mm are: the wall counts 60 bricks per m².
    assert 32e6 / (width * height) == pytest.approx(60, rel=0.02)
    # A single side typed takes the other along; unlocked it does not.
    browser.type("Width", "1.8m")
    browser.until(
        lambda: shown_key(browser, server, "Old wall")["repeat_mm"] == pytest.approx([1800, 1200], rel=0.005),
        "both",
    )
    browser.driver.find_element("xpath", "//label[normalize-space(.)='as the image']/input").click()
    browser.type("Height", "600")
    browser.until(
        lambda: shown_key(browser, server, "Old wall")["repeat_mm"] == pytest.approx([1800, 600], rel=0.005),
        "one",
    )

    browser.shows("Its borders meet without a line")
    browser.type("Unit, wide", "450")
    browser.type("Unit, high", "75")
    browser.until(
        lambda: (shown_key(browser, server, "Old wall")["joints"] or {}).get("unit_mm") == [450, 75], "joints"
    )
    browser.choose("Green of the normal map", "button[starts-with(., 'up')]")
    browser.until(lambda: shown_key(browser, server, "Old wall")["normal_y"] == "+", "the green")
    Select(browser.css("[aria-label='Channel of the height image']")).select_by_value("occlusion")
    browser.until(lambda: "occlusion" in shown_key(browser, server, "Old wall")["images"], "moved")
    assert "height" not in shown_key(browser, server, "Old wall")["images"]
    browser.type_into("Tags", "reclaimed, wall")
    browser.until(lambda: shown_key(browser, server, "Old wall")["tags"] == ["reclaimed", "wall"], "tags")
    search = browser.css("[aria-label='Search materials']")
    search.send_keys("reclaimed")
    browser.until(lambda: browser.text("[aria-label='Materials']").count(" mm") == 1, "found by its tag")
    search.clear()
    search.send_keys(" \b")

    browser.click("Ball, slab, corner")
    browser.until(lambda: "mm" in browser.text("[data-testid=preview]"), "its marks")
    canvas = browser.css("[data-testid=preview] canvas")
    browser.until(
        lambda: np.ptp(np.asarray(PIL.Image.open(io.BytesIO(canvas.screenshot_as_png)).convert("L"))) > 80,
        "drawn",
    )

    browser.click("Save as a file")
    data = browser.downloaded("Old_wall.zip")
    names = set(zipfile.ZipFile(io.BytesIO(data)).namelist())
    assert "material.json" in names and len(names) == 5
    browser.click("MaterialX")
    assert (
        "Old_wall.mtlx"
        in zipfile.ZipFile(io.BytesIO(browser.downloaded("Old_wall_materialx.zip"))).namelist()
    )
    # The file comes back as it went, under a name of its own.
    (tmp_path / "again.zip").write_bytes(data)
    bring(browser, tmp_path / "again.zip")
    again = shown_key(browser, server, "Old wall 2")
    original = shown_key(browser, server, "Old wall")
    for key in ("repeat_mm", "joints", "grain_deg", "normal_y", "tags", "images", "half_turns"):
        if key != "tags":
            assert again[key] == original[key], key

    # Laid in a project; deleting it from the library says who keeps it.
    state = server.ask("GET", f"/api/projects/{demo['radio']}")
    lay = {
        "kind": "lay",
        "material": again["key"],
        "pick": {"parts": ["Front panel"]},
        "projection": {"kind": "box"},
    }
    after = server.ask(
        "POST", f"/api/projects/{demo['radio']}/edits", {"revision": state["revision"], "edit": lay}
    )
    browser.open(f"/projects/{demo['lido']}/materials")
    browser.click("Old wall 2")
    browser.shows("Also in Table radio")
    browser.choose("Old wall 2", "button[.='Delete']")
    browser.shows("Table radio uses it and will keep it")
    browser.click("Delete it")
    browser.until(lambda: all(m["name"] != "Old wall 2" for m in server.ask("GET", "/api/library")), "gone")
    kept = server.ask("GET", f"/api/projects/{demo['radio']}")
    assert kept["materials"][again["key"]]["name"] == "Old wall 2"
    server.ask("POST", f"/api/projects/{demo['radio']}/undo", {"revision": after["revision"]})
    browser.choose("Materials", "button[contains(., 'Old wall')]")
    browser.choose("Old wall", "button[.='Delete']")
    browser.click("Delete it")
    browser.until(lambda: all(m["name"] != "Old wall" for m in server.ask("GET", "/api/library")), "gone too")


def test_a_seamless_copy_and_what_is_no_image(made_materials, browser, server, demo, tmp_path):
    whole = PIL.Image.open(io.BytesIO(made_materials["terrazzo"].images["base_color"].data))
    whole.crop((30 // COARSER, 40 // COARSER, 900 // COARSER, 930 // COARSER)).save(tmp_path / "floor.png")
    browser.open(f"/projects/{demo['lido']}/materials")
    bring(browser, tmp_path / "floor.png")
    browser.shows("show where it repeats")
    browser.shows("without normal and roughness")
    browser.click("Two by two")
    browser.shows("look for lines where they meet")
    browser.click("Make a seamless copy")
    mended = shown_key(browser, server, "Floor, seamless")
    browser.shows("Its borders meet without a line")
    (tmp_path / "notes.png").write_bytes(b"not an image")
    bring(browser, tmp_path / "notes.png")
    browser.shows("image 'notes.png' cannot be read")
    # The browser itself notes every refusal.
    assert all("422" in error for error in browser.errors())
    for material in (mended, shown_key(browser, server, "Floor")):
        server.bytes("DELETE", f"/api/library/{material['key']}")


TURNS = [(0, 1), (90, 1), (180, 1), (270, 1), (0, -1), (90, -1), (180, -1), (270, -1)]


@pytest.fixture
def bumps(server, browser):
    """Above, quads whose normal map slopes; below each, one that really leans the way that the map should look."""
    points, faces, spots = [], [], []
    out = np.array([0.0, -1.0, 0.0])
    columns = [(turn, flip, "+") for turn, flip in TURNS] + [(90, 1, "-")]
    for k, (turn, flip, green) in enumerate(columns):
        # The sheet on a front: s along x, t along z, turned counter-clockwise as seen from outside.
        a = np.radians(turn)
        along = np.array([np.cos(a), 0, np.sin(a)]) * flip
        up = np.array([-np.sin(a), 0, np.cos(a)])
        slope_up = SLOPE[1] if green == "+" else -SLOPE[1]
        leaning = out - SLOPE[0] * along - slope_up * up
        pair = [np.array([k * 400.0, 0, 400.0]), np.array([k * 400.0, 0, 0.0])]
        for centre, normal in zip(pair, (out, leaning), strict=True):
            faces.append(tuple(range(len(points), len(points) + 4)))
            points += quad(centre, normal, 150.0)
        spots.append(pair)
    mesh = mesh_of(points, faces)
    database = Database(server.data)
    with database.transaction() as db:
        white = encode(np.full((8, 8, 3), 0.75))
        normal = encode(np.broadcast_to(mapped_pixel(), (8, 8, 3)))
        for key, images, green in (
            ("bump", {"base_color": white, "normal": normal}, "+"),
            ("dent", {"base_color": white, "normal": normal}, "-"),
            ("even", {"base_color": white}, "+"),
        ):
            body = {"name": f"White {key}, made up", "repeat_mm": [100, 100], "grain_deg": 0.0, "metallic": 0,
                    "use": "test", "normal_y": green, "images": blobs.put_images(db, images)}  # fmt: skip
            projects.put_library(db, key, 91, LibraryBody.model_validate(body))
        facts = facts_of("bumps.obj", parts=1, triangles=36)
        project = projects.create(db, "Bumps", blobs.put_mesh(db, mesh), facts)
    yield project, spots, columns
    browser.leave()
    with database.transaction() as db:
        projects.delete(db, project)
        db.execute("DELETE FROM library_material WHERE key IN ('bump', 'dent', 'even')")


@pytest.mark.pixels
def test_light_falls_right_on_a_bump_at_every_turn_and_flip(browser, server, bumps):
    project, spots, columns = bumps
    path, revision = f"/api/projects/{project}", 0

    def edit(**what):
        nonlocal revision
        state = server.ask("POST", f"{path}/edits", {"revision": revision, "edit": what})
        revision = state["revision"]
        return state

    datum = {"origin_mm": [0, 0, 0], "x_axis": [1, 0, 0], "z_axis": [0, 0, 1]}
    even = list(range(1, 2 * len(columns), 2))
    edit(kind="lay", material="even", pick={"faces": even}, projection={"kind": "box"}, datum=datum)
    for k, (turn, flip, green) in enumerate(columns):
        material = "bump" if green == "+" else "dent"
        lay = edit(
            kind="lay", material=material, pick={"faces": [2 * k]}, projection={"kind": "box"}, datum=datum
        )
        code = lay["finishes"][-1]["key"]
        for change in edits_of([code], turn_deg=turn, scale=[flip, 1]):
            edit(**change)
    browser.open(f"/projects/{project}")
    browser.shown(revision)
    browser.press("4")
    browser.settle()
    view = browser.css("[data-testid=view]")
    matrix = np.array([float(v) for v in view.get_attribute("data-eye").split(",")]).reshape(4, 4).T
    box, picture = view.rect, browser.screenshot()

    def light(place):
        x, y, _, w = matrix @ (*place, 1.0)
        px = int(box["x"] + (x / w + 1) / 2 * box["width"])
        py = int(box["y"] + (1 - y / w) / 2 * box["height"])
        return picture[py - 2 : py + 3, px - 2 : px + 3].reshape(-1, 3).mean(axis=0)

    seen = [[light(place) for place in pair] for pair in spots]
    for (mapped, real), column in zip(seen, columns, strict=True):
        assert np.abs(mapped - real).max() <= 4, (column, mapped, real)
    lights = np.array([real[0] for _, real in seen])
    assert np.ptp(lights) > 15, "the turns are lit differently, so a wrong one would show"
