"""A material's images as numbers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.kernels import kernel
from pivrel.core.laying.sampling import add_bilinear, bilinear

DULL = 0.8
"""The roughness of a material that states none."""


@dataclass(frozen=True)
class Textures:
    """Images by channel, (H, W, 3) or (H, W, 1) each, linear, 0 to 1; None for those that a material does not have.

    alpha: of the base color. normal: as stored, green up the sheet. metal: where there is no image of it. height_mm: from
    the black of the height image to its white.
    """

    base_color: Floats | None = None
    alpha: Floats | None = None
    normal: Floats | None = None
    roughness: Floats | None = None
    metallic: Floats | None = None
    height: Floats | None = None
    occlusion: Floats | None = None
    metal: float = 0.0
    height_mm: float = 10.0

    @property
    def reach_mm(self) -> float:
        """How high its surface reaches; 0 without an image of it."""
        return 0.0 if self.height is None else self.height_mm


@dataclass(frozen=True)
class Showing:
    """What of a sheet each of some points shows, and how much it counts there.

    key: of the textures. st: (N, 2) mm on the sheet. along, up: (N, 3) unit directions in which s and t grow over the
    surface. weight: (N,). tone: (N,) what its color is multiplied by.
    """

    key: str
    repeat_mm: tuple[float, float]
    st: Floats
    along: Floats
    up: Floats
    weight: Floats
    tone: Floats


@dataclass
class Sampled:
    """What a layer shows at points; gradient: (N, 3) of its normals over the surface. Sums while it is filled."""

    base_color: Floats
    alpha: Floats
    gradient: Floats
    roughness: Floats
    metallic: Floats
    height: Floats
    occlusion: Floats

    @classmethod
    def empty(cls, count: int) -> Sampled:
        """Nothing yet at any point."""
        three, one = (count, 3), (count, 1)
        return cls(
            np.zeros(three),
            np.zeros(one),
            np.zeros(three),
            np.zeros(one),
            np.zeros(one),
            np.zeros(one),
            np.zeros(one),
        )

    def add(self, textures: Textures, showing: Showing, rows: Ints) -> None:
        """Adds what some of the points show, by their numbers."""
        weight = showing.weight

        def add(to: Floats, image: Floats | None, missing: float, weight: Floats) -> None:
            if image is None:
                to[rows] += (missing * weight[rows])[:, None]
            else:
                add_bilinear(to, rows, weight, image, showing.st, showing.repeat_mm)

        add(self.base_color, textures.base_color, 1.0, weight * showing.tone)
        add(self.alpha, textures.alpha, 1.0, weight)
        add(self.roughness, textures.roughness, DULL, weight)
        add(self.metallic, textures.metallic, textures.metal, weight)
        if textures.height is not None:
            add(self.height, textures.height, 0.0, weight * textures.height_mm)
        add(self.occlusion, textures.occlusion, 1.0, weight)
        if textures.normal is not None:
            mapped = bilinear(textures.normal, showing.st, showing.repeat_mm, rows)
            _add_slopes(self.gradient, rows, weight, mapped, showing.along, showing.up)


@kernel
def _add_slopes(out: Floats, rows: Ints, weight: Floats, mapped: Floats, along: Floats, up: Floats) -> None:
    """Adds to some rows of out (N, 3) the slope of normals as stored (R, 3), by weight (N,)."""
    for at in range(len(rows)):
        k = rows[at]
        steep = max(mapped[at, 2] * 2 - 1, 1e-3)
        s, t = -(mapped[at, 0] * 2 - 1) / steep, -(mapped[at, 1] * 2 - 1) / steep
        for c in range(3):
            out[k, c] += weight[k] * (s * along[k, c] + t * up[k, c])
