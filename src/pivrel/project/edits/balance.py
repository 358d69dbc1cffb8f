"""Make the cuts at opposite borders equal."""

from __future__ import annotations

from typing import Literal

import numpy as np

from pivrel.core.arrays import Mask
from pivrel.core.phrases import counted
from pivrel.core.picks import resolve
from pivrel.core.set_out.cuts import units_of
from pivrel.core.set_out.moves import LaidFinish, balance
from pivrel.core.set_out.state import Row, rows_of
from pivrel.project.edits.base import Before, Done, Edit
from pivrel.project.edits.setting_out import laid_on_its_faces, with_moves
from pivrel.project.laid import LaidProject
from pivrel.recipe import PickModel
from pivrel.recipe.values import Key


class Balance(Edit):
    """Make the cuts at opposite borders equal on the sides of a finish that a pick holds, or on all."""

    kind: Literal["balance"]
    finish: Key
    pick: PickModel | None = None

    def done(self, before: Before) -> Done:
        before.finish(self.finish)
        with before.computing.short:
            laid = laid_on_its_faces(before.laid, self.finish)
            count = before.surface.mesh.face_count
            picked = (
                np.ones(count, bool) if self.pick is None else resolve(self.pick.to_core(), before.surface)
            )
            after = with_moves(before, self.finish, balance(laid, picked))
            # What is told is what lies there, and not what was meant.
            lies = laid_on_its_faces(before.laid.with_contents(after), self.finish)
        return Done(
            after, f"balance {after.finishes[self.finish].body.name}", f"balanced by {_told(lies, picked)}"
        )


def cuts_told(laid: LaidProject, finish: str) -> str:
    """How the cuts of a finish lie at the borders of its sides, in words."""
    return _told(laid_on_its_faces(laid, finish), np.ones(laid.surface.mesh.face_count, bool))


def _told(laid: LaidFinish, picked: Mask) -> str:
    """The cuts of the sides that a pick holds, in words that go on from "by"."""
    material, scale = laid.finish.material, laid.finish.scale
    sized = zip(units_of(material), scale, strict=True)
    unit = " × ".join(f"{u * abs(k):g}" for u, k in sized)
    told: dict[str, int] = {}
    sides = laid.sides(picked)
    rows = [rows_of(side, material) for side in sides]
    for along, up in rows:
        words = f"{_row_told(along, scale[0])} along, {_row_told(up, scale[1])} up"
        told[words] = told.get(words, 0) + 1
    listed = [f"{words} ({counted(count, 'side')})" if count > 1 else words for words, count in told.items()]
    many = "" if len(listed) <= 4 else f" … and {len(listed) - 4} more"
    course = " (along: in the lowest course)" if material.joints and material.joints.bond else ""
    said = f"units of {unit} mm{course}: {'; '.join(listed[:4])}{many}"
    uneven = sum(not (along.equal and up.equal) for along, up in rows)
    if uneven and not laid.finish.run_on:
        said += f". So that courses stay level, {uneven} of the sides {'has' if uneven == 1 else 'have'} unequal cuts"
    elif uneven:
        said += ". The pattern runs on, so the largest side is balanced and the others follow"
    return said


def _row_told(row: Row, scale: float) -> str:
    """A row as it lies in words, in mm of face."""
    first, last = (f"{cut * abs(scale):.1f}" for cut in (row.first_mm, row.last_mm))
    if row.whole < 0:
        return f"one piece of {first} mm"
    if first != last:
        return f"cuts of {first} and {last} mm, {row.whole} whole between"
    if row.is_uncut:
        return f"{row.whole} whole"
    return f"cuts of {first} mm at both ends, {row.whole} whole between"
