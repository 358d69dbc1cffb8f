"""What the picture shows of a base color, and pictures that are saved."""

from __future__ import annotations

import zipfile
from io import BytesIO

import numpy as np
import PIL.Image
import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

from pivrel.core.geometry.mesh import merged
from pivrel.materials.channels import Channel
from pivrel.store import blobs, projects
from pivrel.store.documents import LibraryBody
from tests.lengths import at_length
from tests.test_revision import box

CARDS = {"black": 0.0, "grey": 0.18, "white": 0.8, "clay": (0.30, 0.20, 0.12), "rust": (0.34, 0.18, 0.12)}
"""Base colors, linear."""


def srgb(linear):
    """IEC 61966-2-1."""
    linear = np.asarray(linear, float)
    return 255 * np.where(
        linear <= 0.0031308, 12.92 * linear, 1.055 * np.maximum(linear, 1e-9) ** (1 / 2.4) - 0.055
    )


def linear(shown):
    shown = np.asarray(shown, float) / 255
    return np.where(shown <= 0.04045, shown / 12.92, ((shown + 0.055) / 1.055) ** 2.4)


def neutral(color):
    """Khronos PBR Neutral Tone Mapper, as its specification states it (2024)."""
    color = np.asarray(color, float) * np.ones(3)
    start, desaturation = 0.8 - 0.04, 0.15
    low = color.min()
    color = color - (low - 6.25 * low * low if low < 0.08 else 0.04)
    peak = color.max()
    if peak < start:
        return color
    d = 1 - start
    new = 1 - d * d / (peak + d - start)
    g = 1 - 1 / (desaturation * (peak - new) + 1)
    return color * new / peak * (1 - g) + new * g


def before_neutral(grey):
    """The luminance of a grey that the curve shows as this, by halving."""
    low, high = 0.0, 4.0
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if neutral(middle)[0] < grey else (low, middle)
    return low


def card_png(color) -> bytes:
    out = BytesIO()
    pixel = tuple(round(float(v)) for v in srgb(np.asarray(color) * np.ones(3)))
    PIL.Image.new("RGB", (8, 8), pixel).save(out, "PNG")
    return out.getvalue()


@pytest.fixture
def cards(made):
    """Level cards of each color side by side, 1 m each, under an overcast sky from straight above."""
    bench = made(
        merged([box(name, (1000, 1000, 10), (k * 1100, 0, 0)) for k, name in enumerate(CARDS)]), "Cards"
    )
    rough = BytesIO()
    PIL.Image.new("L", (8, 8), 255).save(rough, "PNG")
    with bench.database.transaction() as db:
        for at, (name, color) in enumerate(CARDS.items()):
            images: dict[Channel, str] = {
                "base_color": blobs.put(db, card_png(color)),
                "roughness": blobs.put(db, rough.getvalue()),
            }
            body = LibraryBody(
                name=f"Card {name}",
                repeat_mm=(500, 500),
                grain_deg=None,
                metallic=0,
                use="test",
                images=images,
            )
            projects.put_library(db, f"card-{name}", 900 + at, body)
    for name in CARDS:
        bench.lay("box", f"card-{name}", {"parts": [name]})
    yield bench
    with bench.database.transaction() as db:
        for name in CARDS:
            db.execute("DELETE FROM library_material WHERE key = ?", (f"card-{name}",))


def card(browser, bench, name) -> np.ndarray:
    """The mean color of the middle of a card."""
    k = list(CARDS).index(name)
    right, down = bench.at(k * 1100 + 500, 500, 10)
    return browser.patch(right, down, 30).reshape(-1, 3).mean(axis=0)


@pytest.mark.pixels
def test_base_colors_come_out_as_pbr_neutral_has_them(cards, browser):
    cards.open()
    browser.press("9")
    browser.click("Sun")
    browser.click("Overcast")
    browser.press(Keys.ESCAPE)
    browser.settle()
    black, grey, white = (linear(card(browser, cards, name)).mean() for name in ("black", "grey", "white"))
    # What a rough dielectric mirrors of the sky is the same on every card; the rest grows with the base color.
    mirrored, brightest = before_neutral(black), before_neutral(white)
    predicted = srgb(neutral(mirrored + (brightest - mirrored) * CARDS["grey"] / CARDS["white"]))
    assert np.abs(card(browser, cards, "grey") - predicted).max() <= 3
    # A level card in the open gets a light of 1; a dielectric of F0 0.04 sends (1 - E) of it back as its base color,
    # where E, what it mirrors, is 0.016 at roughness 1 seen straight on (Karis 2014, the split-sum approximation).
    stated = 0.016 + (1 - 0.016) * CARDS["white"]
    assert np.abs(card(browser, cards, "white") - srgb(neutral(stated))).max() <= 3
    assert grey > black


