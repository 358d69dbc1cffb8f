"""Mark areas of a material that pieces keep clear of, and move the pieces that lie on one."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from pivrel.core.phrases import counted
from pivrel.core.picks import resolve
from pivrel.core.set_out.avoiding import kept_clear
from pivrel.project.edits.base import Before, Done, Edit, EditError
from pivrel.project.edits.setting_out import laid_on_its_faces, with_moves
from pivrel.recipe import PickModel, changed
from pivrel.recipe.materials import Area
from pivrel.recipe.values import Key
from pivrel.store.documents import Contents

LEAST_MM = 1e-3


class Avoid(Edit):
    """Move the pieces of a finish that a pick touches off the marked areas of its material, by the least that does it.

    box_mm: another area, marked first: a box anywhere on the sheet, in mm of the model. forget: all areas are forgotten
    instead, and no piece moves.
    """

    kind: Literal["avoid"]
    finish: Key
    pick: PickModel
    box_mm: Area | None = None
    forget: bool = False

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        name = before.material(stated.material).body.name
        if self.forget:
            return Done(
                _marked(before.contents, stated.material, ()), f"forgetting the marked areas of {name}"
            )
        contents = before.contents if self.box_mm is None else self._with_box(before, self.box_mm)
        if not contents.materials[stated.material].body.avoid_mm:
            raise EditError(f"no area of {name} is marked; draw a box round one first")
        marked = replace(before, laid=before.laid.with_contents(contents))
        with before.computing.short:
            laid = laid_on_its_faces(marked.laid, self.finish)
            moves, left = kept_clear(laid, resolve(self.pick.to_core(), before.surface))
            after = with_moves(marked, self.finish, moves)
        said = "no piece lay on a marked area" if not moves and not len(left) else None
        if len(left):
            said = (
                f"{counted(len(left), 'piece')} cannot lie clear of the marked areas of {name} and "
                f"{'stays' if len(left) == 1 else 'stay'}: wherever they are moved they meet one"
            )
        return Done(after, f"keeping {stated.name} clear of marked areas", said)

    def _with_box(self, before: Before, box: Area) -> Contents:
        """The contents with the box marked on the repeat in which it begins."""
        stated = before.finish(self.finish).body
        body = before.material(stated.material).body
        s, t = (sorted((box[k] / stated.scale[k], box[k + 2] / stated.scale[k])) for k in (0, 1))
        if min(s[1] - s[0], t[1] - t[0]) < LEAST_MM:
            raise EditError("the box has no size; draw it from one corner to the other")
        if stated.tile:
            for k, side in ((0, s), (1, t)):
                if side[1] - side[0] >= body.repeat_mm[k] - LEAST_MM:
                    raise EditError(
                        f"the box is as large as the repeat of {body.name}; draw it round a part of it"
                    )
                begin = side[0] // body.repeat_mm[k] * body.repeat_mm[k]
                side[:] = [side[0] - begin, side[1] - begin]
        area = tuple(round(v, 3) for v in (s[0], t[0], s[1], t[1]))
        return _marked(before.contents, stated.material, (*body.avoid_mm, area))


def _marked(contents: Contents, key: str, areas: tuple[tuple[float, ...], ...]) -> Contents:
    out = contents.copied()
    document = out.materials[key]
    out.materials[key] = document.with_body(changed(document.body, avoid_mm=areas))
    return out
