"""Making an image repeat without a line, without touching its middle.

Over each border a strip from the image's own middle is laid, where it runs on by itself, and cut in along
the line of least difference (A. Efros and W. Freeman, "Image quilting for texture synthesis and transfer",
SIGGRAPH 2001). All channels of a material are cut along the same line, so they stay in step.
"""

from __future__ import annotations

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.materials.reading import grey_of

BAND = 0.15
"""Share of the image at each border that may change."""

SOFT = 0.01
"""The cut is this soft, as a share of the image: wide enough for shades to meet, too narrow to blur."""


def least_cut(cost: Floats) -> Ints:
    """(H,) the column in each row of the connected cut from top to bottom that costs least. cost: (H, W)."""
    h = len(cost)
    total = cost.copy()
    for y in range(1, h):
        above = total[y - 1]
        left, right = np.append(np.inf, above[:-1]), np.append(above[1:], np.inf)
        total[y] += np.minimum(np.minimum(left, above), right)
    cut = np.empty(h, np.int32)
    cut[-1] = int(np.argmin(total[-1]))
    for y in range(h - 2, -1, -1):
        x = cut[y + 1]
        low = max(x - 1, 0)
        cut[y] = low + int(np.argmin(total[y, low : x + 2]))
    return cut


def _weights(difference: Floats) -> Floats:
    """(H, 2 band) how much of the strip shows: 1 at the border in its middle, 0 beyond both cuts."""
    wide = difference.shape[1]
    band = wide // 2
    left = least_cut(difference[:, : band - 1])
    right = band + 1 + least_cut(difference[:, band + 1 :])
    x = np.arange(wide)
    soft = max(1.0, SOFT * wide / (2 * BAND))
    rise = np.clip((x - left[:, None]) / soft + 0.5, 0, 1)
    fall = np.clip((right[:, None] - x) / soft + 0.5, 0, 1)
    out: Floats = rise * fall
    # The strip rules at the border itself, and nothing of it is left where the band ends.
    out[:, band - 1 : band + 1] = 1.0
    out[:, 0] = out[:, -1] = 0.0
    return out


def _across(images: dict[str, Floats]) -> None:
    """Makes the left and right borders of the images meet; changes the images, no more than their bands."""
    first = next(iter(images.values()))
    w = first.shape[1]
    band = min(max(4, int(w * BAND)), w // 2)
    if band < 2:
        return
    # With the image shifted by half, the border lies in the middle of this band, and the strip's own middle under it.
    here = np.arange(w // 2 - band, w // 2 + band)
    border = (here - w // 2) % w
    difference = sum((grey_of(image[:, border]) - grey_of(image[:, here])) ** 2 for image in images.values())
    weight = _weights(np.asarray(difference))
    for image in images.values():
        share = weight if image.ndim == 2 else weight[..., None]
        image[:, border] = image[:, border] * (1 - share) + image[:, here] * share


def made_seamless(images: dict[str, Floats], along: bool = True, up: bool = True) -> dict[str, Floats]:
    """All channels of a material, their borders made to meet along the same cuts.

    images: (H, W) or (H, W, 3) by channel, all of one size. along: left and right borders; up: bottom and
    top. Normals are made as long as they were.
    """
    out = {name: image.copy() for name, image in images.items()}
    if along:
        _across(out)
    if up:
        _across({name: np.swapaxes(image, 0, 1) for name, image in out.items()})
    if "normal" in out:
        n = out["normal"] * 2 - 1
        out = {**out, "normal": n / np.maximum(np.linalg.norm(n, axis=2, keepdims=True), 1e-6) / 2 + 0.5}
    return out
