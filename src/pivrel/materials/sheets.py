"""Built-in materials of metal and cloth: standing-seam zinc and twill."""

from __future__ import annotations

import numpy as np

from pivrel.core.sheet import Joints
from pivrel.materials.fields import Canvas, blend, per_item, ramp, rgb, smoothstep
from pivrel.materials.procedural import Maps, Procedural


def zinc() -> Maps:
    """Pre-weathered zinc in trays 430 mm wide; the seams stand 25 mm high and run up the sheet."""
    canvas = Canvas((860.0, 860.0), (1024, 1024))
    pitch = 430.0
    tray = np.floor(canvas.s / pitch).astype(np.int32)
    x = canvas.s % pitch - pitch / 2
    seam = pitch / 2 - np.abs(x)
    standing = smoothstep(8.5, 6.0, seam)

    cloud = canvas.noise(151, 150) * 0.6 + canvas.noise(152, (30, 260)) * 0.55
    tone = 0.5 + 0.12 * cloud + 0.10 * per_item(153, tray, -1, 1) + 0.03 * canvas.noise(154, 5, 1.2)
    color = ramp(["83898c", "979da0", "a8aeb0", "b9bebf"], np.clip(tone, 0, 1))
    run = smoothstep(0.9, 2.6, canvas.noise(155, (7, 420)))
    color = blend(color, rgb("c3c8c8"), 0.30 * run)
    color = color * (1 - 0.40 * smoothstep(15, 7.5, seam) * (1 - standing))[..., None]
    color = blend(color, rgb("b4babc"), 0.5 * standing)

    # The true 25 mm step would black out a normal map; a quarter of it reads right.
    relief = 6.0 * standing + 0.55 * canvas.noise(156, (120, 240)) + 0.02 * canvas.noise(157, (1, 60))
    rough = 0.47 + 0.05 * cloud + 0.08 * run - 0.08 * standing
    return Maps(canvas, color, relief, rough, metallic=0.85)


def twill() -> Maps:
    """Woollen 2/2 twill, a millimetre a yarn, warp up the sheet."""
    canvas = Canvas((64.0, 64.0), (1024, 1024))
    warp, weft = np.floor(canvas.s).astype(np.int32), np.floor(canvas.t).astype(np.int32)
    over = (warp - weft) % 4 < 2
    # How far along its float a yarn is: it rises in the middle and dives at both ends.
    along_warp = ((canvas.t - warp) % 4) / 2 % 1.0
    along_weft = ((canvas.s - weft - 2) % 4) / 2 % 1.0
    across = np.where(over, canvas.s % 1.0, canvas.t % 1.0)
    along = np.where(over, along_warp, along_weft)
    roundness = np.sqrt(np.maximum(1 - (2 * across - 1) ** 2, 0))
    rise = np.sin(np.pi * np.clip(along, 0.02, 0.98)) ** 0.5
    twist = np.sin((across * 1.0 + along * 2.4) * 2 * np.pi * 1.0)
    relief = 0.34 * roundness * (0.45 + 0.55 * rise) + 0.018 * twist * roundness
    fuzz = canvas.noise(171, 0.16, 1.4)

    yarn = np.where(over, per_item(172, warp, -1, 1), per_item(173, weft, -1, 1))
    tone = np.where(over, 0.58, 0.36) + 0.10 * yarn + 0.05 * twist + 0.05 * fuzz
    color = ramp(["3b4340", "566059", "737c72", "949a8d"], np.clip(tone, 0, 1))
    fleck = smoothstep(2.1, 2.8, canvas.noise(174, 0.5))
    color = blend(color, rgb("c9b98f"), 0.65 * fleck)
    color = color * (0.50 + 0.50 * roundness * (0.55 + 0.45 * rise))[..., None]
    rough = 0.93 + 0.03 * fuzz
    return Maps(canvas, color, relief + 0.012 * fuzz, rough)


PROCEDURAL = (
    Procedural(
        "zinc", "Standing-seam zinc", 90.0, zinc, "roof", joints=Joints((430.0, None)), half_turns=True
    ),
    # The grain that shows is the twill's own line, which rises at 45 degrees.
    Procedural("twill", "Twill cloth", 45.0, twill, "cloth", half_turns=True),
)
