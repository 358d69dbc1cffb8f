"""Picks: which faces are meant, as a rule that can be asked again."""

from __future__ import annotations

import re
from dataclasses import dataclass
from fnmatch import fnmatchcase
from functools import reduce

import numpy as np

from pivrel.core.arrays import Ints, Mask
from pivrel.core.geometry.surface import Surface


class PickError(ValueError):
    """A rule that this model cannot answer; the message says which id and why."""


@dataclass(frozen=True)
class All:
    """Every face."""


@dataclass(frozen=True)
class Parts:
    """Faces of the parts whose names match one of the globs (case counts)."""

    globs: tuple[str, ...]


@dataclass(frozen=True)
class Faces:
    """Faces by id: polygons in file order from 0."""

    ids: tuple[int, ...]


@dataclass(frozen=True)
class FaceBits:
    """Faces by id, one bit a face, the lowest bit of the first byte for face 0: for picks of many faces."""

    bits: bytes


@dataclass(frozen=True)
class Patches:
    """Faces of these patches, at the crease angle of 30 degrees."""

    ids: tuple[int, ...]


@dataclass(frozen=True)
class Facing:
    """Faces whose normal lies within an angle of a direction in model axes."""

    direction: tuple[float, float, float]
    within_deg: float


@dataclass(frozen=True)
class Elements:
    """Faces of the parts whose type of building element matches one of the globs ("Wall", "Slab")."""

    globs: tuple[str, ...]


@dataclass(frozen=True)
class Storeys:
    """Faces of the parts on the storeys whose names match one of the globs."""

    globs: tuple[str, ...]


@dataclass(frozen=True)
class Sources:
    """Faces whose material in the model file has a name that matches one of the globs."""

    globs: tuple[str, ...]


@dataclass(frozen=True)
class AnyOf:
    """Faces that at least one of the picks holds."""

    picks: tuple[Pick, ...]


@dataclass(frozen=True)
class Every:
    """Faces that each of the picks holds."""

    picks: tuple[Pick, ...]


@dataclass(frozen=True)
class Not:
    """Faces that the pick does not hold."""

    pick: Pick


ById = Faces | FaceBits

Pick = All | Parts | Faces | FaceBits | Patches | Facing | Elements | Storeys | Sources | AnyOf | Every | Not

NOTHING = Faces(())

LONG = 2048
"""A pick of more faces than this is held as bits: a number takes ten times their room as text, and forty in memory."""


def by_ids(ids: Ints) -> ById:
    """The pick of these faces, (K,) ascending."""
    if len(ids) <= LONG:
        return Faces(tuple(ids.tolist()))
    held = np.zeros(int(ids.max()) + 1, bool)
    held[ids] = True
    return FaceBits(np.packbits(held, bitorder="little").tobytes())


def ids_of(pick: ById) -> Ints:
    """(K,) int64 ids of the faces, ascending."""
    if isinstance(pick, Faces):
        return np.unique(np.array(pick.ids, np.int64))
    return np.flatnonzero(_unpacked(pick.bits))


def _unpacked(bits: bytes) -> Mask:
    return np.unpackbits(np.frombuffer(bits, np.uint8), bitorder="little").view(bool)


def exactly(name: str) -> str:
    """The glob that matches just this name."""
    return re.sub(r"([*?\[])", r"[\1]", name)


def resolve(pick: Pick, surface: Surface) -> Mask:
    """(F,) true where the pick holds the face. PickError for an id that does not exist."""
    count = surface.mesh.face_count
    match pick:
        case All():
            return np.ones(count, bool)
        case Parts(globs):
            return _named(surface.mesh.part_names, globs)[surface.mesh.face_part]
        case Elements(globs):
            return _of_parts(surface, surface.mesh.part_elements, globs)
        case Storeys(globs):
            return _of_parts(surface, surface.mesh.part_storeys, globs)
        case Sources(globs):
            if surface.mesh.face_source is None:
                return np.zeros(count, bool)
            # The last place stands for faces without a material.
            names = (*(source.name for source in surface.mesh.sources), "")
            return _named(names, globs)[surface.mesh.face_source]
        case Faces(ids):
            return _chosen(ids, count, "face")
        case FaceBits(bits):
            held = _unpacked(bits)
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


