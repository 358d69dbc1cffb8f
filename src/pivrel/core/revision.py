"""A newer model beside the one before: which face is which, and picks carried over."""

from __future__ import annotations

from dataclasses import dataclass
from fnmatch import fnmatchcase

import numpy as np
from scipy.spatial import cKDTree

from pivrel.core import picks
from pivrel.core.arrays import Floats, Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks import Pick

SAME_MM, SAME_DEG, SAME_AREA = 0.5, 0.5, 1e-3
"""A face is the same where its middle, its direction and its area (as a share) differ by less."""

SURE = 0.8
"""Faces matched with less confidence are doubtful: the artist is asked."""

KEPT, MOVED, RESHAPED, UNLIKELY = 1.0, 0.95, 0.9, 0.6
"""Confidence: the same face; the same after its part's shift; another face on the plane of an old one, within
its outline's reach; the likeliest of its part, elsewhere."""

SHIFT_SHARE = 0.5
"""A part counts as shifted where at least this share of its area has moved the same way."""


@dataclass(frozen=True)
class Match:
    """Old faces and parts for the new ones.

    face: (F_new,) int32 old face, -1 where there is none. confidence: (F_new,) 0 to 1.
    moved: (F_new,) bool. part: (P_new,) int32 old part or -1. shift_mm: (P_new, 3) of each part.
    gone: (F_old,) bool, old faces that no new face stands for.
    """

    face: Ints
    confidence: Floats
    moved: Mask
    part: Ints
    shift_mm: Floats
    gone: Mask

    @property
    def sure(self) -> Mask:
        """(F_new,) faces that are matched without a question."""
        return (self.face >= 0) & (self.confidence >= SURE)

    @property
    def doubtful(self) -> Mask:
        return (self.face >= 0) & (self.confidence < SURE)


@dataclass(frozen=True)
class _Faces:
    """Some faces of a model: ids, middles (K, 3), unit normals (K, 3), areas (K,) in mm², and how far each
    reaches from its middle in mm."""

    ids: Ints
    middle: Floats
    normal: Floats
    area: Floats
    reach: Floats


def _faces_of(surface: Surface, ids: Ints) -> _Faces:
    mesh = surface.mesh
    length = np.linalg.norm(surface.normals[ids], axis=1, keepdims=True)
    off = mesh.points[mesh.corners] - np.repeat(surface.centroids, np.diff(mesh.face_start), axis=0)
    reach = np.maximum.reduceat(np.linalg.norm(off, axis=1), mesh.face_start[:-1])
    normal = surface.normals[ids] / np.where(length > 0, length, 1)
    return _Faces(ids, surface.centroids[ids], normal, surface.face_areas[ids], reach[ids])


def match(old: Surface, new: Surface) -> Match:
    """Which old face each new face stands for: part by part, by place, direction and area."""
    part = _matched_parts(old, new)
    count = new.mesh.face_count
    face, confidence = np.full(count, -1, np.int32), np.zeros(count)
    moved = np.zeros(count, bool)
    shift = np.zeros((len(part), 3))
    old_faces, new_faces = _by_part(old), _by_part(new)
    for number, before in enumerate(part):
        if before < 0:
            continue
        was, now = _faces_of(old, old_faces[before]), _faces_of(new, new_faces[number])
        shift[number] = _shift(was, now)
        shifted = bool(shift[number].any())
        found, sure = _matched(was, now, shift[number])
        held = found >= 0
        face[now.ids[held]] = was.ids[found[held]]
        confidence[now.ids[held]] = np.minimum(sure[held], MOVED if shifted else KEPT)
        moved[now.ids[held]] = shifted
    gone = np.ones(old.mesh.face_count, bool)
    gone[face[face >= 0]] = False
    return Match(face, confidence, moved, part, shift, gone)


def _by_part(surface: Surface) -> list[Ints]:
    """The faces of each part."""
    order = np.argsort(surface.mesh.face_part, kind="stable").astype(np.int32)
    ends = np.cumsum(np.bincount(surface.mesh.face_part, minlength=len(surface.mesh.part_names)))
    return np.split(order, ends[:-1])


def _matched_parts(old: Surface, new: Surface) -> Ints:
    """(P_new,) the old part of each new one: by name, else by the same faces in the same place."""
    names = {name: part for part, name in enumerate(old.mesh.part_names)}
    part = np.array([names.get(name, -1) for name in new.mesh.part_names], np.int32)
    left_old = np.setdiff1d(np.arange(len(names)), part)
    left_new = np.flatnonzero(part < 0)
    if len(left_old) and len(left_new):
        was, now = _marks(old)[left_old], _marks(new)[left_new]
        size = float(np.ptp(old.bounds, axis=0).max()) or 1.0
        # Place and area say which part it is, whatever it is called now; each old part is taken once.
        off = np.linalg.norm(was[None, :, :3] - now[:, None, :3], axis=2)
        area = np.abs(was[None, :, 3] - now[:, None, 3]) / np.maximum(was[None, :, 3], 1e-9)
        alike = (off <= max(SAME_MM, 1e-4 * size)) & (area <= 0.01)
        for row in range(len(left_new)):
            candidates = np.flatnonzero(alike[row])
            if len(candidates) == 1 and alike[:, candidates[0]].sum() == 1:
                part[left_new[row]] = left_old[candidates[0]]
    return part


