"""Lay a picture of the flat view, painted elsewhere, at the place on the sheet that it shows."""

from __future__ import annotations

from typing import Literal

import numpy as np

from pivrel.core.measure.pieces import Pieces
from pivrel.core.set_out.piece_moves import all_shifted
from pivrel.project.edits.base import Before, Done, Edit, EditError, with_material
from pivrel.project.edits.setting_out import laid_on_its_faces, with_finish, with_moves
from pivrel.recipe import Pair, changed
from pivrel.recipe.values import Key

WITHIN_MM = 0.01


class LayPicture(Edit):
    """Lay a picture of a finish's flat view as a single sheet, where it was taken out.

    material: holds the picture, its repeat what of the sheet it shows. low_mm: its lower left corner on the sheet as it
    lies now, in mm of the model.
    """

    kind: Literal["lay_picture"]
    finish: Key
    material: Key
    low_mm: Pair

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        with before.computing.short:
            pieces = before.laid.schedule.pieces(self.finish)
            moves = all_shifted(laid_on_its_faces(before.laid, self.finish), -np.array(self.low_mm))
            moved = with_material(with_moves(before, self.finish, moves), before, self.material)
            body = moved.finishes[self.finish].body
            lies = changed(body, material=self.material, tile=False, scale=(1.0, 1.0))
            after = with_finish(moved, self.finish, lies)
            off = _off(pieces, before.laid.with_contents(after).schedule.pieces(self.finish), self.low_mm)
        if off > WITHIN_MM:
            raise EditError(
                f"{stated.name} closes to whole repeats or fits its size to the material, so another sheet lies "
                f"{off:.1f} mm beside the old; switch that off, and take the picture out again"
            )
        return Done(after, f"picture on {stated.name}")


def _off(before: Pieces, after: Pieces, low_mm: tuple[float, float]) -> float:
    """mm by which any corner lies elsewhere than moved as a whole."""
    both = np.flatnonzero(
        before.surface.corners_of(np.intersect1d(before.faces, after.faces, assume_unique=True))
    )
    off = before.place_of(both) - low_mm - after.place_of(both)
    return float(np.abs(off).max(initial=0.0))
