"""Built-in materials that lie over others: leak stains and moss."""

from __future__ import annotations

import numpy as np

from pivrel.materials.fields import Canvas, blend, ramp, rgb, smoothstep
from pivrel.materials.procedural import Maps, Procedural


def leak() -> Maps:
    """Rusty water that ran down: streaks of all widths, see-through between them."""
    canvas = Canvas((1600.0, 1600.0), (1024, 1024))
    wide, narrow = canvas.noise(211, (90, 1500)), canvas.noise(212, (16, 900))
    streak = 0.6 * wide + 0.55 * narrow + 0.15 * canvas.noise(213, (5, 160))
    drip = smoothstep(0.1, 1.3, streak)
    tone = 0.5 + 0.16 * canvas.noise(214, (40, 420)) + 0.08 * canvas.noise(215, 18)
    color = ramp(["3b2a1c", "6a4527", "8f6238", "b3895a"], np.clip(tone, 0, 1))
    color = blend(color, rgb("2c2119"), 0.35 * smoothstep(0.9, 2.2, narrow))
    rough = 0.62 + 0.06 * canvas.noise(216, 60)
    alpha = np.clip(0.92 * drip, 0, 1)
    return Maps(canvas, color, 0.02 * canvas.noise(217, 12), rough, alpha=alpha)


def moss() -> Maps:
    """Cushions of moss."""
    canvas = Canvas((600.0, 600.0), (1024, 1024))
    cushion, tuft = canvas.noise(221, 60), canvas.noise(222, 7, 1.3)
    height = cushion + 0.35 * tuft
    tone = 0.45 + 0.14 * cushion + 0.13 * tuft + 0.05 * canvas.noise(223, 2)
    color = ramp(["20280f", "37431a", "566327", "7c8540"], np.clip(tone, 0, 1))
    color = blend(color, rgb("8c7a43"), 0.35 * smoothstep(0.8, 2.0, canvas.noise(224, 90)))
    rough = 0.94 + 0.02 * tuft
    return Maps(canvas, color, 2.2 * height, rough)


PROCEDURAL = (
    Procedural("leak", "Leak stains", 90.0, leak, "coat"),
    Procedural("moss", "Moss", 0.0, moss, "coat", has_grain=False),
)
