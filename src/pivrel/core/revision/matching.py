"""Which old face each new face stands for: by geometry first, by the names of parts where that leaves it open."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import chain

import numpy as np
from scipy.spatial import cKDTree

from pivrel.core.arrays import Floats, Ints, Mask, distinct, marked, rows_by
from pivrel.core.geometry.surface import Surface
from pivrel.core.revision.faces import (
    KEPT,
    MOVED,
    RESHAPED,
    SAME_AREA,
    SAME_COSINE,
    SAME_MM,
    UNLIKELY,
    Faces,
    Match,
    exactly_same,
    faces_of,
    nearby,
    same_faces,
)
from pivrel.core.revision.near_cells import NearCells
from pivrel.core.revision.old_parts import ENOUGH, OldParts
from pivrel.core.revision.surfaces import OtherSurface, faces_under
from pivrel.core.revision.whole import STILL, Motion, candidates

BETTER = 0.15
"""A motion of the whole model has to bring this much more of the area home than standing still."""

MOSTLY = 0.5
"""A face cut anew stands for an old one where this share of it lies there."""

AMONG = 4000
"""Of so many old faces the largest new ones are looked for, where the model may have changed as a whole."""

TURNED = 100.0

BESIDE = 2.0
"""A face no further off than so many times what both reach is guessed to be the one before."""

PROBED = 500
DOUBT = 0.15
"""A shift is tried on so many faces first; it is left where their share falls short by more than chance may."""

PURE = 0.99
"""A new part is one old part where this share of what is known of it comes from there."""


def match(old: Surface, new: Surface) -> Match:
    """Which old face each new face stands for."""
    was, now = faces_of(old), faces_of(new)
    likely = _by_name(old, new)
    found = _in_place(was, now, likely, STILL)
    motion = STILL
    if now.area[found.at >= 0].sum() < ENOUGH * now.area.sum():
        motion = _motion(old, new, was, now)
        if motion is not STILL:
            was = was.moved(motion)
            found = _in_place(was, now, likely, motion)
    at, confidence, moved, shift = found.at.copy(), found.confidence, found.moved, found.shift
    rest = np.flatnonzero(at < 0).astype(np.int32)
    if len(rest):
        under, share = faces_under(OtherSurface(old, motion), new, rest, -shift[now.part[rest]])
        reshaped = (under >= 0) & (share >= MOSTLY)
        at[rest[reshaped]], confidence[rest[reshaped]] = under[reshaped], RESHAPED
    part, pure = _parts(was, now, at, likely, old, new)
    same = marked(found.at[found.at >= 0], old.mesh.face_count)
    left = _left(old, new, same, motion, part, shift)
    _guessed(was, now, at, confidence, part, shift)
    # What is asked for as a guess is not told as gone too.
    left[at[(at >= 0) & (confidence == UNLIKELY)]] = 1.0
    return Match(at.astype(np.int32), confidence, moved, part, pure, shift, motion, left)


def _left(old: Surface, new: Surface, same: Mask, motion: Motion, part: Ints, shift: Floats) -> Floats:
    """(F_old,) the share of each old face's area that lies on the new surface; same: those found whole."""
    left = np.where(same, 1.0, 0.0)
    rest = np.flatnonzero(~same).astype(np.int32)
    if not len(rest):
        return left
    went = np.zeros((len(old.mesh.part_names), 3))
    went[part[part >= 0]] = shift[part >= 0]
    left[rest] = faces_under(OtherSurface(new), old, rest, went[old.mesh.face_part[rest]], motion)[1]
    return left


@dataclass(frozen=True)
class _Placed:
    """What was found of each new face (at: row of the old one, or -1), and how far parts have shifted."""

    at: Ints
    confidence: Floats
    moved: Mask
    shift: Floats

    def shares(self, now: Faces) -> Floats:
        """(P,) the share of each new part's area that was found; 1 of a part without any."""
        parts = len(self.shift)
        area = np.bincount(now.part, now.area, parts)
        found = np.bincount(now.part, now.area * (self.at >= 0), parts)
        return np.where(area > 0, found / np.maximum(area, 1e-300), 1.0)


def _in_place(was: Faces, now: Faces, likely: Ints, motion: Motion) -> _Placed:
    """Faces that are the same where they stood, or where their part has moved to."""
    preferred = likely[now.part]
    at = exactly_same(was, now, preferred)
    confidence = np.where(at >= 0, KEPT if motion is STILL else MOVED, 0.0)
    moved = np.full(len(at), motion is not STILL) & (at >= 0)
    out = _Placed(at, confidence, moved, np.zeros((len(likely), 3)))
    _shift_named(was, now, out, likely)
    # What stands near, but not in the very place, is looked for last: it takes the longest.
    rest = np.flatnonzero(at < 0)
    if len(rest):
        at[rest] = nearby(was, now.only(rest), preferred[rest])
        near = rest[at[rest] >= 0]
        confidence[near], moved[near] = KEPT if motion is STILL else MOVED, motion is not STILL
        _shift_parts(was, now, out, likely)
    return out


