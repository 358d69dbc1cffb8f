"""A pattern: every piece with its outline, inner cuts, folds, marks and grain, true to size."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
import shapely

from pivrel.core.arrays import Floats, Ints, Mask, distinct
from pivrel.core.geometry.nesting import Placed
from pivrel.core.measure.pieces import Pieces
from pivrel.core.pattern.seams import Mark, find_marks
from pivrel.core.sheet import Material
from pivrel.core.solve.opening import NONE

BENT_DEG = 10.0
"""Where faces turn by no more than this the sheet bends, and is not folded: a round wall is no row of folds."""

ARROW = 0.3
"""A grain arrow is as long as this share of the square root of its piece's area."""


@dataclass(frozen=True)
class Fold:
    """An edge within a piece. ends: (2, 2) mm. angle_deg: how far what lies beyond is folded back, away from whoever looks.

    Below zero it is folded forward. The edge runs so that what is folded lies on its right.
    """

    ends: Floats
    angle_deg: float


@dataclass(frozen=True)
class PatternPiece:
    """A piece as it is cut out.

    number: from 1. part: the part of the model that most of it covers. rings: (N, 2) mm outlines, the outer ones
    counter-clockwise and holes clockwise, the first place not repeated. slits: (S, 2, 2) cuts within it. grain: (2, 2) an
    arrow along the material's grain.
    """

    number: int
    part: str
    rings: tuple[Floats, ...]
    slits: Floats
    folds: tuple[Fold, ...]
    marks: tuple[Mark, ...]
    grain: Floats
    area_mm2: float

    def moved(self, to: Placed) -> PatternPiece:
        """The piece where it lies on a board."""
        turned = replace(to, shift=np.zeros(2))
        return replace(
            self,
            rings=tuple(to.at(ring) for ring in self.rings),
            slits=to.at(self.slits),
            folds=tuple(replace(fold, ends=to.at(fold.ends)) for fold in self.folds),
            marks=tuple(
                replace(mark, at=to.at(mark.at), inward=turned.at(mark.inward)) for mark in self.marks
            ),
            grain=to.at(self.grain),
        )


LEAST_MM2 = 1e-6
"""What is smaller on the sheet is a line or a point, and the rest is rounding."""


def find_pattern(pieces: Pieces, material: Material, cuts: Ints = NONE) -> list[PatternPiece]:
    """The pattern of a laying, piece by piece.

    cuts: half-edges (corner ids) along which it was cut open; where the two sides still lie against each other on the
    sheet, they are cut within their piece.
    """
    slit: Mask = np.asarray(np.isin(pieces.joined, cuts).any(axis=1))
    marks, folds, slits = find_marks(pieces), _folds(pieces, ~slit), _inner(pieces, slit)
    out = []
    for number, polygon in enumerate(pieces.polygons):
        # What has come to lie in a line or a point has no outline to be cut along.
        if polygon.is_empty or not polygon.area > LEAST_MM2:
            continue
        faces = pieces.faces[pieces.piece == number]
        areas = np.bincount(pieces.surface.mesh.face_part[faces], pieces.surface.face_areas[faces])
        out.append(
            PatternPiece(
                number=number + 1,
                part=pieces.surface.mesh.part_names[int(np.argmax(areas))],
                rings=_rings(polygon),
                slits=slits.get(number, np.empty((0, 2, 2))),
                folds=tuple(folds.get(number, ())),
                marks=tuple(mark for mark in marks if mark.piece == number),
                grain=_arrow(polygon, material.grain_deg),
                area_mm2=float(polygon.area),
            )
        )
    return out


def _rings(polygon: shapely.Geometry) -> tuple[Floats, ...]:
    out = []
    for part in shapely.get_parts(polygon):
        if part.geom_type != "Polygon" or part.is_empty:
            continue
        part = shapely.geometry.polygon.orient(part)
        out += [np.array(ring.coords)[:-1] for ring in (part.exterior, *part.interiors)]
    return tuple(out)


def _inner(pieces: Pieces, which: Mask) -> dict[int, Floats]:
    """By piece, (N, 2, 2) the ends of some of the edges (E,) over which pieces hang together on the sheet."""
    near = pieces.joined[which, 0]
    ends = pieces.place_of(np.stack([near, pieces.surface.topology.next_corner[near]], axis=1))
    piece = pieces.piece_of(near)
    return {number: ends[piece == number] for number in distinct(piece).tolist()}


def _folds(pieces: Pieces, which: Mask) -> dict[int, list[Fold]]:
    """By piece, those of some edges (E,) within it at which its faces turn."""
    pairs = pieces.surface.edge_pairs
    order = np.argsort(pairs.near)
    at = order[np.searchsorted(pairs.near[order], pieces.joined[:, 0])]
    angle = np.degrees(pairs.opening[at] - np.pi)
    turns = which & (np.abs(angle) > BENT_DEG)
    piece = pieces.piece_of(pieces.joined[:, 0])
    return {
        number: [Fold(own, float(by)) for own, by in zip(ends, angle[turns & (piece == number)], strict=True)]
        for number, ends in _inner(pieces, turns).items()
    }


def _arrow(polygon: shapely.Geometry, grain_deg: float) -> Floats:
    """(2, 2) from tail to tip, about a place well within."""
    at = np.array(polygon.representative_point().coords[0])
    angle = np.radians(grain_deg)
    reach = ARROW / 2 * np.sqrt(polygon.area) * np.array([np.cos(angle), np.sin(angle)])
    return np.stack([at - reach, at + reach])