def _marks(surface: Surface) -> Floats:
    """(P, 4) the middle of each part's area in mm, and its area in mm²."""
    mesh = surface.mesh
    count, areas = len(mesh.part_names), surface.face_areas
    area = np.bincount(mesh.face_part, areas, count)
    sums = [np.bincount(mesh.face_part, areas * surface.centroids[:, k], count) for k in range(3)]
    middle = np.stack(sums, axis=1) / np.where(area > 0, area, 1)[:, None]
    return np.column_stack([middle, area])


def _shift(was: _Faces, now: _Faces) -> Floats:
    """(3,) how far the part has moved as a whole; zero where it has not, or only some of it."""
    enough = SHIFT_SHARE * float(now.area.sum())
    if now.area[_nearest(was, now, np.zeros(3))[1]].sum() >= enough:
        return np.zeros(3)
    # The largest faces have moved if the part has: each pairing with an old face like it is a vote.
    votes: dict[tuple[float, ...], float] = {}
    for k in np.argsort(-now.area)[:24]:
        alike = _alike(was, now, int(k))
        for other in np.flatnonzero(alike)[:24]:
            off = np.round(now.middle[k] - was.middle[other], 1)
            votes[tuple(off.tolist())] = votes.get(tuple(off.tolist()), 0.0) + float(now.area[k])
    for off, _ in sorted(votes.items(), key=lambda vote: -vote[1])[:5]:
        shift = np.array(off)
        at, found = _nearest(was, now, shift)
        if now.area[found].sum() >= enough:
            # To the last digits: the middle of what the faces themselves say.
            exact: Floats = np.median(now.middle[found] - was.middle[at[found]], axis=0)
            return exact
    return np.zeros(3)


def _alike(was: _Faces, now: _Faces, k: int) -> Mask:
    """(K_old,) faces of the same area and direction as a new one."""
    area = np.abs(was.area - now.area[k]) <= SAME_AREA * max(now.area[k], 1e-9)
    out: Mask = area & (was.normal @ now.normal[k] >= np.cos(np.radians(SAME_DEG)))
    return out


def _nearest(was: _Faces, now: _Faces, shift: Floats) -> tuple[Ints, Mask]:
    """(K_new,) the old face in the place of each new one after the shift, and whether it is the same."""
    off, at = cKDTree(was.middle + shift).query(now.middle, k=min(4, len(was.ids)))
    off, at = off.reshape(len(now.ids), -1), at.reshape(len(now.ids), -1)
    area = np.abs(was.area[at] - now.area[:, None]) <= SAME_AREA * np.maximum(now.area, 1e-9)[:, None]
    facing = np.einsum("ijk,ik->ij", was.normal[at], now.normal) >= np.cos(np.radians(SAME_DEG))
    same = (off <= SAME_MM) & area & facing
    return at[np.arange(len(at)), np.argmax(same, axis=1)].astype(np.int32), same.any(axis=1)


def _matched(was: _Faces, now: _Faces, shift: Floats) -> tuple[Ints, Floats]:
    """(K_new,) rows of `was` and confidences: the same faces first, then those on the plane of an old one."""
    at, same = _nearest(was, now, shift)
    found = np.where(same, at, -1).astype(np.int32)
    sure = np.where(same, KEPT, 0.0)
    middle = was.middle + shift
    for k in np.flatnonzero(~same):
        facing = was.normal @ now.normal[k] >= np.cos(np.radians(SAME_DEG))
        off = now.middle[k] - middle
        plane = facing & (np.abs(np.einsum("ij,ij->i", off, was.normal)) <= SAME_MM)
        distance = np.linalg.norm(off, axis=1)
        if plane.any():
            nearest = int(np.argmin(np.where(plane, distance - was.reach, np.inf)))
            within = distance[nearest] <= was.reach[nearest] + SAME_MM
            found[k], sure[k] = nearest, RESHAPED if within else UNLIKELY
        elif facing.any():
            nearest = int(np.argmin(np.where(facing, distance, np.inf)))
            # Beside the old face, or pushed out of its plane by less than its own size: a guess.
            if distance[nearest] <= 2 * (was.reach[nearest] + now.reach[k]):
                found[k], sure[k] = nearest, UNLIKELY
    return found, sure


def carried(pick: Pick, old: Surface, new: Surface, matched: Match) -> Pick:
    """The pick for the new model: rules stay rules, and follow parts that were renamed; faces and patches
    go by the match. Doubtful faces are left out."""
    match pick:
        case picks.Faces(ids):
            return picks.Faces(
                tuple(picks.as_faces(_carried_faces(np.array(ids, np.int32), old, new, matched)).tolist())
            )
        case picks.Patches(ids):
            return _carried_patches(ids, old, new, matched)
        case picks.Parts(globs):
            return picks.Parts((*globs, *_renamed(globs, old, new, matched)))
        case picks.AnyOf(inner):
            return picks.AnyOf(tuple(carried(p, old, new, matched) for p in inner))
        case picks.Every(inner):
            return picks.Every(tuple(carried(p, old, new, matched) for p in inner))
        case picks.Not(inner):
            return picks.Not(carried(inner, old, new, matched))
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
    return picks.added(kept, picks.Faces(tuple(picks.as_faces(rest).tolist()))) if rest.any() else kept


def _renamed(globs: tuple[str, ...], old: Surface, new: Surface, matched: Match) -> list[str]:
    """Globs for new names of parts that the globs held under their old ones."""
    out = []
    for part, before in enumerate(matched.part):
        name = new.mesh.part_names[part]
        if before < 0 or name == old.mesh.part_names[before]:
            continue
        held_before = any(fnmatchcase(old.mesh.part_names[before], g) for g in globs)
        if held_before and not any(fnmatchcase(name, g) for g in globs):
            out.append(picks.exactly(name))
    return out
