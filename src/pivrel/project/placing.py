"""A project's model read in another unit, with another axis up, or put elsewhere: faces stay what they are."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from pivrel.core.geometry.exact import ExactSurface
from pivrel.core.geometry.mesh import REACH_MM, Mesh
from pivrel.core.revision import Motion
from pivrel.errors import InputError
from pivrel.formats.convention import Convention, from_model, to_model
from pivrel.recipe import FinishModel, PickModel, changed
from pivrel.recipe.picks import AnyPick, EveryPick, FacingPick, NotPick
from pivrel.store.documents import ClipBody, Contents, ModelFacts, ViewBody

Shift = tuple[float, float, float]


@dataclass(frozen=True)
class Reading:
    """How a model's numbers are meant, and how far it is put from where they say, in mm."""

    unit: str
    up: str
    shift_mm: Shift = (0.0, 0.0, 0.0)

    @classmethod
    def of(cls, facts: ModelFacts) -> Reading:
        """The reading that a project's model is in."""
        return cls(facts.unit, facts.up, facts.shift_mm or (0.0, 0.0, 0.0))


def move_between(old: Reading, new: Reading) -> Motion:
    """What turns a model in one reading into the same model in another."""
    was, now = Convention.of(old.unit, old.up), Convention.of(new.unit, new.up)
    linear = to_model(from_model(np.eye(3), was), now).T
    scale = now.mm / was.mm
    turn = np.round(linear / scale, 12) + 0.0
    return Motion(scale, turn, np.array(new.shift_mm) - scale * turn @ np.array(old.shift_mm))


def _place(motion: Motion, point: Shift) -> Shift:
    """A place as documents state it, after a motion."""
    x, y, z = (float(v) for v in np.round(motion.places(np.array(point, float)), 9) + 0.0)
    return x, y, z


def _direction(motion: Motion, vector: Shift) -> Shift:
    x, y, z = (float(v) for v in np.round(motion.directions(np.array(vector, float)), 12) + 0.0)
    return x, y, z


def moved_mesh(mesh: Mesh, motion: Motion) -> Mesh:
    """The mesh after a move; InputError where it would be out of reach."""
    points = motion.places(mesh.points)
    if not np.isfinite(points).all() or np.abs(points).max() > REACH_MM:
        raise InputError("the model would be larger, or further away, than 100,000 km; choose a smaller unit")
    normals = None if mesh.normals is None else motion.directions(mesh.normals).astype(np.float32)
    exact = tuple(_moved_exact(surface, motion) for surface in mesh.exact)
    return replace(mesh, points=points, normals=normals, exact=exact)


def _moved_exact(surface: ExactSurface, motion: Motion) -> ExactSurface:
    x, y, z = _place(motion, surface.origin_mm)
    a, b, c = _direction(motion, surface.axis)
    return replace(
        surface,
        origin_mm=(x, y, z),
        axis=(a, b, c),
        radius_mm=surface.radius_mm * motion.scale,
        tube_mm=surface.tube_mm * motion.scale,
    )


def moved_contents(contents: Contents, motion: Motion) -> Contents:
    """Finishes, kept picks and views where the model is now; materials keep their true size."""
    out = contents.copied()
    for key, finish in contents.finishes.items():
        out.finishes[key] = finish.with_body(_moved_finish(finish.body, motion))
    for key, pick_set in contents.pick_sets.items():
        pick = _moved_pick(pick_set.body.pick, motion)
        out.pick_sets[key] = pick_set.with_body(changed(pick_set.body, pick=pick))
    for key, view in contents.views.items():
        out.views[key] = view.with_body(_moved_view(view.body, motion))
    return out


def _moved_finish(stated: FinishModel, motion: Motion) -> FinishModel:
    datum, grain = stated.datum, stated.grain
    if datum is not None:
        datum = datum.moved(motion)
    if grain is not None and grain.direction is not None:
        grain = changed(grain, direction=_direction(motion, grain.direction))
    return changed(
        stated,
        pick=_moved_pick(stated.pick, motion),
        datum=datum,
        projection=stated.projection.moved(motion).with_picks(lambda pick: _moved_pick(pick, motion)),
        grain=grain,
        tie=tuple(changed(tie, at_mm=_place(motion, tie.at_mm)) for tie in stated.tie),
        adjust=tuple(changed(a, pick=_moved_pick(a.pick, motion)) for a in stated.adjust),
        toned=tuple(changed(t, pick=_moved_pick(t.pick, motion)) for t in stated.toned),
        coats=tuple(
            coat.moved(motion).with_picks(lambda pick: _moved_pick(pick, motion)) for coat in stated.coats
        ),
    )


def _moved_pick(pick: PickModel, motion: Motion) -> PickModel:
    """A pick as a recipe states it: what looks some way looks the same way of the model."""
    match pick:
        case FacingPick():
            return changed(pick, facing=_direction(motion, pick.facing))
        case AnyPick():
            return AnyPick(any=tuple(_moved_pick(inner, motion) for inner in pick.any))
        case EveryPick():
            return EveryPick(every=tuple(_moved_pick(inner, motion) for inner in pick.every))
        case NotPick():
            return NotPick(not_=_moved_pick(pick.not_, motion))
        case _:
            return pick


def _moved_view(view: ViewBody, motion: Motion) -> ViewBody:
    return changed(
        view,
        position_mm=_place(motion, view.position_mm),
        target_mm=_place(motion, view.target_mm),
        up=_direction(motion, view.up),
        height_mm=view.height_mm * motion.scale if view.height_mm else view.height_mm,
        clip=_moved_clip(view.clip, motion) if view.clip else None,
    )


def _moved_clip(clip: ClipBody, motion: Motion) -> ClipBody:
    axis = np.eye(3)["xyz".index(clip.axis)]
    turned = np.round(motion.directions(axis), 12)
    along = int(np.argmax(np.abs(turned)))
    at = motion.scale * clip.at_mm * turned[along] + motion.shift[along]
    axes: tuple[Literal["x", "y", "z"], ...] = ("x", "y", "z")
    return ClipBody(axis=axes[along], at_mm=float(at), flipped=clip.flipped != bool(turned[along] < 0))


def said(old: Reading, new: Reading) -> str:
    """What a move did, in words."""
    told = []
    if old.unit != new.unit:
        told.append(f"the model's numbers are read in {new.unit} now, not in {old.unit}")
    if old.up != new.up:
        told.append(f"{new.up.upper()} is up")
    if old.shift_mm != new.shift_mm:
        told.append("it stands elsewhere")
    words = "; ".join(told) or "nothing was changed"
    return f"{words}. Finishes went with their faces; materials keep their true size"
