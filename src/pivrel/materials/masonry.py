"""Built-in materials of stone and clay: brick, tile, terrazzo, concrete."""

from __future__ import annotations

import numpy as np

from pivrel.core.sheet import Joints
from pivrel.materials.fields import Canvas, blend, per_item, ramp, rgb, rounded_rectangle, smoothstep
from pivrel.materials.procedural import Maps, Procedural

BRICK_MM, JOINT_MM = (215.0, 65.0), 10.0
"""Stretcher face of the metric brick of BS 4729 / BS EN 771-1 and its joint (from memory)."""


def brick() -> Maps:
    """Four bricks by eight courses in stretcher bond, 225 x 75 mm a brick with its joint."""
    canvas = Canvas((900.0, 600.0), (1536, 1024))
    long, high = BRICK_MM[0] + JOINT_MM, BRICK_MM[1] + JOINT_MM
    course = np.floor(canvas.t / high).astype(np.int32)
    along = canvas.s + (course % 2) * long / 2
    column = (np.floor(along / long).astype(np.int32)) % 4
    which = course * 4 + column
    x, y = along % long - long / 2, canvas.t % high - high / 2

    worn = canvas.noise(11, 16, 1.2) * 0.9 + canvas.noise(12, 3, 1.2) * 0.35
    edge = rounded_rectangle(x, y, (BRICK_MM[0] / 2, BRICK_MM[1] / 2), 4.0) + worn
    face = smoothstep(1.2, -1.2, edge)

    tone = per_item(21, which)
    clay = ramp(["6f3527", "8a4331", "9a4c36", "a95a40", "b5684a", "8d4a3b"], tone)
    burnt = (per_item(22, which) > 0.84) * smoothstep(-0.6, 1.2, canvas.noise(13, 70))
    clay = blend(clay, rgb("47302c"), 0.7 * burnt)
    clay = blend(clay, rgb("c98f6c"), 0.22 * smoothstep(0.3, 2.2, canvas.noise(14, 28)))
    clay = clay * (1 + 0.075 * canvas.noise(15, 5, 1.4) + 0.05 * canvas.noise(16, 1.2))[..., None]
    pits = smoothstep(1.6, 2.4, canvas.noise(17, 3.2, 1.2))
    clay = clay * (1 - 0.42 * pits)[..., None]

    sand = rgb("b3a897") * (1 + 0.06 * canvas.noise(18, 2, 1.5) + 0.07 * canvas.noise(19, 30))[..., None]
    sand = sand * (1 - 0.22 * smoothstep(6, 0, edge))[..., None]
    color = blend(sand, clay, face)

    crown = smoothstep(0.0, -7.0, edge)
    relief = face * (3.4 + 0.7 * crown + 0.22 * canvas.noise(15, 5, 1.4) + per_item(23, which, -0.5, 0.5))
    relief = relief - 0.8 * pits * face + (1 - face) * 0.25 * canvas.noise(18, 2, 1.5)
    rough = 0.86 + 0.06 * canvas.noise(14, 28) * 0.5 + 0.05 * (1 - face)
    return Maps(canvas, color, relief, rough)


def tile() -> Maps:
    """Glazed square tiles, 150 mm with their 3 mm joint, four by four."""
    canvas = Canvas((600.0, 600.0), (1024, 1024))
    pitch, joint = 150.0, 3.0
    column, row = np.floor(canvas.s / pitch).astype(np.int32), np.floor(canvas.t / pitch).astype(np.int32)
    which = row * 4 + column
    x, y = canvas.s % pitch - pitch / 2, canvas.t % pitch - pitch / 2
    edge = rounded_rectangle(x, y, ((pitch - joint) / 2,) * 2, 2.5)
    face = smoothstep(0.45, -0.45, edge)

    pool = 0.5 + 0.18 * canvas.noise(31, 60) + per_item(41, which, -0.3, 0.3)
    glaze = ramp(["6f9c98", "86b0aa", "9cc0b8", "b4d0c6"], np.clip(pool, 0, 1))
    glaze = blend(glaze, rgb("5c8986"), 0.65 * smoothstep(-9, -1, edge))
    glaze = blend(glaze, rgb("e6efe8"), 0.10 * smoothstep(0.8, 2.0, canvas.noise(32, 14)))
    glaze = glaze * (1 + 0.014 * canvas.noise(33, 2.5))[..., None]
    grout = rgb("d6d2c6") * (1 + 0.04 * canvas.noise(34, 1.5, 1.5) + 0.03 * canvas.noise(35, 40))[..., None]
    color = blend(grout, glaze, face)

    tilt = per_item(42, which, -1, 1) * x + per_item(43, which, -1, 1) * y
    relief = face * (1.4 - 0.9 * smoothstep(-5.0, 0.5, edge) + 0.0022 * tilt + 0.03 * canvas.noise(36, 26))
    rough = 0.85 - face * (0.70 - 0.03 * canvas.noise(32, 14))
    return Maps(canvas, color, relief + (1 - face) * 0.08 * canvas.noise(34, 1.5, 1.5), rough)


