"""A solution: the raw laying of a pick's regions, as a solver found it."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field

import numpy as np

from pivrel.core.arrays import Floats, Ints, Mask, distinct
from pivrel.core.geometry.corner_rows import corner_rows
from pivrel.core.geometry.surface import Surface
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.region import Region
from pivrel.errors import InputError

MOST_TRIANGLES = 1_000_000
"""A pick of more is refused: solving it would take longer than anybody waits."""


class SolveError(InputError):
    """A region that cannot be laid; the message says why in one sentence."""


@dataclass(frozen=True)
class Line:
    """A line on the surface that a laying hangs on, for drawing it. name: which one. points: (N, 3) mm."""

    name: str
    points: Floats


@dataclass(frozen=True)
class Frame:
    """What the laying of one region hangs on, for drawing and moving it.

    form: of a flow "strip", "ring" or "tube"; else the kind of laying. lines: borders and cuts. corners: (N, 3) mm,
    places that can be moved. size_mm: along and across on the sheet, None where it has no sides. veil: (T, 3, 3) mm,
    triangles of what is not part of the model.
    """

    form: str
    lines: tuple[Line, ...]
    corners: Floats
    size_mm: tuple[float, float] | None = None
    veil: Floats = field(default_factory=lambda: np.empty((0, 3, 3)))


@dataclass(frozen=True)
class Solution:
    """A pick's raw laying; it depends on the faces and on what was asked of the solver, and on no placement.

    faces: (K,) int32, ascending, those that could be laid. st: (N, 2) raw (s, t) in mm for their corners, face after
    face. cuts: (E,) half-edges (corner ids) along which the laying was cut open. troubles: why the other faces lie bare,
    a sentence each. frames: what the layings of the regions hang on.
    """

    faces: Ints
    st: Floats
    cuts: Ints
    troubles: tuple[str, ...] = ()
    frames: tuple[Frame, ...] = ()

    @property
    def nbytes(self) -> int:
        """The memory that the arrays take."""
        lines = sum(line.points.nbytes for frame in self.frames for line in frame.lines)
        veils = sum(frame.veil.nbytes for frame in self.frames)
        return self.faces.nbytes + self.st.nbytes + self.cuts.nbytes + lines + veils

    def laid(self, surface: Surface, faces: Ints) -> Floats:
        """(M, 2) raw (s, t) for the corners of `faces` (int32, ascending), which are some of the solution's."""
        if len(faces) == len(self.faces):
            return self.st
        own, start = corner_rows(surface.mesh, self.faces), corner_rows(surface.mesh, faces)
        at = own[np.searchsorted(self.faces, faces)]
        rows = np.repeat(at - start[:-1], np.diff(start)) + np.arange(int(start[-1]))
        out: Floats = self.st[rows]
        return out


@dataclass(frozen=True)
class Laid:
    """A region laid, or a piece of one. region: it, cut open or not. st: (V, 2) mm by its vertices. cuts: its slots."""

    region: Region
    st: Floats
    cuts: Ints
    frame: Frame


def refuse_closed(region: Region) -> None:
    """SolveError where a region has one side only, or no border."""
    if region.one_sided:
        raise SolveError(
            "this region has only one side, like a band with a half twist: leave a face out of the pick"
        )
    if not len(region.border):
        raise SolveError(
            "this region closes on itself: leave some faces out of the pick, so that it has a border"
        )


def laid_nothing(*troubles: str) -> Solution:
    """A pick of which nothing could be laid, and why."""
    empty = np.empty(0, np.int32)
    return Solution(empty, np.empty((0, 2)), empty, troubles)


Place = tuple[float, float, float]
Lay = Callable[[Region, bool], Sequence[Laid]]
Arrange = Callable[[list[Laid]], list[Laid]]