@pytest.mark.pixels
def test_two_materials_side_by_side_keep_their_difference_of_color(cards, browser):
    cards.open("F4")
    browser.press("d", "9")
    browser.click("Sun")
    browser.click("Overcast")
    browser.press(Keys.ESCAPE)
    Select(browser.css("[aria-label='Compare with another material']")).select_by_value("card-rust")
    browser.until(lambda: browser.all("[data-testid=split]"), "the line")
    browser.settle()
    # The line stands in the middle of the view; the clay card is drawn from it, and moved across.
    shown = {}
    for name, by in (("clay", 400), ("rust", -800)):
        handle = browser.css("[data-testid=split]")
        ActionChains(browser.driver).move_to_element(handle).click_and_hold().move_by_offset(
            by, 0
        ).release().perform()
        browser.settle()
        shown[name] = card(browser, cards, "clay")
    expected = {name: srgb(neutral(0.016 + 0.984 * np.array(CARDS[name]))) for name in shown}
    difference = (shown["rust"] - shown["clay"]) - (expected["rust"] - expected["clay"])
    assert np.abs(difference).max() <= 3, (shown, expected)
    assert np.abs(shown["rust"] - card(browser, cards, "rust")).max() <= 2, (
        "and the card beside it is the same"
    )


@pytest.mark.pixels(1.0)
def test_a_saved_picture_is_the_view_scaled(browser, demo):
    browser.open(f"/projects/{demo['lido']}")
    browser.shown()
    browser.click("From around")
    browser.click("From the pool")
    browser.settle()
    view = browser.css("[data-testid=view] canvas").rect
    left, top, width, height = (int(view[name]) for name in ("x", "y", "width", "height"))
    own = browser.screenshot()[top : top + height, left : left + width]
    browser.chord(Keys.CONTROL, "s")
    browser.css("[data-testid=picture]")
    width_px, height_px = at_length((1280, 720), (3840, 2160))
    browser.click("Own")
    browser.type_into("Width in pixels", str(width_px), Keys.TAB)
    browser.type_into("Height in pixels", str(height_px), Keys.TAB)
    browser.click(f"Save {width_px} × {height_px}")
    picture = PIL.Image.open(BytesIO(browser.downloaded("Saltmarsh Lido.png"))).convert("RGB")
    assert picture.size == (width_px, height_px)
    # The picture shows as much from bottom to top, and at the sides what its own proportions leave.
    scaled = picture.resize((round(width_px * height / height_px), height), PIL.Image.Resampling.BOX)
    both = min(scaled.width, width)
    middles = [np.asarray(scaled).astype(int), own]
    one, other = (image[:, (image.shape[1] - both) // 2 :][:, :both] for image in middles)
    assert np.abs(one - other).mean() < 3


@pytest.mark.pixels
def test_all_kept_views_are_saved_at_once_and_may_be_transparent(browser, demo, server):
    browser.open(f"/projects/{demo['lido']}")
    browser.shown()
    before = browser.css("[data-testid=view]").get_attribute("data-eye")
    views = server.ask("GET", f"/api/projects/{demo['lido']}")["views"]
    browser.chord(Keys.CONTROL, "s")
    browser.css("[data-testid=picture]")
    browser.click("All 3 kept views")
    browser.click("Own")
    browser.type_into("Width in pixels", "320", Keys.TAB)
    browser.type_into("Height in pixels", "20", Keys.TAB)
    browser.click("Nothing (transparent)")
    browser.type_into("Height in pixels", "9999", Keys.TAB)
    browser.shows("Each side is from 16 to 8192 pixels")
    browser.type_into("Height in pixels", "200", Keys.TAB)
    browser.click("Save 320 × 200")
    saved = zipfile.ZipFile(BytesIO(browser.downloaded("Saltmarsh Lido, kept views.zip")))
    assert sorted(saved.namelist()) == sorted(f"{view['name']}.png" for view in views)
    pictures = {name: np.asarray(PIL.Image.open(BytesIO(saved.read(name)))) for name in saved.namelist()}
    for picture in pictures.values():
        assert picture.shape == (200, 320, 4)
        assert (picture[..., 3] == 255).mean() > 0.3 and (picture[..., 3] == 0).mean() > 0.02
    one, other, third = (picture[..., :3].astype(int) for picture in pictures.values())
    assert np.abs(one - other).mean() > 5 and np.abs(other - third).mean() > 5
    browser.until(
        lambda: browser.css("[data-testid=view]").get_attribute("data-eye") == before, "the eye is back"
    )
