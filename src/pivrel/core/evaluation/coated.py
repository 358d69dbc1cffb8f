"""A finish with all of its coats, settled on a surface, and what it shows at points."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.coats.coat import Coat
from pivrel.core.coats.joining import JOINS
from pivrel.core.coats.masks.mask import Mask, Places
from pivrel.core.coats.masks.nearness import Near
from pivrel.core.coats.segments import LineGrid
from pivrel.core.coats.sheet_over import SheetOver
from pivrel.core.coats.tones import Tone
from pivrel.core.evaluation.layers import Layer
from pivrel.core.evaluation.textures import Sampled, Textures
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.vectors import dots, unit_rows

LEAST = 1e-9
"""What counts for less than this is not looked up."""


@dataclass(frozen=True)
class Channels:
    """What a finish shows at points: base_color (N, 3) linear; normal (N, 3) unit, model axes; roughness, metallic,
    occlusion (N,) 0 to 1; height (N,) mm."""

    base_color: Floats
    normal: Floats
    roughness: Floats
    metallic: Floats
    height: Floats
    occlusion: Floats


@dataclass(frozen=True)
class Coated:
    """A finish on its surface.

    base: its own sheet. face_tones: (F, 5) the factors of each face, None for 1 all over. over: where the sheets of its
    coats and masks lie. grids: the lines that its masks are near to.
    """

    surface: Surface
    base: Layer
    tone: Tone
    face_tones: Floats | None
    coats: tuple[Coat, ...]
    over: Mapping[SheetOver, Layer]
    grids: Mapping[Near, LineGrid]

    def layers(self) -> Iterator[tuple[Layer, bool]]:
        """Every sheet that it shows, and whether its heights come on top of those beneath."""
        yield self.base, False
        for coat in self.coats:
            if coat.on and coat.sheet is not None:
                yield self.over[coat.sheet], coat.joins.height == "add"

    def places(self, points: Floats, normals: Floats, faces: Ints) -> Places:
        """Points (N, 3) mm on faces (N,), with shading normals (N, 3) of any length."""
        triangles, shares = located(self.surface, points, faces)
        return Places(points, unit_rows(normals), triangles, shares)

    def evaluate(self, at: Places, textures: Mapping[str, Textures]) -> Channels:
        """All channels at points, by images by the keys of materials."""
        given = _Given(self, textures)
        out = sampled(self.base, at, textures)
        factors = np.array([self.tone.factors])
        if self.face_tones is not None:
            factors = factors * self.face_tones[self.surface.triangle_face[at.triangles]]
        out.base_color *= factors[:, :3]
        out.roughness = np.clip(out.roughness * factors[:, 3:4], 0, 1)
        out.gradient *= factors[:, 4:5]
        for coat in self.coats:
            if coat.on:
                _join(out, coat, at, given)
        gradient = out.gradient - dots(out.gradient, at.normals)[:, None] * at.normals
        return Channels(
            base_color=out.base_color,
            normal=unit_rows(at.normals - gradient),
            roughness=out.roughness[:, 0],
            metallic=out.metallic[:, 0],
            height=out.height[:, 0],
            occlusion=out.occlusion[:, 0],
        )

    def mask(self, mask: Mask, at: Places, textures: Mapping[str, Textures]) -> Floats:
        """(N,) 0 to 1, where a mask of one of its coats lies."""
        return mask.weight(at, _Given(self, textures))


@dataclass(frozen=True)
class _Given:
    coated: Coated
    textures: Mapping[str, Textures]

    def near(self, mask: Near, at: Places) -> Floats:
        return self.coated.grids[mask].weight(at.points, at.normals)

    def channel(self, sheet: SheetOver, channel: str, at: Places) -> Floats:
        shown = sampled(self.coated.over[sheet], at, self.textures)
        # As the image has it: its color as light, its height from black to white.
        value: Floats = getattr(shown, channel)
        if channel == "height":
            value = value / self.textures[sheet.key].height_mm
        return value.mean(axis=1)


def sampled(layer: Layer, at: Places, textures: Mapping[str, Textures]) -> Sampled:
    """What a layer alone shows at points."""
    out = Sampled.empty(len(at))
    for showing in layer.showings(at):
        rows = np.flatnonzero(np.abs(showing.weight) > LEAST)
        if len(rows):
            out.add(textures[showing.key], showing, rows)
    return out


def _join(under: Sampled, coat: Coat, at: Places, given: _Given) -> None:
    """Lays a coat over what is there already; changes it.

    A channel of which the coat's material has no image stays as it is, but for metalness, which every material states.
    """
    weight = (coat.strength * coat.where.weight(at, given))[:, None]
    over: dict[str, Floats] = {}
    if coat.sheet is not None:
        shown = sampled(given.coated.over[coat.sheet], at, given.textures)
        weight = weight * shown.alpha
        has = given.textures[coat.sheet.key]
        over = {"metallic": shown.metallic}
        for channel in ("base_color", "roughness", "height", "occlusion"):
            if getattr(has, channel) is not None:
                over[channel] = getattr(shown, channel)
        if has.normal is not None:
            over["gradient"] = shown.gradient
    if coat.tint is not None:
        over["base_color"] = over.get("base_color", 1.0) * np.array(coat.tint)
    for channel, stated in (("roughness", coat.roughness), ("metallic", coat.metallic)):
        if stated is not None:
            over[channel] = np.array(stated)
    for channel, value in over.items():
        join = JOINS[getattr(coat.joins, "normal" if channel == "gradient" else channel)]
        setattr(under, channel, join(getattr(under, channel), value, weight))


def located(surface: Surface, points: Floats, faces: Ints) -> tuple[Ints, Floats]:
    """(N,) the triangle of its face that each point lies on, and (N, 3) the shares of its corners in it."""
    order = np.argsort(surface.triangle_face, kind="stable")
    first = np.searchsorted(surface.triangle_face[order], faces)
    count = np.bincount(surface.triangle_face, minlength=surface.mesh.face_count)[faces]
    corner = surface.mesh.points[surface.mesh.corners[surface.triangles]]
    best = np.full(len(points), -np.inf)
    triangles = order[first].astype(np.int32)
    shares = np.zeros((len(points), 3))
    for turn in range(int(count.max(initial=0))):
        rows = np.flatnonzero(count > turn)
        own = order[first[rows] + turn]
        found = _shares(corner[own], points[rows])
        least = found.min(axis=1)
        better = least > best[rows]
        best[rows[better]] = least[better]
        triangles[rows[better]], shares[rows[better]] = own[better], found[better]
    return triangles, shares


def _shares(corners: Floats, points: Floats) -> Floats:
    """(N, 3) the shares of the corners (N, 3, 3) of triangles in points of their planes."""
    u, v, p = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0], points - corners[:, 0]
    normal = np.cross(u, v)
    square = np.maximum(dots(normal, normal), 1e-300)
    second = dots(np.cross(p, v), normal) / square
    third = dots(np.cross(u, p), normal) / square
    out: Floats = np.column_stack([1 - second - third, second, third])
    return out
