"""Images that become materials: channels by name, sizes, bits, what is read off them, and mending borders."""

from io import BytesIO
from itertools import product, starmap
from pathlib import Path

import numpy as np
import PIL.Image
import pytest
import skimage.data
from scipy.ndimage import rotate

from pivrel.materials.bringing import bring, calibrated, proportions
from pivrel.materials.channels import recognise, shared_name, sort_files
from pivrel.materials.images import ImageError, checked_image, decode, encode, for_view, green_turned
from pivrel.materials.library import KEYS, PROCEDURAL
from pivrel.materials.reading import WRAPS_BELOW, grey_of, read_grain, read_wrap
from pivrel.materials.seamless import made_seamless
from tests.conftest import COARSER
from tests.lengths import at_length, some

GRAINED = [key for key, made in PROCEDURAL.items() if made.has_grain]


@pytest.mark.parametrize(
    ("file", "channel", "normal_y"),
    [
        ("red_brick_Color.png", "base_color", "+"),
        ("RedBrick_4K_Albedo.jpg", "base_color", "+"),
        ("wood-floor-diff-2k.jpg", "base_color", "+"),
        ("Base_Color.png", "base_color", "+"),
        ("oak_nor_gl_4k.png", "normal", "+"),
        ("oak_nor_dx_4k.png", "normal", "-"),
        ("Oak_2K_NormalDX.jpg", "normal", "-"),
        ("Oak_2K_NormalGL.jpg", "normal", "+"),
        ("plaster_rough_1k.png", "roughness", "+"),
        ("Fabric-Roughness-2048x2048.tif", "roughness", "+"),
        ("steel_Metalness.png", "metallic", "+"),
        ("stone_disp_16bit.png", "height", "+"),
        ("stone_v2_AO.png", "occlusion", "+"),
        ("stone_ambient_occlusion.png", "occlusion", "+"),
        ("IMG_2231.jpg", None, "+"),
    ],
)
def test_channels_are_known_by_the_ends_of_names(file, channel, normal_y):
    found = recognise(file)
    assert (found.channel, found.normal_y) == (channel, normal_y)


def test_files_are_sorted_and_named():
    files = [
        "Old_Oak_Color_4K.jpg",
        "Old_Oak_Normal_4K.png",
        "Old_Oak_Roughness_4K.png",
        "Old_Oak_Color_2K.jpg",
    ]
    found = sort_files(files)
    assert set(found.channels) == {"base_color", "normal", "roughness"}
    assert found.left == ("Old_Oak_Color_2K.jpg",)
    assert shared_name(files) == found.name == "Old oak"
    assert set(sort_files(["photo.jpg"]).channels) == {"base_color"}


def png(array, mode=None):
    out = BytesIO()
    PIL.Image.fromarray(array, mode).save(out, "PNG")
    return out.getvalue()


def test_what_is_noticed_of_images():
    color = np.zeros((40, 60, 3), np.uint8)
    height = np.linspace(0, 65535, 20 * 30).reshape(20, 30).astype(np.uint16)
    brought = bring(
        {
            "wall_color.png": png(color),
            "wall_height.png": png(height),
            "readme_ao.png": png(color[:, :40]),
            "licence.txt": b"free",
        }
    )
    assert brought.repeat_mm == (1000.0, pytest.approx(2000 / 3))
    said = " ".join(brought.said)
    assert "without normal and roughness" in said
    assert "height is 30 x 20 pixels, base color 60 x 40" in said
    assert "occlusion is 40 x 40" in said and "the proportions differ" in said
    assert "16 bits a channel in height" in said and "not used" in said and "licence.txt" in said
    assert brought.images["height"].bits == 16 and brought.images["height"].data == png(height), "kept whole"
    # Shown with 8 bits, and not cut off at 255 as a plain conversion would.
    assert decode(brought.images["height"])[..., 0].max() == pytest.approx(1.0)
    assert decode(for_view(brought.images["height"], 2048)).max() == pytest.approx(1.0)
    with pytest.raises(ImageError, match="no image is the base color"):
        bring({"a_normal.png": png(color)})


def test_other_kinds_come_in_and_large_ones_are_scaled_for_the_view():
    color = np.random.default_rng(1).integers(0, 255, (30, 50, 3)).astype(np.uint8)
    for kind in ("TIFF", "BMP", "WEBP", "TGA"):
        out = BytesIO()
        PIL.Image.fromarray(color).save(out, kind, lossless=True)
        image = checked_image(out.getvalue(), "x")
        assert image.mime == "image/png" and np.array_equal(np.round(decode(image) * 255), color)
    turned = BytesIO()
    exif = PIL.Image.Exif()
    exif[0x0112] = 6
    PIL.Image.fromarray(color).save(turned, "JPEG", exif=exif)
    assert checked_image(turned.getvalue(), "photo").pixels == (30, 50)
    large = encode(np.zeros((64, 3000)))
    assert for_view(large, 2048).pixels[0] == 2048 and large.pixels == (3000, 64)
    assert proportions(large) == (1000.0, pytest.approx(64 / 3))
    gif = BytesIO()
    PIL.Image.fromarray(color).save(gif, "GIF")
    with pytest.raises(ImageError, match="is GIF; PNG, JPEG"):
        checked_image(gif.getvalue(), "x.gif")


def test_the_green_of_a_normal_map_is_turned_over(made_materials):
    normal = made_materials["brick"].images["normal"]
    there, back = green_turned(normal), green_turned(green_turned(normal))
    assert np.allclose(decode(there)[..., 1], 1 - decode(normal)[..., 1])
    assert np.array_equal(decode(back), decode(normal))


