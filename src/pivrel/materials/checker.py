"""The checker: squares of a stated size with their place in mm, to judge scale, turn and mirroring."""

from __future__ import annotations

import numpy as np
import PIL.Image
import PIL.ImageDraw
import PIL.ImageFont

from pivrel.materials.fields import rgb
from pivrel.materials.images import Image, encode

LIGHT, DARK = rgb("f2eee4"), rgb("b9c4c0")
INK = (46, 52, 54)


def square_for(size_mm: float) -> float:
    """A round square size in mm (1, 2 or 5 times a power of ten) of which about 25 span `size_mm`."""
    ideal = max(size_mm, 1e-3) / 25
    power = 10.0 ** np.floor(np.log10(ideal))
    return float(max(step * power for step in (1, 2, 5) if step * power <= ideal * 1.0001))


def checker(repeat_mm: tuple[float, float], squares: tuple[int, int]) -> Image:
    """A sheet of `squares` (both even, so that it wraps), each marked with its lower left place in mm.

    The arrow on each square points up the sheet; figures read right only where nothing is mirrored.
    """
    columns, rows = squares
    side = 128 if max(squares) <= 10 else 64
    w, h = columns * side, rows * side
    x, y = np.arange(w) // side, rows - 1 - np.arange(h) // side
    dark = (x[None, :] + y[:, None]) % 2 == 1
    picture = PIL.Image.fromarray(np.uint8(np.where(dark[..., None], DARK, LIGHT) * 255))
    draw = PIL.ImageDraw.Draw(picture)
    font = PIL.ImageFont.load_default(side * 0.24)
    for column in range(columns):
        for row in range(rows):
            left, top = column * side, (rows - 1 - row) * side
            s, t = repeat_mm[0] / columns * column, repeat_mm[1] / rows * row
            draw.text((left + side / 2, top + side * 0.40), f"{s:g}", INK, font, anchor="mm")
            draw.text((left + side / 2, top + side * 0.66), f"{t:g}", INK, font, anchor="mm")
            tip = (left + side * 0.5, top + side * 0.08)
            draw.polygon(
                [
                    tip,
                    (tip[0] - side * 0.06, tip[1] + side * 0.1),
                    (tip[0] + side * 0.06, tip[1] + side * 0.1),
                ],
                fill=(176, 74, 40),
            )
            draw.line([(left, top), (left + side, top)], INK, 1)
            draw.line([(left, top), (left, top + side)], INK, 1)
    return encode(np.asarray(picture) / 255)


def checker_for(repeat_mm: tuple[float, float]) -> Image:
    """The checker that stands in for a material without images: its squares divide the repeat."""
    short = min(repeat_mm)
    squares = tuple(int(min(max(2 * round(4 * side / short), 2), 40)) for side in repeat_mm)
    return checker(repeat_mm, (squares[0], squares[1]))