def terrazzo() -> Maps:
    """Ground terrazzo: marble chips of three sizes in a warm white cement."""
    canvas = Canvas((800.0, 800.0), (1024, 1024))
    cement = rgb("ddd6c8") * (1 + 0.012 * canvas.noise(51, 60) + 0.02 * canvas.noise(52, 1.5, 1.5))[..., None]
    color, chip = cement, np.zeros(canvas.pixels[::-1])
    palette = ["40413f", "8d8f8a", "c9b79c", "f1ece2", "a9705a", "6f8079", "bcae9e", "f3efe6"]
    for seed, count, gap in ((61, 5200, 1.9), (62, 1500, 5.2), (63, 330, 13.0)):
        distance, index = canvas.cells(canvas.scatter(seed, count))
        # Between the two nearest centres runs a straight edge, so chips are angular like crushed stone.
        inset = (distance[..., 1] - distance[..., 0]) - gap - 0.4 * canvas.noise(seed + 20, 3, 1.2)
        kept = per_item(seed + 10, index[..., 0]) > 0.42
        inside = smoothstep(0.0, 1.1, inset) * kept
        tone = per_item(seed + 40, index[..., 0], 0, len(palette) - 1e-9).astype(int)
        stone = np.stack([rgb(c) for c in palette])[tone]
        vein = 0.07 * canvas.noise(seed + 30, (9, 4), 1.2) * per_item(seed + 50, index[..., 0])
        color = blend(color, stone * (1 + vein)[..., None], inside)
        chip = np.maximum(chip, inside)
    relief = 0.04 * chip + 0.01 * canvas.noise(53, 2)
    rough = 0.34 - 0.12 * chip + 0.02 * canvas.noise(54, 40)
    return Maps(canvas, color, relief, rough)


def concrete() -> Maps:
    """Concrete that keeps the print of sawn boards, 150 mm wide, laid level."""
    canvas = Canvas((1200.0, 1200.0), (1024, 1024))
    wide = 150.0
    row = np.floor(canvas.t / wide).astype(np.int32)
    y = canvas.t % wide - wide / 2
    # Each board has a joint of its own along its length.
    joint_at = per_item(71, row, 0, 1200)
    x = (canvas.s - joint_at + 600) % 1200 - 600
    seam = np.minimum(wide / 2 - np.abs(y), np.abs(x) + 1.0)

    swirl = canvas.noise(72, (420, 30))
    print_ = np.sin((canvas.t + 9 * swirl) / 200 * 2 * np.pi * 7 + per_item(73, row, 0, 6.28))
    streak = canvas.noise(74, (260, 2.2), 1.3)
    relief = 0.28 * print_ + 0.30 * streak + 0.9 * per_item(75, row, -1, 1)
    relief = relief - 1.6 * smoothstep(3.2, 0.0, seam) + 0.12 * canvas.noise(76, 3, 1.4)
    holes = canvas.cells(canvas.scatter(77, 420), 1)
    size = per_item(78, holes[1][..., 0], 0.3, 4.2) * (per_item(79, holes[1][..., 0]) > 0.35)
    pit = smoothstep(0.6, -0.6, holes[0][..., 0] - size)
    relief = relief - 1.8 * pit

    tone = 0.5 + 0.13 * canvas.noise(80, 240) + 0.07 * canvas.noise(81, 34) + 0.11 * per_item(82, row, -1, 1)
    tone = tone + 0.05 * streak + 0.035 * print_
    color = ramp(["74726d", "8d8b85", "a19e97", "b4b1a9"], np.clip(tone, 0, 1))
    color = color * (1 + 0.03 * canvas.noise(83, 1.4, 1.4))[..., None]
    color = color * (1 - 0.35 * smoothstep(2.6, 0.0, seam) - 0.42 * pit)[..., None]
    color = blend(color, rgb("c9c5bb"), 0.20 * smoothstep(0.9, 2.4, canvas.noise(84, (60, 160))))
    rough = 0.80 + 0.05 * canvas.noise(81, 34) - 0.03 * streak
    return Maps(canvas, color, relief, rough)


PROCEDURAL = (
    Procedural(
        "brick",
        "Red stock brick, stretcher bond",
        0.0,
        brick,
        "wall",
        joints=Joints((225.0, 75.0), JOINT_MM, bond=0.5),
    ),
    Procedural(
        "tile",
        "Square glazed tile",
        0.0,
        tile,
        "wall",
        has_grain=False,
        joints=Joints((150.0, 150.0), 3.0),
        half_turns=True,
        mirrors=True,
    ),
    Procedural(
        "terrazzo",
        "Terrazzo, warm white",
        0.0,
        terrazzo,
        "floor",
        has_grain=False,
        half_turns=True,
        mirrors=True,
    ),
    Procedural(
        "concrete",
        "Board-marked concrete",
        0.0,
        concrete,
        "wall",
        joints=Joints((None, 150.0)),
        half_turns=True,
        mirrors=True,
    ),
)
