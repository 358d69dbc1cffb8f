"""One module a file format, each to and from the core's mesh and laying."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from pathlib import PurePosixPath

import numpy as np

from pivrel.core.geometry.mesh import Mesh, MeshError, within_reach
from pivrel.formats.bundle import Bundle, FormatError
from pivrel.formats.gltf_read import GLTF_SPACE, read_glb, read_gltf
from pivrel.formats.guessing import guess_reading, unit_by_size
from pivrel.formats.obj import read_obj
from pivrel.formats.ply import read_ply
from pivrel.formats.source_images import SourceImages
from pivrel.formats.stl import read_stl
from pivrel.formats.units import MM, Convention, from_model, to_model
from pivrel.materials.images import Image

Tell = Callable[[str, float], None]
"""Is told what is being done, and how much of it is done (0 to 1)."""

UNMEASURED = {".obj": "y", ".stl": "z", ".ply": "z"}
"""Formats that state neither unit nor axis, with the axis that is up in most of their files
(common practice, no source)."""

KERNEL = (".step", ".stp", ".ifc")
"""Formats read by large libraries of compiled code, which a broken file may bring down."""

READABLE = (*UNMEASURED, ".glb", ".gltf", *KERNEL)


def no_telling(doing: str, share: float) -> None:
    """Nobody listens."""


@dataclass(frozen=True)
class Imported:
    """A model as it came in: its mesh, how the file measured it, and what was found on the way.

    asks: whether the format states neither unit nor axis. tolerance_mm: how far facets may lie from the
    exact surfaces, for formats that have those. images: those of the source materials, by content hash, and
    image_names what the file calls them. why: the reason of a guess, in words.
    """

    mesh: Mesh
    unit: str
    up: str
    guessed: bool
    found: tuple[str, ...]
    asks: bool = False
    tolerance_mm: float | None = None
    images: Mapping[str, Image] = field(default_factory=dict)
    image_names: Mapping[str, str] = field(default_factory=dict)
    why: str = ""

    @property
    def convention(self) -> Convention:
        """The unit and axes to write an OBJ back in."""
        return Convention.of(self.unit, self.up)

    def read_as(self, unit: str | None, up: str | None, size_mm: float | None = None) -> Imported:
        """The same file with its numbers read in another unit or with another axis up.

        size_mm: about how large its largest side is, for a guess of the unit where none is given.
        """
        if not self.asks:
            return self
        if unit is None and size_mm is not None:
            largest = float(np.ptp(self.mesh.bounds(), axis=0).max()) / MM[self.unit]
            guess = unit_by_size(largest, size_mm)
            if guess is not None:
                why = f"read in {guess} it is about as large as the model before"
                return replace(self.read_as(guess, up), guessed=True, why=why)
        wanted = Convention.of(unit or self.unit, up or self.up)
        if wanted == self.convention:
            return replace(self, guessed=unit is None or up is None)
        mesh = _in_reach(in_space(in_space(self.mesh, self.convention, from_model), wanted, to_model))
        guessed = unit is None or up is None
        return replace(self, mesh=mesh, unit=unit or self.unit, up=up or self.up, guessed=guessed)


def suffix_of(name: str) -> str:
    """The lower-case ending of a file name."""
    return PurePosixPath(name.lower()).suffix


def read_model(
    name: str,
    data: bytes,
    bundle: Bundle,
    unit: str | None = None,
    up: str | None = None,
    tolerance_mm: float | None = None,
    tell: Tell = no_telling,
) -> Imported:
    """Reads a model file by its ending. FormatError says what is wrong and where.

    unit and up are asked of formats that state none; without them the likeliest are taken.
    tolerance_mm: for STEP, how far facets may lie from the true surface; by the size where None.
    """
    imported = _read(name, data, bundle, unit, up, tolerance_mm, tell)
    _in_reach(imported.mesh)
    return imported


def _in_reach(mesh: Mesh) -> Mesh:
    """The mesh, or FormatError where it lies where nothing can be computed."""
    try:
        return within_reach(mesh)
    except MeshError as error:
        raise FormatError(str(error)) from None


def _read(
    name: str,
    data: bytes,
    bundle: Bundle,
    unit: str | None,
    up: str | None,
    tolerance_mm: float | None,
    tell: Tell,
) -> Imported:
    suffix = suffix_of(name)
    if suffix not in READABLE:
        raise FormatError(
            f"files ending in {suffix or 'nothing'!r} cannot be read; use {', '.join(READABLE)}"
        )
    if not data:
        raise FormatError("the file is empty")
    tell("reading the file", 0.0)
    if suffix in UNMEASURED:
        return _unmeasured(suffix, data, bundle, unit, up)
    if suffix in (".step", ".stp"):
        _refuse_units("STEP files state their unit, and Z is up", unit, up, "z")
        # The kernels take seconds to load; whoever opens an OBJ should not wait for them.
        from pivrel.formats.step import read_step

        step = read_step(data, tolerance_mm, tell)
        return Imported(step.mesh, step.unit, "z", False, tuple(step.found), False, step.tolerance_mm)
    if suffix == ".ifc":
        _refuse_units("IFC files state their unit, and Z is up", unit, up, "z")
        from pivrel.formats.ifc import read_ifc

        mesh, stated, found = read_ifc(data, tell)
        return Imported(mesh, stated, "z", False, tuple(found))
    if (unit or "m") != "m" or (up or "y") != "y":
        raise FormatError("glTF is always in metres with Y up; leave unit and axis out")
    mesh, images = (read_glb if suffix == ".glb" else read_gltf)(data, bundle)
    return Imported(
        mesh,
        "m",
        "y",
        False,
        tuple(images.found),
        images=images.used_by(mesh.sources),
        image_names=images.names,
    )


def _refuse_units(why: str, unit: str | None, up: str | None, own: str) -> None:
    if unit is not None or (up or own) != own:
        raise FormatError(f"{why}; leave unit and axis out")


def _unmeasured(suffix: str, data: bytes, bundle: Bundle, unit: str | None, up: str | None) -> Imported:
    images = SourceImages()
    if suffix == ".obj":
        if b"\0" in data[:4096]:
            raise FormatError("this is not an OBJ file: it holds binary data")
        mesh, images = read_obj(data, bundle)
    elif suffix == ".stl":
        mesh = read_stl(data)
    else:
        mesh, images.found = read_ply(data)
    # In the smallest unit too; a guess would square it.
    _in_reach(mesh)
    guess = guess_reading(mesh.points, len(mesh.part_names), suffix, UNMEASURED[suffix], unit, up)
    convention = Convention.of(guess.unit, guess.up)
    guessed = unit is None or up is None
    return Imported(
        in_space(mesh, convention, to_model), guess.unit, guess.up, guessed, tuple(images.found), asks=True,
        images=images.used_by(mesh.sources), image_names=images.names, why=guess.why,
    )  # fmt: skip


def in_space(mesh: Mesh, convention: Convention, turned: Callable[..., np.ndarray]) -> Mesh:
    """The mesh with points and normals turned by `to_model` or `from_model`."""
    normals = None
    if mesh.normals is not None:
        normals = turned(mesh.normals, replace(convention, mm=1.0)).astype(np.float32)
    return replace(mesh, points=turned(mesh.points, convention), normals=normals)


__all__ = ["GLTF_SPACE", "MM", "READABLE", "Bundle", "Convention", "FormatError", "Imported", "read_model"]
