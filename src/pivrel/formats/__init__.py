"""One module a file format, each to and from the core's mesh and laying."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import PurePosixPath

from pivrel.core.geometry.mesh import Mesh
from pivrel.formats.bundle import Bundle, FormatError
from pivrel.formats.gltf_read import GLTF_SPACE, read_glb, read_gltf
from pivrel.formats.obj import in_model_space, read_obj
from pivrel.formats.units import MM, Convention, guess_unit

READABLE = (".obj", ".glb", ".gltf")


@dataclass(frozen=True)
class Imported:
    """A model as it came in: its mesh, how the file measured it, and what was found on the way."""

    mesh: Mesh
    unit: str
    up: str
    guessed: bool
    found: tuple[str, ...]

    @property
    def convention(self) -> Convention:
        """The unit and axes to write an OBJ back in."""
        return Convention.of(self.unit, self.up)


def suffix_of(name: str) -> str:
    """The lower-case ending of a file name."""
    return PurePosixPath(name.lower()).suffix


def read_model(
    name: str, data: bytes, bundle: Bundle, unit: str | None = None, up: str | None = None
) -> Imported:
    """Reads a model file by its ending. FormatError says what is wrong and where.

    unit and up are asked of formats that state none; without them the likeliest are taken.
    """
    suffix = suffix_of(name)
    if suffix not in READABLE:
        raise FormatError(
            f"files ending in {suffix or 'nothing'!r} cannot be read; use {', '.join(READABLE)}"
        )
    if not data:
        raise FormatError("the file is empty")
    if suffix == ".obj":
        if b"\0" in data[:4096]:
            raise FormatError("this is not an OBJ file: it holds binary data")
        mesh, found = read_obj(data, bundle)
        points = mesh.points
        chosen = unit or guess_unit(points.max(axis=0) - points.min(axis=0))
        convention = Convention.of(chosen, up or "y")
        return Imported(
            in_model_space(mesh, convention), chosen, convention.up, unit is None or up is None, tuple(found)
        )
    if (unit or "m") != "m" or (up or "y") != "y":
        raise FormatError("glTF is always in metres with Y up; leave unit and axis out")
    mesh, found = (read_glb if suffix == ".glb" else read_gltf)(data, bundle)
    return Imported(mesh, "m", "y", False, tuple(found))


__all__ = ["GLTF_SPACE", "MM", "READABLE", "Bundle", "Convention", "FormatError", "Imported", "read_model"]