def solve_regions(
    ground: Ground, lay: Lay, near: Place | None = None, arrange: Arrange | None = None, apart: bool = True
) -> Solution:
    """The regions of a pick, each laid by itself; what cannot be laid stays bare and says why.

    lay: lays a region, in one or several pieces; it is told whether that is the one nearest to the place `near`.
    arrange: moves the pieces of all regions on the sheet. apart: whether what cannot be laid as a whole is taken apart at
    its creases.
    """
    if ground.triangles > MOST_TRIANGLES:
        return laid_nothing(
            f"the pick has more than {MOST_TRIANGLES:,} triangles, which would take too long to solve: divide it"
        )
    if not ground.regions and len(ground.faces):
        return laid_nothing("none of the picked faces has any area")
    done, troubles = _laid_one_by_one(ground, lay, near, apart)
    done = arrange(done) if arrange else done
    own, st = _by_face(ground, done)
    cuts = [laid.region.corners.reshape(-1)[laid.cuts] for laid in done]
    return Solution(
        faces=own,
        st=st,
        cuts=np.concatenate(cuts) if cuts else np.empty(0, np.int32),
        troubles=tuple(dict.fromkeys(troubles)),
        frames=tuple(laid.frame for laid in done),
    )


def _by_face(ground: Ground, done: list[Laid]) -> tuple[Ints, Floats]:
    """The faces (K,) that were laid, and (N, 2) mm for their corners, face after face."""
    surface, faces = ground.surface, ground.faces
    whole = len(ground.regions) == len(done) == 1 and len(done[0].region.faces) == len(
        ground.regions[0].faces
    )
    if whole and not len(ground.unnamed):
        # The corners of one region are in the order of the pick's already.
        return faces, np.take(done[0].st, done[0].region.named[1], axis=0)
    st = np.full((surface.mesh.corner_count, 2), np.nan)
    laid_face = np.zeros(surface.mesh.face_count, bool)
    for laid in done:
        corners, vertices = laid.region.named
        st[corners] = laid.st[vertices]
        laid_face[laid.region.faces] = True
    _fill_flat(surface, ground.unnamed, st, laid_face)
    own = faces[laid_face[faces]]
    return own, st[surface.corners_of(own)]


def _laid_one_by_one(
    ground: Ground, lay: Lay, near: Place | None, by_creases: bool
) -> tuple[list[Laid], list[str]]:
    """The layings of every region that can be laid, and why the others cannot.

    What cannot be laid as a whole is taken apart at its creases: a rail with its ends is a tube and two discs.
    """
    done: list[Laid] = []
    troubles: list[str] = []
    nearest = _nearest(ground.regions, near)
    for number, region in enumerate(ground.regions):
        try:
            done += lay(region, number == nearest)
            continue
        except SolveError as error:
            trouble = _of_faces(str(error), region)
        apart = ground.apart(region) if by_creases else [region]
        if len(apart) == 1:
            troubles.append(trouble)
            continue
        closest = _nearest(apart, near) if number == nearest else None
        for at, smaller in enumerate(apart):
            try:
                done += lay(smaller, at == closest)
            except SolveError as error:
                troubles.append(_of_faces(str(error), smaller))
    return done, troubles


def _nearest(regions: list[Region], place: Place | None) -> int | None:
    if place is None:
        return None
    away = [float(((region.points - np.asarray(place)) ** 2).sum(axis=1).min()) for region in regions]
    return int(np.argmin(away)) if away else None


def _of_faces(trouble: str, region: Region) -> str:
    count = len(region.faces)
    which = f"face {region.faces[0]}" if count == 1 else f"{count:,} faces from face {region.faces[0]}"
    return f"{which}: {trouble}"


def _fill_flat(surface: Surface, missing: Ints, st: Floats, laid_face: Mask) -> None:
    """Corners (N,) of no triangle with an area take the values of others at their place; changes st and laid_face."""
    if not len(missing):
        return
    mesh, place, face = surface.mesh, surface.topology.place, surface.topology.corner_face
    known = np.flatnonzero(~np.isnan(st[:, 0]))
    at = np.full(len(mesh.points), -1)
    at[place[mesh.corners[known]]] = known
    source = at[place[mesh.corners[missing]]]
    st[missing[source >= 0]] = st[source[source >= 0]]
    for f in distinct(face[missing]).tolist():
        own = np.arange(mesh.face_start[f], mesh.face_start[f + 1])
        has = ~np.isnan(st[own, 0])
        near = (face[missing] == f) & (source >= 0)
        if has.any():
            st[own[~has]] = st[own[has]].mean(axis=0)
            laid_face[f] |= bool(near.any())


def joined_troubles(troubles: Sequence[str]) -> str:
    """What could not be laid, as one sentence after another; the first few of many."""
    told = ". ".join(troubles[:3])
    return f"{told}. {len(troubles) - 3} more of the kind" if len(troubles) > 3 else told
