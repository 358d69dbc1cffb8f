"""The built-in materials: seamless, large enough, and what they say they are."""

import numpy as np
import pytest

from pivrel.materials.checker import checker_for, square_for
from pivrel.materials.images import ImageError, checked_image, decode, encode, packed_surface
from pivrel.materials.library import KEYS, PROCEDURAL
from tests.conftest import COARSER


@pytest.mark.parametrize("key", PROCEDURAL)
def test_channels_sizes_and_proportions(made_materials, key):
    material = made_materials[key]
    assert set(material.images) == {"base_color", "normal", "roughness"}
    for image in material.images.values():
        height, width, _ = decode(image).shape
        assert min(width, height) >= 1024 // COARSER
        assert width / height == pytest.approx(material.repeat_mm[0] / material.repeat_mm[1], rel=1e-3)


@pytest.mark.parametrize("key", PROCEDURAL)
def test_seamless_to_the_pixel(made_materials, key):
    """The step across each border is no larger than steps within the image are."""
    for image in made_materials[key].images.values():
        pixels = decode(image)
        for axis in (0, 1):
            within = np.abs(np.diff(pixels, axis=axis)).mean(axis=2)
            across = np.abs(pixels.take(0, axis) - pixels.take(-1, axis)).mean(axis=1)
            lines = within.mean(axis=1 - axis)
            assert across.mean() <= np.percentile(lines, 99.9) * 1.5 + 2 / 255


@pytest.mark.parametrize("key", PROCEDURAL)
def test_normals_are_unit_and_look_outward(made_materials, key):
    normal = decode(made_materials[key].images["normal"]) * 2 - 1
    assert np.abs(np.linalg.norm(normal, axis=2) - 1).max() < 0.02
    assert normal[..., 2].min() > 0
    assert np.abs(normal[..., :2].mean(axis=(0, 1))).max() < 0.02, "a relief that repeats has no slope in all"


def test_brick_courses_and_joints_are_where_they_should_be(made_materials):
    """Stretcher bond of 225 x 75 mm: eight level joints in 600 mm, and half a brick of shift a course."""
    pixels = decode(made_materials["brick"].images["base_color"])
    saturation = pixels.max(axis=2) - pixels.min(axis=2)
    joints = np.abs(np.fft.rfft(saturation.mean(axis=1)))[1:40]
    assert joints.argmax() + 1 == 8
    # Upright joints: columns of a course that are mortar nearly all the way.
    mortar = saturation < 0.16
    at, half = 64 // COARSER, 20 // COARSER
    course, next_course = (np.fft.rfft(mortar[y - half : y + half].mean(axis=0) > 0.7) for y in (at, 3 * at))
    assert np.abs(course)[1:8].argmax() + 1 == 4
    phase = np.angle(course[4] / next_course[4])
    assert abs(abs(phase) - np.pi) < 0.3
    share = (saturation > 0.16).mean()
    assert share == pytest.approx(215 * 65 / (225 * 75), abs=0.06), "the share of brick in the wall"


def test_the_checker_says_its_own_size(made_materials):
    assert square_for(33_500) == 1000
    assert square_for(340) == 10
    assert square_for(1) == pytest.approx(0.02)
    pixels = decode(checker_for((900.0, 600.0)))
    assert pixels.shape[1] / pixels.shape[0] == pytest.approx(1.5)
    assert {"checker", "brick", "terrazzo"} <= set(KEYS)
    assert made_materials["checker"].grain_deg is None and made_materials["terrazzo"].grain_deg is None


def test_images_that_are_none():
    for data in (b"", b"not an image", encode(np.zeros((8, 8))).data[:30], b"GIF89a" + bytes(30)):
        with pytest.raises(ImageError) as error:
            checked_image(data, "oak.png")
        assert "oak.png" in str(error.value)


def test_roughness_is_packed_as_gltf_wants_it():
    packed = decode(packed_surface(encode(np.full((4, 4), 0.4)), None))
    np.testing.assert_allclose(packed[0, 0], [1, 0.4, 1], atol=1 / 255)