def _motion(old: Surface, new: Surface, was: Faces, now: Faces) -> Motion:
    """How the model has changed as a whole; still where as much of it lies on the old surface."""
    # Where it was cut anew no face is the same: what lies on the old surface tells as much.
    best, share = STILL, _lying_share(old, new, STILL) + BETTER
    largest = now.only(np.argsort(-now.area, kind="stable")[:400])
    judged = float(largest.area.sum())
    # What the largest faces were is among the largest of before, however the model was scaled.
    least = np.sort(was.area)[-min(AMONG, len(was.area))]
    olds = was.only(np.flatnonzero((was.area > 0) & (was.area >= (1 - SAME_AREA) * least)))
    for motion in candidates(old.bounds, new.bounds):
        at = same_faces(olds.moved(motion), largest)
        brings = float(largest.area[at >= 0].sum()) / max(judged, 1e-12)
        if brings > share:
            best, share = motion, brings
    return best


def _lying_share(old: Surface, new: Surface, motion: Motion) -> float:
    """The share of the area of a new model's larger faces that lies on the old surface."""
    largest = np.sort(np.argsort(-new.face_areas, kind="stable")[:400]).astype(np.int32)
    under, share = faces_under(OtherSurface(old, motion), new, largest, np.zeros((len(largest), 3)))
    area = new.face_areas[largest]
    return float((area * share)[under >= 0].sum() / max(float(area.sum()), 1e-12))


def _by_name(old: Surface, new: Surface) -> Ints:
    """(P_new,) the old part of the same name, or -1."""
    names = {name: part for part, name in enumerate(old.mesh.part_names)}
    return np.array([names.get(name, -1) for name in new.mesh.part_names], np.int32)


def _shift_named(was: Faces, now: Faces, placed: _Placed, likely: Ints) -> None:
    """Matches the faces of parts that moved as a whole and kept their names, all parts at once."""
    shares = placed.shares(now)
    if (shares >= 1 - SAME_AREA).all():
        return
    wholly, same, went = OldParts(was, placed.at, likely).moved_as_named(now, shares)
    rows = np.flatnonzero(wholly[now.part])
    hit = same[rows] >= 0
    placed.at[rows], placed.confidence[rows], placed.moved[rows] = same[rows], hit * MOVED, hit
    placed.shift[wholly] = went[wholly]


def _shift_parts(was: Faces, now: Faces, placed: _Placed, likely: Ints) -> None:
    """Matches the faces of other parts that moved by themselves, changed or renamed."""
    shares = placed.shares(now)
    missing = np.flatnonzero(shares < 1 - SAME_AREA)
    if not len(missing):
        return
    own, old = rows_by(now.part, len(likely)), OldParts(was, placed.at, likely)
    for part in missing.tolist():
        here, rows = now.only(own[part]), own[part]
        for before in old.tried(part, here, shares[part] < ENOUGH):
            there = was.only(old.own[before])
            found, same = _shift(there, here, shares[part] * float(here.area.sum()))
            if found.any():
                hit = same >= 0
                placed.at[rows] = np.where(hit, old.own[before][same], -1)
                placed.confidence[rows], placed.moved[rows] = hit * MOVED, hit
                placed.shift[part] = found
                old.take(before)
                break


def _shift(was: Faces, now: Faces, in_place: float) -> tuple[Floats, Ints]:
    """(3,) how far a part has moved as a whole, and (K_new,) the old face of each new one then.

    Zero where it has not moved, or only some of it. in_place: mm² of it that are found where they were. Where faces are
    cut evenly, many of them fall on others after a move: so the shift that brings most is taken, and only if all that
    moved is found by it does it count against what seems to have stayed.
    """
    whole = float(now.area.sum())
    needed = ENOUGH * whole if in_place < ENOUGH * whole else (1 - SAME_AREA) * whole
    best, found, same = in_place, np.zeros(3), np.full(len(now.ids), -1)
    drawn = now.only(_drawn(now.area)) if len(now.ids) > 4 * PROBED and whole > 0 else None
    for off in _shifts(was, now):
        there = was.shifted(off)
        if drawn is not None and (same_faces(there, drawn) >= 0).mean() < needed / whole - DOUBT:
            continue
        at = same_faces(there, now)
        brings = float(now.area[at >= 0].sum())
        if brings >= needed and brings > (1 + SAME_AREA) * best:
            best, same = brings, at
            # To the last digits: the middle of what the faces themselves say.
            found = np.median(now.middle[at >= 0] - was.middle[at[at >= 0]], axis=0)
        if best >= (1 - SAME_AREA) * whole:
            break
    return found, same


def _drawn(area: Floats) -> Ints:
    """(PROBED,) rows, evenly by their area (K,)."""
    sums = np.cumsum(area)
    return np.searchsorted(sums, (np.arange(PROBED) + 0.5) / PROBED * sums[-1])


