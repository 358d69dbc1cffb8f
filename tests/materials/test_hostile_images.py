"""Images that take far more work than they have bytes, or are not what they state: unpacked apart, or refused."""

import io
import json
import struct
import zlib

import numpy as np
import PIL.Image
import PIL.PngImagePlugin
import pytest

from pivrel.materials import images, limited
from pivrel.materials.images import ImageError, checked_image, decode, thumbnail

COLOR = np.random.default_rng(1).integers(0, 255, (48, 64, 3)).astype(np.uint8)


def saved(kind, picture=None, **more):
    out = io.BytesIO()
    (picture or PIL.Image.fromarray(COLOR)).save(out, kind, **more)
    return out.getvalue()


def with_scans(data, count):
    """A progressive JPEG whose last scan comes again and again: each refines what is refined already."""
    last = data.rindex(b"\xff\xda")
    return data[:last] + data[last:-2] * count + data[-2:]


@pytest.fixture
def apart(monkeypatch):
    """What is done in the limited process, in its order."""
    done = []
    real = limited.run

    def run(what, data, name):
        done.append(what)
        return real(what, data, name)

    monkeypatch.setattr(limited, "run", run)
    return done


def test_small_plain_images_are_unpacked_here(apart):
    for kind, more in (("PNG", {}), ("JPEG", {}), ("JPEG", {"progressive": True})):
        assert checked_image(saved(kind, **more), "a").pixels == (64, 48)
    assert checked_image(saved("PNG", PIL.Image.fromarray(COLOR[..., 0])), "a").pixels == (64, 48)
    assert apart == []


def test_a_picture_in_very_many_scans_is_unpacked_apart_and_kept_in_one(apart):
    """99 kB of them took four seconds of the server's time, each time that the image was shown."""
    many = with_scans(saved("JPEG", PIL.Image.new("RGB", (1600, 1600), (90, 120, 40)), progressive=True), 400)
    image = checked_image(many, "scans.jpg")
    assert apart == ["convert"] and image.mime == "image/png" and image.pixels == (1600, 1600)
    assert thumbnail(image, 64).pixels == (64, 64) and apart == ["convert"]
    assert np.allclose(decode(image)[0, 0], np.array((90, 120, 40)) / 255, atol=0.02)


def test_one_that_was_kept_as_it_came_is_not_unpacked_here_either(apart):
    many = with_scans(saved("JPEG", PIL.Image.new("RGB", (1600, 1600)), progressive=True), 400)
    assert thumbnail(images.Image(many, "image/jpeg"), 64).pixels == (64, 64)
    assert apart == ["reduce"]


@pytest.mark.parametrize("kind", ["TIFF", "WEBP", "BMP", "TGA"])
def test_whatever_is_seldom_met_is_unpacked_apart(apart, kind):
    assert checked_image(saved(kind), "a").mime == "image/png" and apart == ["convert"]


def test_moving_pictures_sixteen_bits_and_four_inks_are_unpacked_apart(apart):
    frames = [PIL.Image.fromarray(np.roll(COLOR, k, axis=1)) for k in range(3)]
    for kind in ("PNG", "WEBP"):
        moving = checked_image(saved(kind, frames[0], save_all=True, append_images=frames[1:]), "moving")
        assert moving.pixels == (64, 48)
    wide = PIL.Image.fromarray(COLOR[..., 0].astype(np.uint16) * 257)
    assert checked_image(saved("PNG", wide), "wide").bits == 16
    inks = checked_image(saved("JPEG", PIL.Image.fromarray(COLOR).convert("CMYK")), "inks")
    assert apart == ["convert"] * 4 and inks.mime == "image/png", "files that hold images want three colors"


def png_of(*chunks):
    """A PNG of chunks (PNG specification, second edition, section 5.3)."""
    rows = [struct.pack(">I", len(d)) + k + d + struct.pack(">I", zlib.crc32(k + d)) for k, d in chunks]
    return b"\x89PNG\r\n\x1a\n" + b"".join(rows)


def header(width, height, bits=8, color=2):
    return b"IHDR", struct.pack(">IIBBBBB", width, height, bits, color, 0, 0, 0)


LIES = {
    "a PNG of more pixels than any": png_of(header(1 << 30, 1 << 30), (b"IDAT", b""), (b"IEND", b"")),
    "a PNG of no pixels": png_of(header(0, 0), (b"IEND", b"")),
    "a PNG whose pixels are missing": png_of(header(4000, 4000), (b"IDAT", zlib.compress(b"")), (b"IEND", b"")),
    "a PNG of a text that unpacks without end": png_of(
        header(8, 8), (b"zTXt", b"a\0\0" + zlib.compress(bytes(80 << 20))), (b"IEND", b"")
    ),
    "a JPEG cut short": saved("JPEG")[:300],
    "a TIFF that states a far longer row": saved("TIFF").replace(b"\x00\x01\x04\x00\x01\x00\x00\x00\x40", b"\x00\x01\x04\x00\x01\x00\x00\xff\xff"),
    "a BMP of a billion rows": saved("BMP")[:22] + struct.pack("<i", 10**9) + saved("BMP")[26:],
    "a TGA of 65535 by 65535": saved("TGA")[:12] + b"\xff\xff\xff\xff" + saved("TGA")[16:],
    "a WebP cut short": saved("WEBP")[:60],
    "no image": b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n",
}  # fmt: skip


@pytest.mark.parametrize("what", LIES)
def test_an_image_that_lies_is_told_in_a_sentence(what):
    with pytest.raises(ImageError) as refused:
        checked_image(LIES[what], "lie.png")
    assert "lie.png" in str(refused.value) and "\n" not in str(refused.value)


NOTES = [
    "[" * 100_000,
    '{"low_mm": [1' + "0" * 400 + ', 0], "size_mm": [1, 1], "laying": ""}',
    '{"low_mm": [1e400, 0], "size_mm": [1, 1], "laying": ""}',
    '{"low_mm": [NaN, 0], "size_mm": [1, 1], "laying": ""}',
    '{"low_mm": {"a": 1}, "size_mm": 3, "laying": []}',
    '{"low_mm": ["1", "2", "3"], "size_mm": [1, 1], "laying": ""}',
    '{"low_mm": [0, 0], "size_mm": [1e-300, 1e300], "laying": ""}',
    json.dumps({"low_mm": [0, 0], "size_mm": [1, 1], "laying": "x" * 100_000}),
    "null",
    "7",
]


@pytest.mark.parametrize("note", NOTES)
def test_whatever_a_painted_picture_notes_is_answered(upload, cube, note):
    """Deep nesting, and a number of four hundred digits, were answered with 500."""
    cube.lay({"all": True})
    said = PIL.PngImagePlugin.PngInfo()
    said.add_text("Pivrel", note)
    picture = saved("PNG", pnginfo=said)
    answer = upload(f"{cube.path}/flat/F1/painted", {"painted.png": picture})
    assert answer.status_code in (201, 400, 422), (note[:60], answer.json)
