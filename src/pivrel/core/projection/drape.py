"""Drape: faces take the laying of another surface, which lies over them or under them."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import ClassVar, Literal

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.corner_rows import corner_rows
from pivrel.core.geometry.frames import FrameError
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks import NOTHING, Pick, as_faces, resolve
from pivrel.core.projection.base import ClosedForm, Projection, Solved
from pivrel.core.projection.charts import Triple
from pivrel.core.projection.fitting import BEST
from pivrel.core.projection.flow import Flow
from pivrel.core.solve.ground import Ground
from pivrel.core.solve.guide import Guide, guide_of
from pivrel.core.solve.ruled import ruled
from pivrel.core.solve.solution import Frame, Line, Solution, laid_nothing

VEILED = 4000
"""A guide of more triangles is drawn by its outline alone."""

UNTURNED = np.array([[1.0, 0.0, 0.0], [0.0, 1.0, 0.0]])


@dataclass(frozen=True)
class Drape(Solved):
    """Each corner takes the laying of the place X of the guide with corner = X + h N(X).

    over: the faces of the guide, or lines: two lines of places, in mm, between which it is stretched. shift_mm: how far
    the guide is moved from there. by: "smooth" sees a place of the guide along its averaged normals, "closest" is what
    is nearest. laid: how the guide itself is laid.
    """

    over: Pick = NOTHING
    lines: tuple[tuple[Triple, ...], tuple[Triple, ...]] | None = None
    shift_mm: Triple = (0.0, 0.0, 0.0)
    by: Literal["smooth", "closest"] = "smooth"
    laid: Projection = field(default_factory=Flow)
    kind: ClassVar[str] = "drape"

    @classmethod
    def tried(cls) -> tuple[Drape, ...]:
        # Over what is for the artist to say.
        return ()

    @property
    def closes(self) -> bool:
        return self.laid.closes

    def solve(self, ground: Ground, repeat_mm: tuple[float, float], hasty: bool = False) -> Solution:
        surface, faces = ground.surface, ground.faces
        name = "guide", self.over, self.lines, self.laid, repeat_mm if self.closes else None
        found, troubles = ground.kept.get(name, lambda: self._guide(surface, repeat_mm))
        if found is None:
            return laid_nothing(*troubles)
        guide = replace(found, points=found.points + np.array(self.shift_mm))
        mesh = surface.mesh
        corners = mesh.points[mesh.corners[surface.corners_of(faces)]]
        draped = guide.at(surface.centroids[faces], corners, corner_rows(mesh, faces), self.by == "smooth")
        return Solution(
            faces, draped, np.empty(0, np.int32), troubles,
            (_frame(guide),),
        )  # fmt: skip

    def _guide(
        self, surface: Surface, repeat_mm: tuple[float, float]
    ) -> tuple[Guide | None, tuple[str, ...]]:
        """The guide where it stood before it was moved, None where there is none, and what of it could not be laid."""
        model, over = surface, as_faces(resolve(self.over, surface))
        if self.lines is not None:
            model = ruled(*(np.array(line, float) for line in self.lines))
            over = np.arange(model.mesh.face_count, dtype=np.int32)
        if not len(over):
            return None, ("there is no guide yet: pick what it is draped over",)
        st, laid, troubles = _laying_of(model, over, self.laid, repeat_mm)
        return (guide_of(model, laid, st) if len(laid) else None), troubles


def _laying_of(
    surface: Surface, over: Ints, laid: Projection, repeat_mm: tuple[float, float]
) -> tuple[Floats, Ints, tuple[str, ...]]:
    """(C, 2) raw mm by corner id of the guide, the faces of it that could be laid, and why the others could not."""
    st = np.full((surface.mesh.corner_count, 2), np.nan)
    if isinstance(laid, Solved):
        solution = laid.solve(Ground(surface, over), repeat_mm)
        st[surface.corners_of(solution.faces)] = solution.st
        return st, solution.faces, tuple(f"the guide: {trouble}" for trouble in solution.troubles)
    if not isinstance(laid, ClosedForm):
        raise FrameError(f"a guide cannot be laid by {laid.kind}")
    datum = laid.fit(surface, over, BEST).datum
    settled = laid.settled(surface, over, datum, repeat_mm)
    st[surface.corners_of(over)] = settled.lay(surface, over, datum, UNTURNED)
    return st, over, ()


def _frame(guide: Guide) -> Frame:
    """The guide's outline, its middle to take hold of it by, and its triangles where they are few enough to draw."""
    middle = guide.points.mean(axis=(0, 1))[None]
    veil = guide.points if len(guide.points) <= VEILED else guide.points[:0]
    return Frame("drape", _outline(guide), middle, veil=veil)


def _outline(guide: Guide) -> tuple[Line, ...]:
    """The guide's border and tears, an edge each, for drawing it."""
    edges = np.argwhere(guide.beside < 0)
    return tuple(
        Line("guide", guide.points[t, [k, (k + 1) % 3]]) for t, k in edges[:: max(1, len(edges) // 400)]
    )
