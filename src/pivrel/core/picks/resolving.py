"""The faces that a pick holds on a surface."""

from __future__ import annotations

from fnmatch import fnmatchcase
from functools import reduce

import numpy as np

from pivrel.core.arrays import Ints, Mask
from pivrel.core.geometry.surface import Surface
from pivrel.core.picks.rules import (
    All,
    AnyOf,
    Elements,
    Every,
    FaceBits,
    Faces,
    Facing,
    Not,
    Parts,
    Patches,
    Pick,
    PickError,
    Sources,
    Storeys,
    meant_exactly,
    unpacked,
)


def resolve(pick: Pick, surface: Surface) -> Mask:
    """(F,) true where the pick holds the face. PickError for an id that does not exist."""
    count = surface.mesh.face_count
    match pick:
        case All():
            return np.ones(count, bool)
        case Parts(globs):
            return named(surface.mesh.part_names, globs)[surface.mesh.face_part]
        case Elements(globs):
            return _of_parts(surface, surface.mesh.part_elements, globs)
        case Storeys(globs):
            return _of_parts(surface, surface.mesh.part_storeys, globs)
        case Sources(globs):
            if surface.mesh.face_source is None:
                return np.zeros(count, bool)
            # The last place stands for faces without a material.
            names = (*(source.name for source in surface.mesh.sources), "")
            return named(names, globs)[surface.mesh.face_source]
        case Faces(ids):
            return _chosen(ids, count, "face")
        case FaceBits(bits):
            held = unpacked(bits)
            if held[count:].any():
                raise PickError(_no_such(int(np.flatnonzero(held).max()), count, "face"))
            return np.concatenate([held, np.zeros(max(count - len(held), 0), bool)])[:count]
        case Patches(ids):
            patches = surface.patches()
            return _chosen(ids, int(patches.max()) + 1, "patch")[patches]
        case Facing(direction, within_deg):
            towards = np.asarray(direction, float)
            if not towards.any():
                raise PickError("a facing direction must not be zero")
            # By the largest component first: the square of a tiny one would vanish.
            towards = towards / np.abs(towards).max()
            towards = towards / np.linalg.norm(towards)
            length = np.linalg.norm(surface.normals, axis=1)
            least = np.cos(np.radians(within_deg)) - 1e-9
            facing: Mask = (length > 0) & (surface.normals @ towards >= least * length)
            return facing
        case AnyOf(picks):
            return reduce(np.logical_or, (resolve(p, surface) for p in picks), np.zeros(count, bool))
        case Every(picks):
            return reduce(np.logical_and, (resolve(p, surface) for p in picks), np.ones(count, bool))
        case Not(inner):
            return ~resolve(inner, surface)


def named(names: tuple[str, ...], globs: tuple[str, ...]) -> Mask:
    """(N,) the names that match one of the globs; an empty name matches none."""
    exact = {glob: meant_exactly(glob) for glob in globs}
    literal, rules = set(exact.values()), [glob for glob, name in exact.items() if name is None]
    return np.array(
        [bool(n) and (n in literal or any(fnmatchcase(n, g) for g in rules)) for n in names], bool
    )


def _of_parts(surface: Surface, names: tuple[str, ...], globs: tuple[str, ...]) -> Mask:
    """(F,) the faces of parts of which a building model says what matches."""
    return named(names or ("",) * len(surface.mesh.part_names), globs)[surface.mesh.face_part]


def _chosen(ids: tuple[int, ...], count: int, what: str) -> Mask:
    mask = np.zeros(count, bool)
    if not ids:
        return mask
    if min(ids) < 0 or max(ids) >= count:
        raise PickError(_no_such(next(i for i in ids if not 0 <= i < count), count, what))
    mask[np.asarray(ids, np.int64)] = True
    return mask


def _no_such(wrong: int, count: int, what: str) -> str:
    told = str(wrong) if abs(wrong) < 10**12 else "that high"
    return f"{what} {told} does not exist; the model has {count}, counted from 0"


def as_faces(mask: Mask) -> Ints:
    """(K,) int32 ids of the faces that the mask holds."""
    return np.flatnonzero(mask).astype(np.int32)
