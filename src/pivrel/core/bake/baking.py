"""Baking an image: what finishes show at its texels, normals by the tangents of the new UVs."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cached_property
from itertools import product

import numpy as np

from pivrel.core.arrays import Floats, Ints, distinct
from pivrel.core.bake.pages import Pages
from pivrel.core.bake.texels import Texels
from pivrel.core.evaluation.coated import Channels, Coated
from pivrel.core.evaluation.textures import Textures
from pivrel.core.geometry.shares import between
from pivrel.core.geometry.vectors import dots, unit_rows
from pivrel.core.laying.tangents import tangents

AT_ONCE = 1 << 16
"""Texels are evaluated so many at a time."""


@dataclass(frozen=True)
class Shown:
    """A finish to be baked. samples: each texel is looked at in so many places along and up."""

    coated: Coated
    textures: Mapping[str, Textures]
    samples: int = 1


@dataclass(frozen=True)
class BakedRows:
    """Some texels of an image. flat: (N,) their index. channels: as evaluated; tangent: (N, 3) the normal by the texel's
    tangent frame, unit."""

    flat: Ints
    channels: Channels
    tangent: Floats


@dataclass(frozen=True)
class Baking:
    """Images to be baked.

    face_origin: (F,) the face of the finishes' own surface that each face was cut from. face_shown: (F,) which of `shown`
    lies on it.
    """

    pages: Pages
    face_origin: Ints
    face_shown: Ints
    shown: Sequence[Shown]

    @cached_property
    def tangents(self) -> Floats:
        """(C, 4) where u runs at each corner, and the side of v."""
        surface = self.pages.charts.surface
        return tangents(surface, self.pages.px, surface.shading_normals)

    def rows(self, texels: Texels, threads: int = 2) -> Iterator[BakedRows]:
        """All texels of an image that show a finish, some at a time."""
        with ThreadPoolExecutor(threads) as pool:
            waiting = []
            for flat, triangle in texels.rows(AT_ONCE):
                face = self.pages.charts.surface.triangle_face[triangle]
                for number in distinct(self.face_shown[face]).tolist():
                    own = self.face_shown[face] == number
                    waiting.append(pool.submit(self._baked, texels, flat[own], self.shown[number]))
                # A few are under way, and not all of them in memory.
                while len(waiting) > 2 * threads:
                    yield waiting.pop(0).result()
            for one in waiting:
                yield one.result()

    def _baked(self, texels: Texels, flat: Ints, shown: Shown) -> BakedRows:
        steps = (np.arange(shown.samples) + 0.5) / shown.samples
        found = [self._evaluated(texels, flat, (x, y), shown) for x, y in product(steps, steps)]
        channels = _mean([channels for channels, _ in found])
        return BakedRows(flat, channels, unit_rows(_mean_of([tangent for _, tangent in found])))

    def _evaluated(
        self, texels: Texels, flat: Ints, within: tuple[float, float], shown: Shown
    ) -> tuple[Channels, Floats]:
        surface = self.pages.charts.surface
        triangle, shares = texels.triangle.reshape(-1)[flat], texels.shares(flat, within)
        corners = surface.triangles[triangle]
        points = between(surface.mesh.points, surface.mesh.corners[corners], shares)
        # Beyond the border of its triangle a normal stays as it is on it.
        inside = np.clip(shares, 0, 1)
        inside /= inside.sum(axis=1, keepdims=True)
        normals = unit_rows(between(surface.shading_normals, corners, inside))
        origin = self.face_origin[surface.triangle_face[triangle]]
        channels = shown.coated.evaluate(shown.coated.places(points, normals, origin), shown.textures)
        along = between(self.tangents[:, :3], corners, inside)
        hand = self.tangents[corners[:, 0], 3]
        return channels, tangent_normals(channels.normal, normals, along, hand)


def tangent_normals(bent: Floats, normals: Floats, along: Floats, hand: Floats) -> Floats:
    """(N, 3) bent normals in the frame of tangent, bitangent and normal: what a reader of glTF 2.0 undoes.

    bent, normals: (N, 3) unit. along: (N, 3) tangents. hand: (N,) 1 or -1.
    """
    tangent = unit_rows(along)
    across = unit_rows(np.cross(normals, tangent) * hand[:, None])
    # By Cramer's rule: the frame of interpolated tangents is not quite at right angles.
    parts = [
        dots(bent, np.cross(second, third))
        for second, third in ((across, normals), (normals, tangent), (tangent, across))
    ]
    whole = dots(tangent, np.cross(across, normals))
    return unit_rows(np.column_stack(parts) * np.sign(whole)[:, None])


def _mean(found: Sequence[Channels]) -> Channels:
    if len(found) == 1:
        return found[0]
    names = ("base_color", "roughness", "metallic", "height", "occlusion")
    means = {name: _mean_of([getattr(one, name) for one in found]) for name in names}
    return Channels(normal=unit_rows(_mean_of([one.normal for one in found])), **means)


def _mean_of(values: Sequence[Floats]) -> Floats:
    out: Floats = np.mean(values, axis=0)
    return out
