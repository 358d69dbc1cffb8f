"""A project's model replaced by a newer one: finishes carried over, and a list of what became of each face."""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.frames import Datum
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE, cover
from pivrel.core.picks import NOTHING, as_faces, resolve
from pivrel.core.revision import SAME_MM, Match, Motion, carried, match
from pivrel.recipe import DatumModel, FinishModel, PickModel, changed, pick_model
from pivrel.recipe.projections.base import moved_place
from pivrel.store.documents import Contents

What = Literal["kept", "moved", "new", "gone", "doubtful"]

AS_ONE = 0.95
"""A datum goes with its faces where this share of their area has moved the same way."""

WHOLE = 0.99
"""A face of which this share is still there counts as whole: meshes differ in their last digits."""

ASKED = 0.01
"""Where more of a finish's area than this share has no successor, the artist is asked."""


@dataclass(frozen=True)
class Item:
    """Faces of one part with one fate.

    finish: the code that covers them now; None where they are bare, or gone. was: the code before.
    faces: int32 ids in the new model; of gone faces, in the old one. former: the part's old name where it
    was renamed. confidence: the least of the faces'. asks: whether gone faces are so much of their finish
    that the artist has to say whether that is right.
    """

    what: What
    part: str
    finish: str | None
    was: str | None
    faces: Ints
    area_m2: float
    confidence: float = 1.0
    former: str | None = None
    asks: bool = False


@dataclass(frozen=True)
class Revision:
    """The contents for the new model, and the list. scale: how many times larger the model is as a whole."""

    contents: Contents
    items: list[Item]
    scale: float = 1.0

    def area_m2(self, *what: What) -> float:
        """The covered area of these fates: by the finish before, for new faces by the one now."""
        return sum(
            i.area_m2 for i in self.items if i.what in what and (i.was or (i.what == "new" and i.finish))
        )


def revised(contents: Contents, old: Surface, new: Surface) -> Revision:
    """Carries a project's finishes and kept picks over to a newer model."""
    matched = match(old, new)
    out = contents.copied()
    for key, finish in contents.finishes.items():
        out.finishes[key] = finish.with_body(_carried(finish.body, old, new, matched))
    for key, pick_set in contents.pick_sets.items():
        pick = pick_model(carried(pick_set.body.pick.to_core(), old, new, matched))
        out.pick_sets[key] = pick_set.with_body(changed(pick_set.body, pick=pick))
    return Revision(out, _items(contents, out, old, new, matched), matched.motion.scale)


def _carried(stated: FinishModel, old: Surface, new: Surface, matched: Match) -> FinishModel:
    adjust = tuple(
        changed(a, pick=pick_model(carried(a.pick.to_core(), old, new, matched))) for a in stated.adjust
    )
    shift = _common_shift(stated, old, new, matched)
    moved = _moved_datum(stated, matched.motion, shift)
    motion = matched.motion if shift is None else replace(matched.motion, shift=matched.motion.shift + shift)

    def picks(pick: PickModel) -> PickModel:
        return pick_model(carried(pick.to_core(), old, new, matched))

    return changed(
        stated,
        projection=stated.projection.moved(motion).with_picks(picks),
        pick=pick_model(carried(stated.core_pick, old, new, matched)),
        adjust=adjust,
        tie=tuple(changed(tie, at_mm=moved_place(tie.at_mm, motion)) for tie in stated.tie),
        datum=DatumModel.of(moved) if moved is not None else stated.datum,
        toned=tuple(changed(toned, pick=picks(toned.pick)) for toned in stated.toned),
        coats=tuple(coat.moved(motion).with_picks(picks) for coat in stated.coats),
    )


def _moved_datum(stated: FinishModel, motion: Motion, shift: Floats | None) -> Datum | None:
    """The datum of a finish whose faces have moved together, by the model's motion and a shift; None where it stays."""
    if stated.datum is None or shift is None:
        return None
    datum = stated.datum.to_core()
    origin = motion.places(np.array([datum.origin_mm]))[0] + shift
    if np.allclose(origin, datum.origin_mm, atol=1e-9) and np.array_equal(motion.turn, np.eye(3)):
        return None
    x, z = motion.directions(np.array([datum.x_axis, datum.z_axis]))
    return Datum(_triple(origin), _triple(x), _triple(z))


def _triple(v: Floats) -> tuple[float, float, float]:
    v = np.round(v, 9) + 0.0
    return float(v[0]), float(v[1]), float(v[2])


