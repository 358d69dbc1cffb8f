"""Picks carried over to a newer model: rules stay rules, and faces go by the match."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from pivrel.core import picks
from pivrel.core.arrays import Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks import Pick
from pivrel.core.revision.faces import Match


def carried(pick: Pick, old: Surface, new: Surface, matched: Match) -> Pick:
    """The pick for the new model: rules stay rules, and follow parts that were renamed; faces and patches
    go by the match. Doubtful faces are left out."""
    match pick:
        case picks.Faces() | picks.FaceBits():
            return picks.by_ids(picks.as_faces(_carried_faces(picks.ids_of(pick), old, new, matched)))
        case picks.Patches(ids):
            return _carried_patches(ids, old, new, matched)
        case picks.Parts(globs):
            return _carried_parts(globs, old, new, matched)
        case picks.AnyOf(inner):
            return picks.AnyOf(tuple(carried(p, old, new, matched) for p in inner))
        case picks.Every(inner):
            return picks.Every(tuple(carried(p, old, new, matched) for p in inner))
        case picks.Not(inner):
            return picks.Not(carried(inner, old, new, matched))
        case picks.Facing(direction):
            x, y, z = matched.motion.directions(np.array(direction, float))
            return replace(pick, direction=(float(x), float(y), float(z)))
    return pick


def _carried_faces(ids: Ints, old: Surface, new: Surface, matched: Match) -> Mask:
    """(F_new,) the faces that stand for these, and new ones beside them in the same patch."""
    held = np.zeros(old.mesh.face_count + 1, bool)
    held[ids] = True
    # The last place stands for new faces without an old one.
    out: Mask = held[matched.face] & matched.sure
    nobody = matched.face < 0
    if not out.any() or not nobody.any():
        return out
    patches = new.patches()
    pairs = new.topology.corner_face[new.topology.pairs]
    pairs = pairs[patches[pairs[:, 0]] == patches[pairs[:, 1]]]
    while True:
        beside = np.zeros_like(out)
        beside[pairs[out[pairs[:, 0]], 1]] = True
        beside[pairs[out[pairs[:, 1]], 0]] = True
        more = beside & nobody & ~out
        if not more.any():
            return out
        out |= more


def _carried_patches(ids: tuple[int, ...], old: Surface, new: Surface, matched: Match) -> Pick:
    """The patches most of whose matched area comes from these; faces where a patch is now another's in part."""
    was_held = np.isin(old.patches(), ids)
    patches, areas = new.patches(), new.face_areas
    sure = matched.sure
    from_these = sure & was_held[matched.face]
    count = int(patches.max()) + 1
    taken = np.bincount(patches, areas * from_these, count)
    known = np.bincount(patches, areas * sure, count)
    whole = (taken > 0) & (taken >= (1 - 1e-9) * known)
    rest = from_these & ~whole[patches]
    kept: Pick = picks.Patches(tuple(np.flatnonzero(whole).tolist())) if whole.any() else picks.NOTHING
    return picks.added(kept, picks.by_ids(picks.as_faces(rest))) if rest.any() else kept


def _carried_parts(globs: tuple[str, ...], old: Surface, new: Surface, matched: Match) -> Pick:
    """The rule by names, for the parts that it meant: it follows those that were renamed or split, leaves
    those that only took over a name, and of parts that were merged takes the faces that it held."""
    names = new.mesh.part_names
    meant, by_name = picks.named(old.mesh.part_names, globs), picks.named(names, globs)
    known, pure = matched.part >= 0, matched.pure
    wanted = np.where(known & pure, meant[matched.part], by_name & pure)
    more = [picks.exactly(names[p]) for p in np.flatnonzero(wanted & ~by_name)]
    less = [picks.exactly(names[p]) for p in np.flatnonzero(by_name & ~wanted)]
    rule: Pick = picks.Parts((*globs, *more))
    if less:
        rule = picks.Every((rule, picks.Not(picks.Parts(tuple(less)))))
    mixed = ~pure[new.mesh.face_part] & matched.sure
    mixed[mixed] = meant[old.mesh.face_part[matched.face[mixed]]]
    if mixed.any():
        rule = picks.added(rule, picks.by_ids(picks.as_faces(mixed)))
    return rule
