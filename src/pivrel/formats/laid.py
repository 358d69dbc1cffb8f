"""A laid model on its way out: what every writer needs, with names that any program accepts."""

from __future__ import annotations

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field

import numpy as np

from pivrel.core.arrays import Floats, Ints
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE, Finish, cover, datum_of, lay
from pivrel.materials.images import Image


@dataclass(frozen=True)
class Look:
    """How a material looks: its images by channel, and how metallic it is (0 to 1)."""

    images: dict[str, Image] = field(default_factory=dict)
    metallic: float = 0.0


@dataclass(frozen=True)
class LaidModel:
    """A surface with its finishes laid.

    face_finish: (F,) into finishes, BARE where there is none.
    st: (C, 2) final mm by corner id, NaN on bare faces.
    looks: how each finish's material looks, in the order of finishes.
    """

    surface: Surface
    finishes: Sequence[Finish]
    looks: Sequence[Look]
    face_finish: Ints
    st: Floats


def lay_model(surface: Surface, finishes: Sequence[Finish], looks: Sequence[Look]) -> LaidModel:
    """Lays every finish on the faces that it covers."""
    mesh = surface.mesh
    face_finish = cover(surface, [f.pick for f in finishes])
    st = np.full((mesh.corner_count, 2), np.nan)
    corner_finish = np.repeat(face_finish, np.diff(mesh.face_start))
    for row, finish in enumerate(finishes):
        faces = np.flatnonzero(face_finish == row).astype(np.int32)
        if len(faces):
            st[corner_finish == row] = lay(surface, finish, faces, datum_of(surface, finish))
    return LaidModel(surface, finishes, looks, face_finish, st)


@dataclass(frozen=True)
class Surfacing:
    """What faces are written with: a finish (row into finishes) or what the model came with."""

    name: str
    row: int
    rgba: tuple[float, float, float, float] = (0.8, 0.8, 0.8, 1.0)


def surfacings(model: LaidModel) -> tuple[list[Surfacing], Ints]:
    """Each material to be written, under a name of its own, and (F,) which one a face takes.

    Finishes that cover nothing are left out. Bare faces keep their source material's name and color.
    """
    mesh = model.surface.mesh
    names = UniqueNames()
    out: list[Surfacing] = []
    face_row = np.empty(mesh.face_count, np.int32)
    for row, finish in enumerate(model.finishes):
        covered = model.face_finish == row
        if covered.any():
            face_row[covered] = len(out)
            out.append(Surfacing(names.take(finish.name), row))
    bare = model.face_finish == BARE
    source = np.full(mesh.face_count, -1) if mesh.face_source is None else mesh.face_source
    for index in np.unique(source[bare]).tolist():
        face_row[bare & (source == index)] = len(out)
        if index < 0:
            out.append(Surfacing(names.take("bare"), BARE))
        else:
            stated = mesh.sources[index]
            out.append(Surfacing(names.take(stated.name), BARE, stated.rgba))
    return out, face_row


class UniqueNames:
    """Hands out each name once, however its case; later ones get a number."""

    def __init__(self, taken: Iterable[str] = ()) -> None:
        self.taken = {name.casefold() for name in taken}

    def take(self, name: str) -> str:
        name = " ".join(name.split()) or "unnamed"
        unique, count = name, 2
        while unique.casefold() in self.taken:
            unique, count = f"{name} {count}", count + 1
        self.taken.add(unique.casefold())
        return unique


RESERVED = {"con", "prn", "aux", "nul", *(f"com{i}" for i in range(10)), *(f"lpt{i}" for i in range(10))}


def safe_file_name(name: str) -> str:
    """A name that every file system and every reader of MTL takes: ASCII, no blanks, not too long."""
    plain = re.sub(r"[^A-Za-z0-9_-]+", "_", name).strip("_")[:80] or "file"
    return f"{plain}_" if plain.lower() in RESERVED else plain
