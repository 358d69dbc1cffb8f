"""Edges across which a channel does not run on: what a finish shows on both sides of an edge, at the same place."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.coats.masks.mask import Places
from pivrel.core.evaluation.coated import Channels, Coated, located
from pivrel.core.evaluation.textures import Textures
from pivrel.core.geometry.shares import between
from pivrel.core.geometry.vectors import dots, unit_rows
from pivrel.core.measure.seams import Seams

CHANNELS = tuple(field.name for field in fields(Channels))

SEEN = 3 / 255
"""A jump of less than this nobody sees: common practice, no source. Of heights, this share of what a material reaches."""

APART_MM = 40.0
"""An edge is looked at in places so far apart, in MOST_PLACES of them at most."""

MOST_PLACES = 12
MOST_IN_ALL = 150_000


@dataclass(frozen=True)
class Jumps:
    """Edges and how far each channel jumps across them.

    length_mm: (E,). jump: by channel (E,), the mean along the edge, 0 to 1: of color as its square root, about as the eye
    weighs light; of normals half the difference of what they lean; of heights the share of what the finish reaches.
    """

    length_mm: Floats
    jump: Mapping[str, Floats]

    def breaks(self, channel: str) -> Mask:
        """(E,) where a channel does not run on."""
        return self.jump[channel] > SEEN

    def broken_mm(self, channel: str) -> float:
        """The length of the edges where a channel does not run on."""
        return float(self.length_mm[self.breaks(channel)].sum())


def find_jumps(coated: Coated, seams: Seams, textures: Mapping[str, Textures]) -> Jumps:
    """The jumps of a finish across the edges within it. textures: by the keys of materials."""
    own = np.flatnonzero(seams.length_mm > 0)
    length = seams.length_mm[own]
    count = np.clip(np.ceil(length / APART_MM), 1, MOST_PLACES).astype(int)
    while count.sum() > MOST_IN_ALL and count.max(initial=1) > 1:
        count = np.maximum(count // 2, 1)
    edge = np.repeat(np.arange(len(own)), count)
    step = np.arange(len(edge)) - np.repeat(np.cumsum(count) - count, count)
    share = (step + 0.5) / count[edge]
    pairs = seams.pairs[own][edge]
    ends = coated.surface.mesh.points[coated.surface.ends_of(pairs[:, 0])]
    points = ends[:, 0] + share[:, None] * (ends[:, 1] - ends[:, 0])
    along = unit_rows(ends[:, 1] - ends[:, 0])
    near, far = (_shown(coated, points, pairs[:, side], along, textures) for side in (0, 1))
    reach = max((one.reach_mm for one in textures.values()), default=0.0) or 1.0
    weight = np.maximum(np.bincount(edge, minlength=len(own)), 1)
    jump = {}
    for channel in CHANNELS:
        a, b = near[channel], far[channel]
        off = np.abs(a - b).mean(axis=1) / (reach if channel == "height" else 1.0)
        jump[channel] = np.bincount(edge, off, len(own)) / weight
    return Jumps(length, jump)


def _shown(
    coated: Coated, points: Floats, half_edges: Ints, along: Floats, textures: Mapping[str, Textures]
) -> dict[str, Floats]:
    """What the faces of half-edges show at points on them, by channel (N, 1 or more)."""
    surface = coated.surface
    triangles, shares = located(surface, points, surface.topology.corner_face[half_edges])
    normals = unit_rows(between(surface.shading_normals, surface.triangles[triangles], shares))
    shown = coated.evaluate(Places(points, normals, triangles, shares), textures)
    return {
        "base_color": np.sqrt(np.clip(shown.base_color, 0, 1)),
        "normal": _lean(shown, normals, along) / 2,
        "roughness": shown.roughness[:, None],
        "metallic": shown.metallic[:, None],
        "height": shown.height[:, None],
        "occlusion": shown.occlusion[:, None],
    }


def _lean(shown: Channels, normals: Floats, along: Floats) -> Floats:
    """(N, 2) how far normals lean along an edge and across it: the same on both sides of a fold that a pattern runs over."""
    across = unit_rows(np.cross(normals, along))
    return np.stack([dots(shown.normal, along), dots(shown.normal, across)], axis=1)
