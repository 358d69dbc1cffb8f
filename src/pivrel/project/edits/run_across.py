"""Let the pattern run on across an edge."""

from __future__ import annotations

from typing import Literal

import numpy as np

from pivrel.core.set_out.moves import edge_between, run_across
from pivrel.project.edits.base import Before, Done, Edit
from pivrel.project.edits.setting_out import covering, laid_on_its_faces, with_moves
from pivrel.recipe import Triple
from pivrel.recipe.values import FaceId

CLOSE_MM = 0.05
"""Ends of an edge that are off by no more run on."""


class RunAcross(Edit):
    """Let the pattern run on across the edge of a face nearest to a place; the face's own side stays."""

    kind: Literal["run_across"]
    face: FaceId
    place: Triple

    def done(self, before: Before) -> Done:
        face, place, laid = before.known_face(self.face), np.array(self.place), before.laid
        near = covering(before, face, "the side that you clicked")
        with before.computing.short:
            _, other, _ = edge_between(before.surface, face, place)
            beyond = int(before.surface.topology.corner_face[other])
            far = covering(before, beyond, "the side beyond the edge")
            move, misfit = run_across(
                laid_on_its_faces(laid, near), laid_on_its_faces(laid, far), face, place
            )
            after = with_moves(before, far, [move])
        said = "the pattern runs on across this edge"
        if misfit > CLOSE_MM:
            said = (
                f"the sheet is stretched on one side of this edge: each of its ends is off by {misfit:.1f} mm"
            )
        return Done(after, f"run on in {after.finishes[far].body.name}", said)
