"""Picks: which faces are meant, as a rule that can be asked again."""

from __future__ import annotations

import re
from dataclasses import dataclass

import numpy as np

from pivrel.core.arrays import Ints, Mask, distinct, marked
from pivrel.errors import InputError


class PickError(InputError):
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
    return _bits(marked(ids, int(ids.max()) + 1))


def by_mask(held: Mask) -> ById:
    """The pick of the faces that a mask (N,) holds."""
    ids = np.flatnonzero(held)
    if len(ids) <= LONG:
        return Faces(tuple(ids.tolist()))
    return _bits(held[: ids[-1] + 1])


def _bits(held: Mask) -> FaceBits:
    return FaceBits(np.packbits(held, bitorder="little").tobytes())


def masks_of(one: ById, other: ById) -> tuple[Mask, Mask] | None:
    """Two picks as masks of one length; None where neither is long, or one names a face beyond the other's last."""
    count = max((8 * len(pick.bits) for pick in (one, other) if isinstance(pick, FaceBits)), default=0)
    ids = [i for pick in (one, other) if isinstance(pick, Faces) for i in pick.ids]
    if not count or (ids and not 0 <= min(ids) <= max(ids) < count):
        return None
    return _mask(one, count), _mask(other, count)


def _mask(pick: ById, count: int) -> Mask:
    out = np.zeros(count, bool)
    if isinstance(pick, FaceBits):
        held = unpacked(pick.bits)
        out[: len(held)] = held
    else:
        out[list(pick.ids)] = True
    return out


def ids_of(pick: ById) -> Ints:
    """(K,) int64 ids of the faces, ascending."""
    if isinstance(pick, Faces):
        return distinct(np.array(pick.ids, np.int64))
    return np.flatnonzero(unpacked(pick.bits))


def unpacked(bits: bytes) -> Mask:
    """(N,) one truth value a bit, the lowest bit of the first byte first."""
    return np.unpackbits(np.frombuffer(bits, np.uint8), bitorder="little").view(bool)


def exactly(name: str) -> str:
    """The glob that matches just this name."""
    return re.sub(r"([*?\[])", r"[\1]", name)


def meant_exactly(glob: str) -> str | None:
    """The one name that a glob matches, None where it may match several."""
    name = re.sub(r"\[([*?\[])\]", r"\1", glob)
    return name if exactly(name) == glob else None
