"""Carry a finish through the body to its other side."""

from __future__ import annotations

from typing import Literal

import numpy as np
from scipy.spatial import cKDTree

from pivrel.core.arrays import Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks import as_faces, resolve
from pivrel.project.edits.base import Before, Done, Edit, EditError, appended, free_name
from pivrel.project.edits.flip import flipped
from pivrel.recipe import FinishModel, PickModel, changed
from pivrel.recipe.projections.drape import DrapeModel
from pivrel.recipe.projections.flow import FlowModel
from pivrel.recipe.projections.lines import LinesModel
from pivrel.recipe.projections.roll import RollModel
from pivrel.recipe.values import Key


class CarryThrough(Edit):
    """Lay what lies on one side of a body on the other one too, from the nearest place, so that courses meet at the edge.

    What is seen from behind is turned over along, so that it does not read mirrored.
    """

    kind: Literal["carry_through"]
    finish: Key
    pick: PickModel

    def done(self, before: Before) -> Done:
        stated = before.finish(self.finish).body
        through = _through(stated)
        with before.computing.short:
            faces, over = (
                as_faces(resolve(pick.to_core(), before.surface)) for pick in (self.pick, stated.pick)
            )
            if not len(faces):
                raise EditError("the pick is empty: pick the faces of the other side first")
            behind = len(over) > 0 and _looks_back(before.surface, faces, over)
        out = before.contents.copied()
        name = free_name(out, stated.name)
        placed = changed(stated, name=name, pick=self.pick, projection=through, datum=None, adjust=())
        appended(out, changed(placed, scale=flipped(placed.scale, "along")) if behind else placed)
        return Done(out, f"carry {stated.name} through")


def _through(stated: FinishModel) -> DrapeModel:
    """The same laying, seen through the body. EditError where its kind lies on both sides by itself."""
    laid = stated.projection
    if isinstance(laid, DrapeModel):
        return laid
    if isinstance(laid, FlowModel | RollModel | LinesModel):
        return DrapeModel(kind="drape", over=stated.pick, laid=laid)
    raise EditError(f"what is laid by {laid.kind} is not carried through: lay the same on the other side")


def _looks_back(surface: Surface, faces: Ints, over: Ints) -> bool:
    """Whether faces look the other way than what lies nearest to them of others, for most of their area."""
    _, near = cKDTree(surface.centroids[over]).query(surface.centroids[faces])
    turned = np.einsum("ij,ij->i", surface.normals[faces], surface.normals[over][near])
    return bool(surface.face_areas[faces] @ np.sign(turned) < 0)
