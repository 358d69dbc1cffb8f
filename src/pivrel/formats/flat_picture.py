"""A picture of the flat view to paint on, and where on the sheet a painted one belongs."""

from __future__ import annotations

import json
from dataclasses import dataclass
from io import BytesIO

import numpy as np
import PIL.Image
import PIL.ImageDraw
import PIL.PngImagePlugin
import shapely

from pivrel.bounded_json import read_json
from pivrel.core.arrays import Floats
from pivrel.core.measure.pieces import Pieces
from pivrel.errors import InputError
from pivrel.materials.images import MAX_PIXELS, Image, decode, reduced

NOTE = "Pivrel"
"""The keyword under which a picture notes its place on the sheet, as JSON."""

BESIDE = (238, 236, 229)
INK = (31, 36, 33)
PLAIN = (200, 200, 196)
MOST_NOTE = 10_000
"""Bytes of such a note."""

LEAST_PX, MOST_PX = 16, 32768
INCH_MM = 25.4


@dataclass(frozen=True)
class Window:
    """What of the sheet a picture shows.

    low_mm: its lower left corner. pixels: width and height. per_mm: pixels. laying: names how the pieces lay.
    """

    low_mm: tuple[float, float]
    pixels: tuple[int, int]
    per_mm: float
    laying: str = ""

    @property
    def size_mm(self) -> tuple[float, float]:
        """Width and height."""
        return self.pixels[0] / self.per_mm, self.pixels[1] / self.per_mm

    def pixel_at(self, places: Floats) -> Floats:
        """(..., 2) where places (..., 2) mm come to lie: from the left and the top, pixels are whole at their borders."""
        out = (np.asarray(places) - self.low_mm) * self.per_mm
        return np.stack([out[..., 0], self.pixels[1] - out[..., 1]], axis=-1)


@dataclass(frozen=True)
class Ground:
    """What a picture shows of the sheet: an image (None: plain), the size of one repeat in mm, and whether it repeats."""

    image: Image | None
    repeat_mm: tuple[float, float]
    tile: bool = True


def window_of(
    pieces: Pieces, bleed_mm: float, per_m: float | None, longest: int | None, laying: str
) -> Window:
    """The window that holds all pieces and the bleed about them; by pixels per metre, or for its longest side.

    InputError where it would have no pixels, or more than a picture may have.
    """
    low = pieces.boxes[:, :2].min(axis=0) - bleed_mm
    size = pieces.boxes[:, 2:].max(axis=0) + bleed_mm - low
    per_mm = per_m / 1000 if per_m is not None else (longest or 4096) / float(size.max())
    wide, high = (max(int(np.ceil(side * per_mm - 1e-6)), 1) for side in size)
    if wide * high > MAX_PIXELS or max(wide, high) > MOST_PX:
        fits = per_mm * min((MAX_PIXELS / (wide * high)) ** 0.5, MOST_PX / max(wide, high)) * 0.999
        raise InputError(
            f"{1000 * per_mm:,.0f} pixels per m make {wide:,} x {high:,} pixels; "
            f"at most {MAX_PIXELS / 1e6:.0f} million, {MOST_PX:,} a side, are drawn: ask for {1000 * fits:,.0f} or fewer"
        )
    if max(wide, high) < LEAST_PX:
        raise InputError(f"{wide} x {high} pixels show nothing; ask for more pixels per m")
    return Window((float(low[0]), float(low[1])), (wide, high), per_mm, laying)


def draw(pieces: Pieces, window: Window, ground: Ground, bleed_mm: float, outlines: bool) -> bytes:
    """The picture as PNG, true to its pixels per mm, with its place noted in it."""
    picture = PIL.Image.new("RGB", window.pixels, BESIDE)
    picture.paste(_sheet(ground, window), (0, 0), _mask(pieces, window, bleed_mm))
    if outlines:
        pen = PIL.ImageDraw.Draw(picture)
        wide = 2 if max(window.pixels) > 2048 else 1
        for a, b in window.pixel_at(pieces.rims) - 0.5:
            pen.line([*a, *b], INK, wide)
    note = PIL.PngImagePlugin.PngInfo()
    note.add_text(
        NOTE, json.dumps({"low_mm": window.low_mm, "size_mm": window.size_mm, "laying": window.laying})
    )
    out = BytesIO()
    dots = window.per_mm * INCH_MM
    picture.save(out, "PNG", pnginfo=note, compress_level=3, dpi=(dots, dots))
    return out.getvalue()