@pytest.mark.parametrize(
    ("turn", "key"), some(starmap(pytest.param, product([0, 17, 45, 90, 133], GRAINED)), 13)
)
def test_grain_is_found_at_any_turn_of_the_image(made_materials, turn, key):
    material = made_materials[key]
    width, height = material.repeat_mm
    grey = grey_of(decode(material.images["base_color"]))
    # Square pixels first, so that a turn is a turn.
    h, w = grey.shape
    if abs(width / w - height / h) > 1e-6 * width / w:
        grey = np.asarray(PIL.Image.fromarray(grey).resize((w, round(w * height / width))))
    tiled = rotate(np.tile(grey, (2, 2)), turn, reshape=False, order=1, mode="grid-wrap")
    side = min(grey.shape) * 2 // 3
    top, left = ((s - side) // 2 for s in tiled.shape)
    found = read_grain(tiled[top : top + side, left : left + side])
    assert found.grain_deg is not None
    off = (found.grain_deg - (material.grain_deg + turn) + 90) % 180 - 90
    assert abs(off) <= 2.0
    assert found.confidence > 0.3


@pytest.mark.parametrize("key", ["terrazzo", "checker", "tile"])
@pytest.mark.parametrize("turn", [0, 30])
def test_no_grain_is_claimed_where_there_is_none(made_materials, key, turn):
    grey = grey_of(decode(made_materials[key].images["base_color"]))
    found = read_grain(rotate(grey, turn, reshape=False, order=1, mode="grid-wrap") if turn else grey)
    assert found.grain_deg is None and found.confidence < 0.3


@pytest.mark.parametrize(
    ("file", "grain"),
    [("brick.png", 90.0), ("grass.png", None), ("gravel.png", None)],
)
def test_grain_of_open_photographs(file, grain):
    """scikit-image ships them: brick paving whose courses run up the picture, mown grass, gravel."""
    path = Path(skimage.data.__file__).parent / file
    found = read_grain(np.asarray(PIL.Image.open(path).convert("L"), float) / 255)
    if grain is None:
        assert found.grain_deg is None and found.confidence < 0.3
    else:
        assert found.grain_deg == pytest.approx(grain, abs=2) and found.confidence > 0.5


CUT_SHORT = {"walnut", "terrazzo", "twill"} | at_length(set(), {"brick"})
"""What does not meet itself any more once it is cut; small images of bricks are too coarse to tell."""


def within(first, last):
    """All but the first and the last rows or columns, as many as images of full size would lose."""
    return slice(first // COARSER, -last // COARSER)


@pytest.mark.parametrize("key", KEYS)
def test_borders_that_meet_and_borders_that_do_not(made_materials, key):
    pixels = decode(made_materials[key].images["base_color"])
    whole = read_wrap(pixels)
    assert max(whole.along, whole.up) < WRAPS_BELOW
    if key in CUT_SHORT:
        cut = read_wrap(pixels[within(13, 57), within(21, 77)])
        assert max(cut.along, cut.up) > WRAPS_BELOW


@pytest.mark.parametrize("key", ["terrazzo", "concrete", "walnut"])
def test_mending_the_borders_leaves_the_middle_alone(made_materials, key):
    images = {c: decode(i)[within(31, 101), within(17, 93)] for c, i in made_materials[key].images.items()}
    mended = made_seamless(images)
    before, after = read_wrap(images["base_color"]), read_wrap(mended["base_color"])
    assert max(before.along, before.up) > WRAPS_BELOW > max(after.along, after.up)
    h, w = images["base_color"].shape[:2]
    middle = (slice(int(h * 0.16), int(h * 0.84)), slice(int(w * 0.16), int(w * 0.84)))
    for channel, image in images.items():
        if channel == "normal":
            continue
        assert np.array_equal(mended[channel][middle], image[middle]), "to the last bit"
    # Sharpness beside the border: gradients are as strong as they were.
    sharp = [
        np.abs(np.diff(grey_of(i["base_color"])[:, -int(w * 0.1) :], axis=1)).mean() for i in (images, mended)
    ]
    assert sharp[1] > 0.8 * sharp[0]
    length = np.linalg.norm(mended["normal"] * 2 - 1, axis=2)
    assert np.allclose(length, 1, atol=1e-6)


def test_calibration_by_two_marks(made_materials):
    """Four courses of the brick stand-in are marked as 300 mm; the wall then counts 60 bricks per m²."""
    image = made_materials["brick"].images["base_color"]
    size = proportions(image)
    # As a hand would set them: half a pixel off.
    height = image.pixels[1]
    a, b = (0.3, 0.5 / height), (0.31, (4 * height / 8 - 0.4) / height)
    found = calibrated(size, a, b, 300.0, "up")
    assert found == (pytest.approx(900, rel=0.005), pytest.approx(600, rel=0.005))
    per_m2 = 32 / (found[0] * found[1] / 1e6)
    assert per_m2 == pytest.approx(60, rel=0.02), "59.3: 225 x 75 mm a brick (BS 4729's format, from memory)"
    assert calibrated((100.0, 50.0), (0, 0), (0.3, 0.8), 100.0) == (pytest.approx(200), pytest.approx(100))
    with pytest.raises(ImageError, match="lie on each other"):
        calibrated((1.0, 1.0), (0.5, 0.5), (0.5, 0.5), 10)
    with pytest.raises(ImageError, match="above zero"):
        calibrated((1.0, 1.0), (0.5, 0.5), (0.5, 0.6), 0)
