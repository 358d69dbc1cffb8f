"""Shapes that the demo models are put together from; every length in mm, Z up."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

import numpy as np

from pivrel.core.arrays import Floats
from pivrel.core.geometry.mesh import Mesh, SourceMaterial, checked


class Assembly:
    """Collects parts; a part may be added to in several steps."""

    def __init__(self) -> None:
        self.parts: dict[str, int] = {}
        self.sources: dict[str, SourceMaterial] = {}
        self.points: list[Floats] = []
        self.faces: list[list[int]] = []
        self.face_part: list[int] = []
        self.face_source: list[int] = []
        self.count = 0

    def add(
        self,
        part: str,
        points: Iterable[Sequence[float]] | Iterable[Floats] | Floats,
        faces: Iterable[Sequence[int]],
        source: str = "undecided",
    ) -> None:
        """Faces over their own points; each face counter-clockwise as seen from outside."""
        array = np.asarray(list(points), float)
        row = self.parts.setdefault(part, len(self.parts))
        self.sources.setdefault(source, SourceMaterial(source))
        at = list(self.sources).index(source)
        for face in faces:
            self.faces.append([self.count + int(i) for i in face])
            self.face_part.append(row)
            self.face_source.append(at)
        self.points.append(array)
        self.count += len(array)

    def mesh(self) -> Mesh:
        """Everything as one mesh, faces grouped by part."""
        order = sorted(range(len(self.faces)), key=lambda f: self.face_part[f])
        sizes = [len(self.faces[f]) for f in order]
        return checked(
            Mesh(
                points=np.concatenate(self.points),
                corners=np.concatenate([self.faces[f] for f in order]).astype(np.int32),
                face_start=np.concatenate([[0], np.cumsum(sizes)]).astype(np.int32),
                face_part=np.array([self.face_part[f] for f in order], np.int32),
                part_names=tuple(self.parts),
                face_source=np.array([self.face_source[f] for f in order], np.int32),
                sources=tuple(self.sources.values()),
            )
        )


BOX_FACES = [(0, 3, 2, 1), (4, 5, 6, 7), (0, 1, 5, 4), (2, 3, 7, 6), (1, 2, 6, 5), (3, 0, 4, 7)]


def box_points(low: Sequence[float], high: Sequence[float]) -> Floats:
    """(8, 3) corners: the four below, then the four above, counter-clockwise from above."""
    (a, b, c), (d, e, f) = low, high
    return np.array([[a, b, c], [d, b, c], [d, e, c], [a, e, c], [a, b, f], [d, b, f], [d, e, f], [a, e, f]])


def box(
    to: Assembly, part: str, low: Sequence[float], high: Sequence[float], source: str = "undecided"
) -> None:
    """A box between two corners."""
    to.add(part, box_points(low, high), BOX_FACES, source)


def prism(
    to: Assembly, part: str, outline: Sequence[Sequence[float]], low: float, high: float, axis: str = "z"
) -> None:
    """An outline (counter-clockwise as seen against the axis, concave allowed) raised along "z" or "x"."""
    n = len(outline)
    points = [(u, v, w) if axis == "z" else (w, u, v) for w in (low, high) for u, v in outline]
    sides = [(i, (i + 1) % n, n + (i + 1) % n, n + i) for i in range(n)]
    to.add(part, points, [tuple(range(n - 1, -1, -1)), tuple(range(n, 2 * n)), *sides])


def grid(
    to: Assembly, part: str, points: Floats, close_rows: bool = False, close_columns: bool = False,
    source: str = "undecided",
) -> None:  # fmt: skip
    """Quads over (rows, columns, 3) points; outside is where rows turned into columns points to."""
    rows, columns = points.shape[:2]
    i = np.arange(rows if close_rows else rows - 1)[:, None]
    j = np.arange(columns if close_columns else columns - 1)[None, :]
    k, m = (i + 1) % rows, (j + 1) % columns
    quads = np.stack([i * columns + j, k * columns + j, k * columns + m, i * columns + m], axis=-1)
    to.add(part, points.reshape(-1, 3), quads.reshape(-1, 4), source)


def wall(
    to: Assembly,
    part: str,
    start: Sequence[float],
    end: Sequence[float],
    height: float,
    thickness: float,
    openings: Sequence[tuple[float, float, float, float]] = (),
) -> None:
    """A wall that stands on a line, outside on its right hand as one walks from start to end.

    openings: (from, to, sill, head) in mm along the wall and above its foot.
    """
    origin, run = np.asarray(start, float), np.asarray(end, float) - np.asarray(start, float)
    length = float(np.linalg.norm(run))
    along = run / length
    inward = np.array([-along[1], along[0], 0.0])
    xs = sorted({0.0, length, *(v for o in openings for v in o[:2])})
    zs = sorted({0.0, height, *(v for o in openings for v in o[2:])})

    def solid(i: int, j: int) -> bool:
        if not (0 <= i < len(xs) - 1 and 0 <= j < len(zs) - 1):
            return False
        x, z = (xs[i] + xs[i + 1]) / 2, (zs[j] + zs[j + 1]) / 2
        return not any(a < x < b and c < z < d for a, b, c, d in openings)

    def at(x: float, depth: float, z: float) -> Floats:
        return origin + along * x + inward * depth + np.array([0, 0, z])

    for i in range(len(xs) - 1):
        for j in range(len(zs) - 1):
            if not solid(i, j):
                continue
            points = [at(x, d, z) for d in (0.0, thickness) for x, z in
                      ((xs[i], zs[j]), (xs[i + 1], zs[j]), (xs[i + 1], zs[j + 1]), (xs[i], zs[j + 1]))]  # fmt: skip
            faces = [(0, 1, 2, 3), (5, 4, 7, 6)]
            if not solid(i, j - 1):
                faces.append((0, 4, 5, 1))
            if not solid(i, j + 1):
                faces.append((3, 2, 6, 7))
            if not solid(i - 1, j):
                faces.append((0, 3, 7, 4))
            if not solid(i + 1, j):
                faces.append((1, 5, 6, 2))
            to.add(part, points, faces)


def turned(
    to: Assembly, part: str, centre: Sequence[float], profile: Sequence[tuple[float, float]], sides: int,
    axis: str = "z", arc: tuple[float, float] = (0.0, 360.0),
) -> None:  # fmt: skip
    """A profile of (radius, height), from below upwards, turned about an axis; closed for a full turn.

    Radii of 0 close it with n-gons at the ends.
    """
    full = arc[1] - arc[0] >= 360
    angles = np.radians(np.linspace(*arc, sides + (0 if full else 1), endpoint=not full))
    ring = [(r, h) for r, h in profile if r > 0]
    around = np.array([[(r * np.cos(a), r * np.sin(a), h) for r, h in ring] for a in angles])
    points = _stood(around, axis) + np.asarray(centre, float)
    grid(to, part, points, close_rows=full)
    if profile[0][0] == 0 and full:
        to.add(part, points[:, 0], [tuple(range(sides - 1, -1, -1))])
    if profile[-1][0] == 0 and full:
        to.add(part, points[:, -1], [tuple(range(sides))])


def _stood(points: Floats, axis: str) -> Floats:
    """Points about z, laid so that z becomes the given axis ("z" or "-y")."""
    return points if axis == "z" else points[..., [0, 2, 1]] * (1, -1, 1)


def swept(to: Assembly, part: str, path: Floats, radius: float, sides: int) -> None:
    """A round tube along a path (N, 3), its frame carried along without twist, ends closed."""
    tangent = np.gradient(path, axis=0)
    tangent /= np.linalg.norm(tangent, axis=1, keepdims=True)
    side = np.cross([0, 0, 1], tangent)
    side /= np.linalg.norm(side, axis=1, keepdims=True)
    above = np.cross(tangent, side)
    a = np.linspace(0, 2 * np.pi, sides, endpoint=False)[:, None, None]
    points = path[None] + radius * (np.cos(a) * side[None] + np.sin(a) * above[None])
    grid(to, part, points, close_rows=True)
    to.add(part, points[:, 0], [tuple(range(sides - 1, -1, -1))])
    to.add(part, points[:, -1], [tuple(range(sides))])
