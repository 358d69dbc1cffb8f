"""By how near a point lies to lines: open seams, edges of the model, strokes."""

from __future__ import annotations

from abc import abstractmethod
from dataclasses import dataclass
from typing import ClassVar, Literal, Protocol

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.coats.masks.fades import Place
from pivrel.core.coats.masks.mask import Given, Mask, Places
from pivrel.core.coats.segments import Lines

EdgeKind = Literal["convex", "concave", "both"]


class LineGround(Protocol):
    """Where the lines come from that masks are near to."""

    def open_seams(self) -> Floats:
        """(S, 2, 3) mm, the ends of the edges at which the pattern of the finish breaks."""

    def edges(self, kind: EdgeKind, angle_deg: float) -> Floats:
        """(S, 2, 3) mm, the ends of the edges of the model that turn by more than an angle."""

    def side_at(self, points: Floats) -> Floats:
        """(N, 3) unit normals of the surface of the finish nearest to places (N, 3) in mm."""


class Near(Mask):
    """A mask by the distance to lines: 1 within a reach, falling linearly to 0 over soft_mm beyond it."""

    soft_mm: float

    @abstractmethod
    def lines(self, ground: LineGround) -> Lines:
        """The lines that count."""

    def weight(self, at: Places, given: Given) -> Floats:
        return given.near(self, at)


@dataclass(frozen=True)
class Seams(Near):
    """Near the open seams of the finish beneath."""

    within_mm: float
    soft_mm: float = 0.0
    kind: ClassVar[str] = "seams"

    def lines(self, ground: LineGround) -> Lines:
        return Lines.of(ground.open_seams(), self.within_mm)


@dataclass(frozen=True)
class Edges(Near):
    """Near the edges of the model that turn by more than angle_deg: outward ones, inward ones, or both."""

    within_mm: float
    soft_mm: float = 0.0
    edges: EdgeKind = "both"
    angle_deg: float = 30.0
    kind: ClassVar[str] = "edges"

    def lines(self, ground: LineGround) -> Lines:
        return Lines.of(ground.edges(self.edges, self.angle_deg), self.within_mm)


@dataclass(frozen=True)
class Stroke:
    """A line drawn on the model with a brush. points_mm: at least one."""

    points_mm: tuple[Place, ...]
    radius_mm: float


@dataclass(frozen=True)
class Strokes(Near):
    """Within a brush's reach of strokes, on the side of the surface that they were drawn on."""

    strokes: tuple[Stroke, ...]
    soft_mm: float = 0.0
    kind: ClassVar[str] = "strokes"

    def lines(self, ground: LineGround) -> Lines:
        ends, radius = [np.empty((0, 2, 3))], [np.empty(0)]
        for stroke in self.strokes:
            points = np.array(stroke.points_mm, float)
            # A dot is a line without length.
            pairs = (
                np.stack([points[:-1], points[1:]], axis=1)
                if len(points) > 1
                else np.stack([points] * 2, axis=1)
            )
            ends.append(pairs)
            radius.append(np.full(len(pairs), stroke.radius_mm))
        all_ends = np.concatenate(ends)
        normal = ground.side_at(all_ends.mean(axis=1))
        return Lines(all_ends, np.concatenate(radius), normal)
