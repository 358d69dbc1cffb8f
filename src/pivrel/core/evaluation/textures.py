"""A material's images as numbers."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Mask
from pivrel.core.laying.sampling import bilinear

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

    def add(self, textures: Textures, showing: Showing, rows: Mask) -> None:
        """Adds what some of the points (N,) show."""
        st, weight = showing.st[rows], showing.weight[rows, None]

        def at(image: Floats | None, missing: float) -> Floats:
            if image is None:
                return np.full((len(st), 1), missing)
            return bilinear(image, st, showing.repeat_mm)

        self.base_color[rows] += weight * showing.tone[rows, None] * at(textures.base_color, 1.0)
        self.alpha[rows] += weight * at(textures.alpha, 1.0)
        self.roughness[rows] += weight * at(textures.roughness, DULL)
        self.metallic[rows] += weight * at(textures.metallic, textures.metal)
        self.height[rows] += weight * textures.height_mm * at(textures.height, 0.0)
        self.occlusion[rows] += weight * at(textures.occlusion, 1.0)
        if textures.normal is not None:
            mapped = at(textures.normal, 0.0) * 2 - 1
            slope = -mapped[:, :2] / np.maximum(mapped[:, 2:], 1e-3)
            self.gradient[rows] += weight * (
                slope[:, :1] * showing.along[rows] + slope[:, 1:] * showing.up[rows]
            )
