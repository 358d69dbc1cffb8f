"""Sheets as they lie on a surface, to be looked up at any point: one sheet by its corners, or triplanar's three."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.coats.cells import Cells
from pivrel.core.coats.masks.mask import Places
from pivrel.core.coats.tones import Spread
from pivrel.core.coats.units import unit_chances
from pivrel.core.evaluation.textures import Showing
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.shares import between
from pivrel.core.geometry.surface import Surface
from pivrel.core.geometry.vectors import unit_rows
from pivrel.core.laying.lay import UNTOUCHED
from pivrel.core.projection import Triplanar
from pivrel.core.sheet import Joints

Pair = tuple[float, float]


@dataclass(frozen=True)
class Layer(ABC):
    """A sheet as it lies. scale: how much larger it lies than it is. tile False: it is shown once.

    spread: how its units or cells differ in lightness. joints: where its units meet.
    """

    scale: Pair
    tile: bool
    cells: Cells | None
    spread: Spread | None
    joints: Joints | None

    @property
    @abstractmethod
    def materials(self) -> tuple[tuple[str, Pair], ...]:
        """The keys of the materials that it may show, and the size of one repeat of each in mm."""

    @abstractmethod
    def showings(self, at: Places) -> Iterator[Showing]:
        """What of the sheet each point shows, one or several of them blended."""

    def _cut(self, plain: Showing, axis: int = 0) -> Iterator[Showing]:
        """A showing cut into random cells, where there are any; outside a single sheet nothing counts."""
        if not self.tile:
            inside = ((plain.st >= 0) & (plain.st <= plain.repeat_mm)).all(axis=1)
            plain = replace(plain, weight=plain.weight * inside)
        if self.cells is None:
            yield self._toned(plain)
            return
        scale = np.array(self.scale)
        width, height = np.abs(scale) * plain.repeat_mm
        places, turns, weights, chances = self.cells.at(plain.st * scale, (float(width), float(height)), axis)
        for k in range(9):
            c, s = np.cos(turns[:, k, None]), np.sin(turns[:, k, None])
            along, up = plain.along * np.sign(scale[0]), plain.up * np.sign(scale[1])
            shown = replace(
                plain,
                st=places[:, k] / scale,
                along=(c * along + s * up) * np.sign(scale[0]),
                up=(c * up - s * along) * np.sign(scale[1]),
                weight=plain.weight * weights[:, k],
            )
            if self.spread is not None and self.spread.by == "cell":
                shown = replace(shown, tone=1 + self.spread.lightness * (2 * chances[:, k] - 1))
            yield self._toned(shown)

    def _toned(self, shown: Showing) -> Showing:
        """A showing with the lightness of each unit of the material."""
        spread = self.spread
        if spread is None or spread.by != "unit" or self.joints is None:
            return shown
        chance = unit_chances(shown.st, self.joints, shown.repeat_mm, spread.seed)
        return replace(shown, tone=shown.tone * (1 + spread.lightness * (2 * chance - 1)))


@dataclass(frozen=True)
class LaidLayer(Layer):
    """One sheet, by where it lies at the corners.

    st: (C, 2) mm by corner id. gradient: (T, 2, 3) of s and of t over each triangle, per mm. placed: (2, 3) what comes on
    top of them.
    """

    key: str
    repeat_mm: Pair
    surface: Surface
    st: Floats
    gradient: Floats
    placed: Floats

    @property
    def materials(self) -> tuple[tuple[str, Pair], ...]:
        return ((self.key, self.repeat_mm),)

    def showings(self, at: Places) -> Iterator[Showing]:
        st: Floats = between(self.st, self.surface.triangles[at.triangles], at.shares)
        across: Floats = self.gradient[at.triangles]
        if not (self.placed == UNTOUCHED).all():
            st = np.asarray(st @ self.placed[:, :2].T + self.placed[:, 2])
            across = np.einsum("ij,njk->nik", self.placed[:, :2], across)
        # Nothing is seen of a sheet on a face that could not be laid.
        laid = np.isfinite(st).all(axis=1)
        along, up = unit_rows(across[:, 0]), unit_rows(across[:, 1])
        weight: Floats = np.asarray(laid, np.float64)
        plain = Showing(self.key, self.repeat_mm, np.nan_to_num(st), along, up, weight, np.ones(len(at)))
        yield from self._cut(plain)


def gradients(surface: Surface, st: Floats) -> Floats:
    """(T, 2, 3) in which direction s and t grow over each triangle, per mm; 0 where nothing is laid or it has no area.

    st: (C, 2) mm by corner id.
    """
    points = surface.mesh.points[surface.mesh.corners[surface.triangles]]
    laid = st[surface.triangles]
    u, v = points[:, 1] - points[:, 0], points[:, 2] - points[:, 0]
    normal = np.cross(u, v)
    square = np.maximum((normal**2).sum(axis=1), 1e-300)[:, None]
    # The gradients of the shares of the second corner and of the third.
    second, third = np.cross(v, normal) / square, np.cross(normal, u) / square
    step = np.nan_to_num(laid[:, 1:] - laid[:, :1])
    out: Floats = np.einsum("tkj,tkx->tjx", step, np.stack([second, third], axis=1))
    return out


@dataclass(frozen=True)
class TriplanarLayer(Layer):
    """Three sheets blended by the shading normal; keys, repeats and sheets (3, 2, 3) raw to final by axis.

    datums: one, or one a piece; piece: (T,) which one each triangle takes, None for the first.
    """

    keys: tuple[str, str, str]
    repeats_mm: tuple[Pair, Pair, Pair]
    projection: Triplanar
    datums: tuple[Datum, ...]
    piece: Ints | None
    sheets: Floats

    @property
    def materials(self) -> tuple[tuple[str, Pair], ...]:
        return tuple(zip(self.keys, self.repeats_mm, strict=True))

    def showings(self, at: Places) -> Iterator[Showing]:
        number = np.zeros(len(at), np.int32) if self.piece is None else self.piece[at.triangles]
        for row, datum in enumerate(self.datums):
            own = (number == row).astype(np.float64)
            if own.any():
                yield from self._of_datum(at, datum, own)

    def _of_datum(self, at: Places, datum: Datum, own: Floats) -> Iterator[Showing]:
        st, weights = self.projection.at_points(at.points, at.normals, datum, self.sheets)
        for axis in range(3):
            along, up = self.projection.sheet_directions(at.normals, datum, self.sheets[axis], axis)
            weight = weights[:, axis] * own
            plain = Showing(
                self.keys[axis], self.repeats_mm[axis], st[:, axis], along, up, weight, np.ones(len(at))
            )
            yield from self._cut(plain, axis)