def _mask(pieces: Pieces, window: Window, bleed_mm: float) -> PIL.Image.Image:
    """255 on the pieces and the bleed about them."""
    mask = PIL.Image.new("L", window.pixels, 0)
    pen = PIL.ImageDraw.Draw(mask)
    whole = shapely.union_all([polygon.buffer(bleed_mm) for polygon in pieces.polygons])
    # The largest first: what lies within a hole of another is drawn after that hole.
    for part in sorted(shapely.get_parts(whole), key=lambda polygon: -polygon.envelope.area):
        for ring, value in ((part.exterior, 255), *((hole, 0) for hole in part.interiors)):
            places = window.pixel_at(np.array(ring.coords)) - 0.5
            pen.polygon([tuple(place) for place in places], fill=value)
    return mask


def _sheet(ground: Ground, window: Window) -> PIL.Image.Image:
    """What the sheet shows in a window, pixel by pixel between those of its image."""
    if ground.image is None:
        return PIL.Image.new("RGB", window.pixels, PLAIN)
    pixels = np.round(decode(reduced(ground.image)) * 255).astype(np.uint8)
    # Scaled down first where the window shows fewer pixels than the image has, so that none is skipped.
    wanted = [max(round(side * window.per_mm), 1) for side in ground.repeat_mm]
    rows, columns = pixels.shape[:2]
    smaller = (min(columns, wanted[0]), min(rows, wanted[1]))
    source = np.asarray(PIL.Image.fromarray(pixels).resize(smaller, PIL.Image.Resampling.BOX), np.float32)
    wide, high = window.pixels
    s = window.low_mm[0] + (np.arange(wide) + 0.5) / window.per_mm
    t = window.low_mm[1] + window.size_mm[1] - (np.arange(high) + 0.5) / window.per_mm
    left, right, x = _between(s / ground.repeat_mm[0], smaller[0])
    upper, lower, y = _between(1 - t / ground.repeat_mm[1], smaller[1])
    out = np.empty((high, wide, 3), np.uint8)
    for row in range(high):
        line = source[upper[row]] * (1 - y[row]) + source[lower[row]] * y[row]
        out[row] = np.round(line[left] * (1 - x[:, None]) + line[right] * x[:, None])
    if not ground.tile:
        out[(t < 0) | (t > ground.repeat_mm[1])] = BESIDE
        out[:, (s < 0) | (s > ground.repeat_mm[0])] = BESIDE
    return PIL.Image.fromarray(out)


def _between(share: Floats, count: int) -> tuple[Floats, Floats, Floats]:
    """The two pixels of `count` that wrap between which places (N,) lie, and how far they are on to the second."""
    at = share * count - 0.5
    first = np.floor(at)
    return first.astype(int) % count, (first.astype(int) + 1) % count, (at - first).astype(np.float32)


def noted_window(image: Image) -> Window | None:
    """The window that a picture notes, at the pixels that it has now; None where it notes none.

    InputError where it was cut or squeezed since.
    """
    with PIL.Image.open(BytesIO(image.data)) as picture:
        text = getattr(picture, "text", {}).get(NOTE)
    try:
        told = read_json(str(text), MOST_NOTE)
        low, size, laying = told["low_mm"], told["size_mm"], str(told["laying"])
        (s, t), (width, height) = map(float, low), map(float, size)
    except (TypeError, ValueError, KeyError, OverflowError):
        return None
    if not (np.isfinite([s, t, width, height]).all() and min(width, height) > 0):
        return None
    return placed(image, (s, t), (width, height), laying)


def placed(image: Image, low: tuple[float, float], size: tuple[float, float], laying: str) -> Window:
    """The window of an image that shows a part of the sheet; InputError where its sides do not go with it."""
    wide, high = image.pixels
    per_mm = wide / size[0]
    # A whole pixel more or less is what rounding makes of the other side.
    if abs(size[1] * per_mm - high) > 1 + 1e-4 * high:
        raise InputError(
            f"the picture has {wide:,} x {high:,} pixels, whose sides do not go with the "
            f"{size[0]:,.0f} x {size[1]:,.0f} mm that were taken out: it was cut or squeezed since"
        )
    return Window(low, (wide, high), per_mm, laying)