def _shifts(was: Faces, now: Faces) -> Iterator[Floats]:
    """Shifts (3,) by which a part may have moved, the likeliest first, each once."""
    once: set[tuple[float, ...]] = set()
    for off in chain([now.centre - was.centre], _by_ends(was, now), _by_votes(was, now)):
        rounded = tuple(np.round(off, 2).tolist())
        if rounded not in once and np.abs(off).max() > SAME_MM:
            once.add(rounded)
            yield off


def _by_ends(was: Faces, now: Faces) -> Iterator[Floats]:
    """Where a part has changed at one end as well, the other one tells."""
    for end in (np.min, np.max):
        yield end(now.middle, axis=0) - end(was.middle, axis=0)


def _by_votes(was: Faces, now: Faces) -> Iterator[Floats]:
    """The largest faces have moved if the part has: each pairing with an old face like it is a vote."""
    votes: dict[tuple[float, ...], float] = {}
    for k in np.argsort(-now.area)[:24]:
        alike = _alike(was, now, int(k))
        for other in np.flatnonzero(alike)[:24]:
            off = np.round(now.middle[k] - was.middle[other], 1)
            votes[tuple(off.tolist())] = votes.get(tuple(off.tolist()), 0.0) + float(now.area[k])
    for off, _ in sorted(votes.items(), key=lambda vote: -vote[1])[:5]:
        yield np.array(off)


def _alike(was: Faces, now: Faces, k: int) -> Mask:
    """(K_old,) faces of the same area and direction as a new one."""
    area = np.abs(was.area - now.area[k]) <= SAME_AREA * max(now.area[k], 1e-9)
    out: Mask = area & (was.normal @ now.normal[k] >= SAME_COSINE)
    return out


def _parts(was: Faces, now: Faces, at: Ints, likely: Ints, old: Surface, new: Surface) -> tuple[Ints, Mask]:
    """(P_new,) the old part that most of each new one comes from, by area, and whether no other is in it."""
    parts, old_parts = len(new.mesh.part_names), len(old.mesh.part_names)
    known = at >= 0
    key = now.part[known].astype(np.int64) * old_parts + was.part[at[known]]
    pairs, which = np.unique(key, return_inverse=True)
    held = np.bincount(which.reshape(-1), weights=now.area[known], minlength=len(pairs))
    part, pure = likely.copy(), np.ones(parts, bool)
    total = np.bincount(pairs // old_parts, weights=held, minlength=parts) if len(pairs) else np.zeros(parts)
    for k in np.argsort(held, kind="stable"):
        number, before = divmod(int(pairs[k]), old_parts)
        part[number], pure[number] = before, held[k] >= PURE * total[number]
    # A name alone is no proof where that part is plainly another one.
    by_name_only = (total == 0) & (likely >= 0)
    whole = np.bincount(was.part, was.area, old_parts)
    seen = np.bincount(was.part[at[known]], now.area[known], old_parts)
    gone_elsewhere = seen[likely] >= ENOUGH * np.maximum(whole[likely], 1e-12)
    part[by_name_only & gone_elsewhere] = -1
    return part, pure


def _guessed(was: Faces, now: Faces, at: Ints, confidence: Floats, part: Ints, shift: Floats) -> None:
    """Fills in the likeliest old face of its part for faces that look the same way nearby: to be asked."""
    rest = np.flatnonzero((at < 0) & (part[now.part] >= 0) & (now.area > 0))
    if not len(rest):
        return
    rest_by_part = rows_by(now.part[rest], len(part))
    was_by_part = rows_by(was.part, int(was.part.max()) + 1)
    for number in distinct(now.part[rest]).tolist():
        if part[number] >= len(was_by_part) or not len(was_by_part[part[number]]):
            continue
        own, rows = rest[rest_by_part[number]], was_by_part[part[number]]
        rows = rows[_within_guess(was.only(rows).shifted(shift[number]), now.only(own))]
        if not len(rows):
            continue
        middle = was.middle[rows] + shift[number]
        # Directions weigh so much that what looks another way is further off than the part is large.
        weight = TURNED * max(float(np.ptp(middle, axis=0).max()), 1.0)
        tree = cKDTree(np.column_stack([middle, weight * was.normal[rows]]))
        near = rows[tree.query(np.column_stack([now.middle[own], weight * now.normal[own]]), workers=-1)[1]]
        facing = (was.normal[near] * now.normal[own]).sum(axis=1) >= SAME_COSINE
        distance = np.linalg.norm(now.middle[own] - was.middle[near] - shift[number], axis=1)
        # Beside the old face, or pushed out of its plane by less than its own size: a guess.
        likely = facing & (distance <= BESIDE * (was.reach[near] + now.reach[own]) + SAME_MM)
        at[own[likely]], confidence[own[likely]] = near[likely], UNLIKELY


def _within_guess(was: Faces, now: Faces) -> Mask:
    """(K_old,) the faces that may stand near enough to one of the new ones for a guess."""
    off = (BESIDE * (was.reach + now.reach.max()) + SAME_MM)[:, None]
    return NearCells(now.middle, SAME_MM).touch(was.middle - off, was.middle + off)
