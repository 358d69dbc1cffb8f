"""Built-in materials of wood: oak boards and walnut veneer."""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.sheet import Joints
from pivrel.materials.fields import Canvas, blend, per_item, ramp, rgb, smoothstep
from pivrel.materials.procedural import Maps, Procedural


def _shifted(field: Floats, ids: np.ndarray, seed: int) -> Floats:
    """A periodic field, moved by a random amount of its own for each id: no two boards alike."""
    h, w = field.shape
    down = per_item(seed, ids, 0, h).astype(int)
    right = per_item(seed + 1, ids, 0, w).astype(int)
    rows, columns = np.indices((h, w))
    return field[(rows + down) % h, (columns + right) % w]


def oak() -> Maps:
    """Planed oak boards, 150 mm wide and 1800 mm long, grain along the sheet."""
    canvas = Canvas((1800.0, 1200.0), (1536, 1024))
    wide = 150.0
    row = np.floor(canvas.t / wide).astype(np.int32)
    y = canvas.t % wide - wide / 2
    end_at = (row * 0.6180339887 + 0.2) % 1.0 * 1800
    x = (canvas.s - end_at + 900) % 1800 - 900
    gap = np.minimum(wide / 2 - np.abs(y), np.abs(x))
    face = smoothstep(0.4, 1.8, gap)

    bend = _shifted(canvas.noise(101, (650, 60)), row, 111)
    wander = _shifted(canvas.noise(102, (260, 18)), row, 113)
    # Flat-sawn boards: growth rings meet the face at a shallow angle, wide in the middle.
    ring = (y / 150) ** 2 * per_item(115, row, 3, 11) + y / 150 * per_item(116, row, -4, 4)
    ring = ring + 1.25 * bend + 0.22 * wander + per_item(117, row, 0, 9)
    wave = ring % 1.0
    late = smoothstep(0.25, 0.92, wave) * smoothstep(1.0, 0.94, wave)
    pores = smoothstep(1.1, 2.3, _shifted(canvas.noise(103, (26, 0.9), 1.2), row, 119))
    fleck = smoothstep(1.9, 2.8, _shifted(canvas.noise(104, (14, 4)), row, 121))
    fibre = _shifted(canvas.noise(105, (240, 1.6), 1.3), row, 123)

    tone = 0.50 + 0.16 * per_item(118, row, -1, 1) + 0.07 * bend + 0.10 * fibre * 0.6
    color = ramp(["94693f", "ac8152", "bf9766", "cfab7c"], np.clip(tone, 0, 1))
    color = blend(color, rgb("87592f"), 0.42 * late)
    color = blend(color, rgb("6d4625"), 0.50 * pores * (0.45 + 0.55 * late))
    color = blend(color, rgb("dcc093"), 0.35 * fleck)
    color = color * (1 + 0.022 * canvas.noise(106, 1.2))[..., None]
    color = blend(rgb("2c2018") * np.ones_like(color), color, face)

    relief = face * (1.2 + 0.10 * fibre * 0.4 - 0.10 * late - 0.16 * pores + 0.25 * per_item(125, row, -1, 1))
    rough = 0.54 + 0.07 * pores - 0.05 * late + 0.02 * fibre + 0.3 * (1 - face)
    return Maps(canvas, color, relief, rough)


def walnut() -> Maps:
    """Walnut veneer in book-matched leaves 300 mm wide, grain up the sheet."""
    canvas = Canvas((600.0, 1200.0), (1024, 2048))

    # The right leaf is the left one opened like a book: both borders meet their own mirror image.
    def matched(field: Floats) -> Floats:
        half = field[:, : field.shape[1] // 2]
        return np.concatenate([half, half[:, ::-1]], axis=1)

    bend = matched(canvas.noise(131, (110, 700)))
    wander = matched(canvas.noise(132, (20, 190)))
    fibre = matched(canvas.noise(133, (0.9, 150), 1.3))
    pores = smoothstep(1.15, 2.4, matched(canvas.noise(134, (0.8, 17), 1.2)))
    leaf = np.abs((canvas.s % 600) - 300) / 300
    ring = leaf * 7.5 + 1.3 * bend + 0.20 * wander
    wave = ring % 1.0
    late = smoothstep(0.3, 0.93, wave) * smoothstep(1.0, 0.95, wave)
    stripe = smoothstep(-0.4, 1.6, bend + 0.4 * wander)

    tone = 0.46 + 0.20 * np.sin(ring * 0.9) + 0.08 * fibre + 0.05 * wander
    color = ramp(["3f291c", "563a27", "6e4c33", "876143", "9c7653"], np.clip(tone, 0, 1))
    color = blend(color, rgb("382217"), 0.50 * late)
    color = blend(color, rgb("4a3038"), 0.16 * stripe)
    color = blend(color, rgb("2a1910"), 0.55 * pores)
    color = color * (1 + 0.02 * canvas.noise(135, 0.8))[..., None]
    relief = -0.05 * pores - 0.02 * late + 0.012 * fibre
    rough = 0.40 + 0.08 * pores - 0.03 * late + 0.015 * fibre
    return Maps(canvas, color, relief, rough)


PROCEDURAL = (
    Procedural(
        "oak", "Oak boards", 0.0, oak, "wood", joints=Joints((None, 150.0)), half_turns=True, mirrors=True
    ),
    Procedural("walnut", "Walnut veneer, book-matched", 90.0, walnut, "wood", half_turns=True, mirrors=True),
)
