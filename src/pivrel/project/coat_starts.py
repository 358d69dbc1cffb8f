"""Coats as they begin: where they lie follows from how large the faces beneath are, so that something shows at once."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.picks import as_faces, resolve
from pivrel.project.edits.base import Before, EditError
from pivrel.recipe import FinishModel
from pivrel.recipe.coats import CoatModel, JoinsModel
from pivrel.recipe.masks import (
    Band,
    BandMask,
    Edges,
    EdgesMask,
    Facing,
    FacingMask,
    Fade,
    FadeAbout,
    FadeAboutMask,
    FadeMask,
    FadeRound,
    FadeRoundMask,
    ImageMask,
    ImageOver,
    MaskModel,
    Noise,
    NoiseMask,
    Seams,
    SeamsMask,
    Strokes,
    StrokesMask,
)
from pivrel.recipe.projections import PROJECTIONS

MaskStart = Literal[
    "fade", "fade_round", "fade_about", "band", "facing", "seams", "edges", "strokes", "image", "noise"
]
Start = Literal["all over"] | MaskStart

GRIME = "#8a7a5c"
CHIPPED = "#d9d2c4"


@dataclass(frozen=True)
class Ground:
    """The faces that a coat begins on: the corners of their box, in mm."""

    low: Floats
    high: Floats

    @classmethod
    def of(cls, before: Before, stated: FinishModel) -> Ground:
        """The faces that a finish is laid on. EditError where it holds none."""
        with before.computing.short:
            points = before.surface.points_of(as_faces(resolve(stated.core_pick, before.surface)))
        if not len(points):
            raise EditError(f"{stated.name} lies on no face, so a coat has nothing to lie on")
        return cls(points.min(axis=0), points.max(axis=0))

    @property
    def size(self) -> Floats:
        """(3,) mm."""
        return self.high - self.low

    @property
    def middle(self) -> Floats:
        """(3,) mm."""
        return (self.low + self.high) / 2

    def at_height(self, share: float) -> tuple[float, float, float]:
        """A place over the middle, at a share of the height, in whole mm."""
        x, y, _ = np.round(self.middle).tolist()
        return x, y, self.height(share)

    def height(self, share: float) -> float:
        """mm, at a share of the height."""
        return float(np.round(self.low[2] + share * self.size[2]))

    def length(self, share: float) -> float:
        """A round length that is about this share of the longest side, in mm."""
        mm = max(float(self.size.max()) * share, 1e-3)
        power = 10.0 ** np.floor(np.log10(mm))
        return float(np.round(mm / power) * power)


def _fade(at: Ground) -> MaskModel:
    """Upright, and out before it comes to the ground; along the longest side where nothing stands upright."""
    if at.size[2] > 0.02 * at.size.max():
        return FadeMask(fade=Fade(from_mm=at.at_height(0.15), to_mm=at.at_height(0.65)))
    axis = int(np.argmax(at.size))
    step = np.zeros(3)
    step[axis] = at.size[axis] / 4
    start, end = (np.round(at.middle + sign * step) for sign in (-1, 1))
    return FadeMask(fade=Fade(from_mm=tuple(start.tolist()), to_mm=tuple(end.tolist())))


def _round(at: Ground) -> MaskModel:
    centre = np.round(at.middle).tolist()
    radii = (at.length(0.35), at.length(0.1))
    return FadeRoundMask(fade_round=FadeRound(centre_mm=tuple(centre), radii_mm=radii))


def _about(at: Ground) -> MaskModel:
    x, y, z = np.round(at.middle).tolist()
    radii = (at.length(0.35), at.length(0.1))
    return FadeAboutMask(fade_about=FadeAbout(origin_mm=(x, y, z), axis=(0, 0, 1), radii_mm=radii))


MASKS: Mapping[MaskStart, Callable[[Ground, FinishModel], MaskModel]] = {
    "fade": lambda at, _: _fade(at),
    "fade_round": lambda at, _: _round(at),
    "fade_about": lambda at, _: _about(at),
    "band": lambda at, _: BandMask(
        band=Band(from_mm=at.height(0), to_mm=at.height(0.12), soft_mm=at.length(0.05))
    ),
    "facing": lambda at, _: FacingMask(facing=Facing(within_deg=30, soft_deg=30)),
    "seams": lambda at, _: SeamsMask(seams=Seams(within_mm=at.length(0.01), soft_mm=at.length(0.03))),
    "edges": lambda at, _: EdgesMask(
        edges=Edges(kind="convex", within_mm=at.length(0.003), soft_mm=at.length(0.01))
    ),
    "strokes": lambda at, _: StrokesMask(strokes=Strokes(soft_mm=at.length(0.02))),
    "image": lambda at, stated: ImageMask(image=ImageOver(material=stated.material, low=0.3, high=0.6)),
    "noise": lambda at, _: NoiseMask(noise=Noise(size_mm=at.length(0.15))),
}

NAMES: Mapping[Start, str] = {
    "all over": "Coat", "fade": "Fading out", "fade_round": "Round a place", "fade_about": "About an axis",
    "seams": "Along seams", "edges": "On edges", "facing": "Facing up", "band": "Band", "noise": "In patches",
    "strokes": "Brushed", "image": "By an image",
}  # fmt: skip


def begun(start: Start, stated: FinishModel, at: Ground, taken: set[str]) -> CoatModel:
    """A coat as it begins over a finish; a name that no other coat of it has."""
    name, count = NAMES[start], 2
    while name in taken:
        name, count = f"{NAMES[start]} {count}", count + 1
    where = None if start == "all over" else MASKS[start](at, stated)
    if start == "seams":
        # The same material over the seams, turned, by a laying that has none.
        triplanar = PROJECTIONS["triplanar"].model_validate({"kind": "triplanar"})
        return CoatModel(name=name, material=stated.material, projection=triplanar, turn_deg=90, where=where)
    if start == "edges":
        return CoatModel(name=name, tint=CHIPPED, strength=0.6, where=where)
    return CoatModel(name=name, tint=GRIME, where=where, channels=JoinsModel(base_color="multiply"))