def _named(names: tuple[str, ...], globs: tuple[str, ...]) -> Mask:
    """(N,) the names that match one of the globs; an empty name matches none."""
    return np.array([bool(n) and any(fnmatchcase(n, g) for g in globs) for n in names], bool)


def _of_parts(surface: Surface, names: tuple[str, ...], globs: tuple[str, ...]) -> Mask:
    """(F,) the faces of parts of which a building model says what matches."""
    return _named(names or ("",) * len(surface.mesh.part_names), globs)[surface.mesh.face_part]


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


def added(base: Pick, more: Pick) -> Pick:
    """The rule for both picks together, kept short where the two are of one kind."""
    match base, more:
        case All(), _:
            return base
        case _, All():
            return more
        case Faces(()), _:
            return more
        case ((Faces() | FaceBits() as a), (Faces() | FaceBits() as b)):
            return by_ids(np.union1d(ids_of(a), ids_of(b)))
        case Patches(a), Patches(b):
            return Patches(tuple(sorted({*a, *b})))
        case Parts(a), Parts(b):
            return Parts(tuple(dict.fromkeys([*a, *b])))
        case AnyOf(picks), _:
            for at, pick in enumerate(picks):
                joined = added(pick, more)
                if not isinstance(joined, AnyOf):
                    return AnyOf((*picks[:at], joined, *picks[at + 1 :]))
            return AnyOf((*picks, more))
    return AnyOf((base, more))


def removed(base: Pick, less: Pick) -> Pick:
    """The rule for what the first pick holds and the second does not."""
    match base, less:
        case _, All():
            return NOTHING
        case ((Faces() | FaceBits() as a), (Faces() | FaceBits() as b)):
            return by_ids(np.setdiff1d(ids_of(a), ids_of(b)))
        case Patches(a), Patches(b) if set(b) <= set(a):
            return Patches(tuple(i for i in a if i not in b)) if set(a) != set(b) else NOTHING
        case Parts(a), Parts(b) if set(b) <= set(a):
            return Parts(tuple(g for g in a if g not in b)) if set(a) != set(b) else NOTHING
        case Every((held, Not(gone))), _:
            return Every((held, Not(added(gone, less))))
    return Every((base, Not(less)))


def kept(base: Pick, only: Pick) -> Pick:
    """The rule for what both picks hold."""
    match base, only:
        case All(), _:
            return only
        case _, All():
            return base
        case ((Faces() | FaceBits() as a), (Faces() | FaceBits() as b)):
            return by_ids(np.intersect1d(ids_of(a), ids_of(b)))
        case Patches(a), Patches(b):
            return Patches(tuple(sorted({*a} & {*b}))) if {*a} & {*b} else NOTHING
        case Every(picks), _:
            return Every((*picks, only))
    return Every((base, only))


def inverted(pick: Pick) -> Pick:
    """The rule for every face that the pick does not hold."""
    match pick:
        case All():
            return NOTHING
        case Faces(()):
            return All()
        case Not(inner):
            return inner
    return Not(pick)


def grown(mask: Mask, surface: Surface) -> Mask:
    """(F,) the faces of the mask and those that share an edge with one of them."""
    topology = surface.topology
    ends = topology.corner_face[topology.pairs]
    out = mask.copy()
    out[ends[mask[ends[:, 1]], 0]] = True
    out[ends[mask[ends[:, 0]], 1]] = True
    return out


def shrunk(mask: Mask, surface: Surface) -> Mask:
    """(F,) the faces of the mask without those that share an edge with a face outside it."""
    return ~grown(~mask, surface)


def as_faces(mask: Mask) -> Ints:
    """(K,) int32 ids of the faces that the mask holds."""
    return np.flatnonzero(mask).astype(np.int32)
