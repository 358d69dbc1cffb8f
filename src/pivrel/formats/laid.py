"""A laid model on its way out: what every writer needs, with names that any program accepts."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from pivrel.core.arrays import Floats, Ints, distinct
from pivrel.core.geometry.mesh import SourceMaterial
from pivrel.core.geometry.surface import Surface
from pivrel.core.laying import BARE, strongest_axes
from pivrel.core.laying.finish import AXES, Finish
from pivrel.core.schedule import Schedule
from pivrel.formats.cutting import SingleSheet, cut_out
from pivrel.materials.images import Image, green_turned


@dataclass(frozen=True)
class Look:
    """How a material looks: its images by channel, and how metallic it is (0 to 1).

    baked: its images do not repeat; they lie by the model's baked UVs.
    """

    images: dict[str, Image] = field(default_factory=dict)
    metallic: float = 0.0
    baked: bool = False


def upright_normal(images: dict[str, Image], normal_y: str) -> dict[str, Image]:
    """The images with the normal map's green up the sheet, as every format that is written wants it."""
    if normal_y == "-" and "normal" in images:
        return {**images, "normal": green_turned(images["normal"])}
    return images


AxisLooks = tuple[Look, Look, Look]
"""How a finish looks along x, y and z; all the same unless it is triplanar with materials of their own."""


@dataclass(frozen=True)
class LaidModel:
    """A surface with its finishes laid, as it can be written: one material and one laying a face.

    What a file cannot hold is resolved: single sheets are cut out of the faces that they lie on, and
    triplanar finishes with a material for each axis become one finish a material.
    face_finish: (F,) into finishes, BARE where there is none.
    st: (C, 2) final mm by corner id, NaN on bare faces.
    looks: how each finish's material looks, in the order of finishes.
    notes: what had to be simplified, in sentences. images: those of the source materials of bare faces,
    by content hash, and image_names what the model called them. face_origin: (F,) the face of the schedule's surface
    that each was cut from. left_out: rows that the files lack, and why, a sentence each. baked_uv: (C, 2) in shares of
    an image, v up, on faces whose look is baked; None without any.
    """

    surface: Surface
    finishes: Sequence[Finish]
    looks: Sequence[Look]
    face_finish: Ints
    st: Floats
    notes: Sequence[str] = ()
    images: Mapping[str, Image] = field(default_factory=dict)
    image_names: Mapping[str, str] = field(default_factory=dict)
    face_origin: Ints = field(default_factory=lambda: np.empty(0, np.int32))
    baked_uv: Floats | None = None
    left_out: Sequence[str] = ()

    def without(self, rows: Mapping[int, str]) -> LaidModel:
        """The same without some finishes (rows into finishes), whose faces are bare; and why each is left out."""
        own = np.isin(self.face_finish, list(rows))
        st = self.st.copy()
        st[np.repeat(own, np.diff(self.surface.mesh.face_start))] = np.nan
        told = [f"{self.finishes[row].name} is left out: {why}" for row, why in rows.items()]
        return replace(
            self,
            face_finish=np.where(own, BARE, self.face_finish).astype(np.int32),
            st=st,
            notes=[*self.notes, *told],
            left_out=[*self.left_out, *told],
        )


def not_written(finish: Finish) -> list[str]:
    """What of a finish lies over its sheet, and no file holds that repeats images: a sentence each, without its name."""
    out = []
    coats = [coat.name for coat in finish.coats if coat.on]
    if coats:
        one = len(coats) == 1
        what = "its coat is" if one else f"its {len(coats)} coats are"
        out.append(f"{what} not written, for images that repeat hold none: {', '.join(coats)}")
    if finish.toned or finish.spread is not None:
        out.append("how its pieces differ in tone is not written")
    if finish.cells is not None:
        out.append("its random cells are written as one sheet")
    return out


def is_simplified(finish: Finish) -> bool:
    """Whether files that repeat images cannot hold all of a finish."""
    return finish.projection.blends or bool(not_written(finish))


def lay_model(
    schedule: Schedule,
    looks: Sequence[AxisLooks],
    images: Mapping[str, Image] | None = None,
    image_names: Mapping[str, str] | None = None,
    whole: Collection[str] = (),
) -> LaidModel:
    """Lays every finish on the faces that it covers, and cuts single sheets out.

    looks: of each finish, in the order of the schedule. images, image_names: of the source materials. whole: codes of
    finishes of which nothing is simplified, for they will be baked.
    """
    source = (images or {}, image_names or {})
    surface, finishes = schedule.surface, list(schedule.finishes.values())
    over = schedule.covering().layers
    written, own_looks = list(finishes), [look[0] for look in looks]
    notes = []
    st = np.full((surface.mesh.corner_count, 2), np.nan)
    face_row = over.base.copy()
    sheets: list[SingleSheet] = []
    left_out: list[str] = []
    for row, (key, finish) in enumerate(schedule.finishes.items()):
        if failure := schedule.failure(key):
            left_out.append(f"{finish.name} is left out: {failure}")
        faces = schedule.drawn(key)
        if not len(faces):
            continue
        laid, corners = schedule.final(key), surface.corners_of(faces)
        rows = np.full(len(faces), row, np.int32)
        if key not in whole:
            notes += [f"{finish.name}: {sentence}" for sentence in not_written(finish)]
        if finish.projection.blends and key not in whole:
            notes.append(
                f"{finish.name}: {finish.projection.kind} is written by the strongest axis of each face, not blended"
            )
            strongest = strongest_axes(surface, faces, schedule.settled(key))
            for axis in AXES:
                if finish.axis_materials[axis] is not None:
                    rows[strongest == axis] = len(written)
                    name = f"{finish.name} {'xyz'[axis]}"
                    written.append(replace(finish, name=name, material=finish.material_of(axis)))
                    own_looks.append(looks[row][axis])
        if finish.tile:
            face_row[faces], st[corners] = rows, laid
        else:
            sheets.append(SingleSheet(faces, rows, laid))
    if not sheets:
        origin = np.arange(surface.mesh.face_count, dtype=np.int32)
        return LaidModel(
            surface, written, own_looks, face_row, st, [*notes, *left_out], *source, origin, left_out=left_out
        )
    repeats = np.array([f.material.repeat_mm for f in written])
    cut = cut_out(surface, face_row, st, sheets, repeats)
    return LaidModel(
        Surface(cut.mesh), written, own_looks, cut.face_row, cut.st, [*notes, *left_out], *source, cut.face,
        left_out=left_out,
    )  # fmt: skip


@dataclass(frozen=True)
class Surfacing:
    """What faces are written with: a finish (row into finishes) or what the model came with."""

    name: str
    row: int
    source: SourceMaterial = SourceMaterial("bare")


def surfacings(model: LaidModel) -> tuple[list[Surfacing], Ints]:
    """Each material to be written, under a name of its own, and (F,) which one a face takes.

    Finishes that cover nothing are left out. Bare faces keep their source material.
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
    source = mesh.source_of_face
    for index in distinct(source[bare]).tolist():
        face_row[bare & (source == index)] = len(out)
        if index < 0:
            out.append(Surfacing(names.take("bare"), BARE))
        else:
            stated = mesh.sources[index]
            out.append(Surfacing(names.take(stated.name), BARE, stated))
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