def _common_shift(stated: FinishModel, old: Surface, new: Surface, matched: Match) -> Floats | None:
    """(3,) how far the faces of a finish have moved together beside the model as a whole, in mm; None where
    they have not moved together."""
    held = resolve(stated.core_pick, old)
    faces = np.flatnonzero(matched.sure)
    faces = faces[held[matched.face[faces]]]
    if not len(faces):
        return None
    shifts = matched.shift_mm[new.mesh.face_part[faces]]
    areas = new.face_areas[faces]
    largest: Floats = shifts[np.argmax(areas)]
    together = np.linalg.norm(shifts - largest, axis=1) <= SAME_MM
    return largest if areas[together].sum() >= AS_ONE * areas.sum() else None


def _items(before: Contents, after: Contents, old: Surface, new: Surface, matched: Match) -> list[Item]:
    """The list: one item for each fate, part, finish before and finish now."""
    keys = list(after.finishes)
    was, now = _cover(before, old), _cover(after, new)
    known = matched.face >= 0
    had = np.where(known, was[matched.face], BARE)
    what = np.full(new.mesh.face_count, "new", dtype="U8")
    what[known] = np.where(matched.moved[known], "moved", "kept")
    # A rule may take or leave a face that it held before: that is for the artist to see.
    asked = known & (had != now)
    # A face that is matched by a guess, and laid by a rule all the same, is a new one that the rule took.
    what[matched.doubtful & ~asked] = "new"
    what[asked] = "doubtful"
    part = new.mesh.face_part
    items = []
    fates: tuple[What, ...] = ("kept", "moved", "new", "doubtful")
    for fate in fates:
        faces = as_faces(what == fate)
        rows = np.column_stack([part[faces], now[faces], had[faces]])
        for group in _groups(rows):
            chosen = faces[group]
            first = chosen[0]
            name = new.mesh.part_names[part[first]]
            former = matched.part[part[first]]
            old_name = old.mesh.part_names[former] if former >= 0 else name
            items.append(
                Item(
                    what=fate,
                    part=name,
                    finish=_key(keys, int(now[first])),
                    was=_key(keys, int(had[first])) if fate != "new" else None,
                    faces=chosen,
                    area_m2=float(new.face_areas[chosen].sum()) / 1e6,
                    confidence=float(matched.confidence[chosen].min()) if known[first] else 1.0,
                    former=old_name if old_name != name else None,
                )
            )
    left = matched.left
    lost = old.face_areas * (1 - left)
    laid = np.bincount(was + 1, weights=old.face_areas, minlength=len(keys) + 1)
    missed = np.bincount(was + 1, weights=lost, minlength=len(keys) + 1)
    asks = missed > ASKED * np.maximum(laid, 1e-9)
    asks[0] = False
    # What is left of a face that was cut back is kept; of a finish that lost much, the rest is asked for.
    gone = as_faces((left == 0) | ((left < WHOLE) & asks[was + 1]))
    for group in _groups(np.column_stack([old.mesh.face_part[gone], was[gone]])):
        chosen = gone[group]
        items.append(
            Item(
                what="gone",
                part=old.mesh.part_names[old.mesh.face_part[chosen[0]]],
                finish=None,
                was=_key(keys, int(was[chosen[0]])),
                faces=chosen,
                area_m2=float(lost[chosen].sum()) / 1e6,
                asks=bool(asks[was[chosen[0]] + 1]),
            )
        )
    return items


def _cover(contents: Contents, surface: Surface) -> Ints:
    rows = [d.body for d in contents.finishes.values()]
    return cover(surface, [stated.core_pick if stated.on else NOTHING for stated in rows])


def _key(keys: list[str], row: int) -> str | None:
    return None if row == BARE else keys[row]


def _groups(rows: Ints) -> list[Ints]:
    """The positions of equal rows, group by group."""
    if not len(rows):
        return []
    least = rows.min(axis=0)
    group = np.ravel_multi_index((rows - least).T, rows.max(axis=0) - least + 1)
    order = np.argsort(group, kind="stable")
    ends = np.flatnonzero(np.diff(group[order])) + 1
    return [part.astype(np.int32) for part in np.split(order, ends)]


def listed(items: list[Item]) -> bytes:
    """The list as JSON, to be kept with the model."""
    rows = [{**vars(item), "faces": item.faces.tolist()} for item in items]
    return json.dumps(rows).encode()


def read_list(data: bytes) -> list[Item]:
    """A list that was kept."""
    return [Item(**{**row, "faces": np.array(row["faces"], np.int32)}) for row in json.loads(data)]
