"""Every format of models. A new one is a module and a line here."""

from __future__ import annotations

from pathlib import PurePosixPath

from pivrel.formats.bundle import FormatError
from pivrel.formats.extra import IFC, STEP
from pivrel.formats.model_format import ModelFormat

_GLTF = "glTF is always in metres with Y up"
_STEP = "STEP files state their unit, and Z is up"
_IFC = "IFC files state their unit, and Z is up"
_AT = "pivrel.formats.model"

FORMATS = (
    ModelFormat("OBJ", (".obj",), "y", None, "", 9, f"{_AT}.obj:read", f"{_AT}.obj_files:write"),
    ModelFormat("STL", (".stl",), "z", None, "", 16, f"{_AT}.stl:read"),
    ModelFormat("PLY", (".ply",), "z", None, "", 24, f"{_AT}.ply:read"),
    ModelFormat("GLB", (".glb",), "y", "m", _GLTF, 24, f"{_AT}.gltf_read:glb", f"{_AT}.gltf_write:glb"),
    ModelFormat("glTF", (".gltf",), "y", "m", _GLTF, 24, f"{_AT}.gltf_read:gltf", f"{_AT}.gltf_write:gltf"),
    ModelFormat(
        "STEP", (".step", ".stp"), "z", "file", _STEP, 40, f"{_AT}.step:read", aside=True, extra=STEP
    ),
    ModelFormat("IFC", (".ifc",), "z", "file", _IFC, 45, f"{_AT}.ifc:read", aside=True, extra=IFC),
)
"""Memory factors are measured on models of a million triangles (OBJ, STL, PLY, GLB: `make bench`) and on the samples
of the tests (STEP, IFC), rounded up. The axis that is up in most OBJ, STL and PLY: common practice, no source."""

READABLE = tuple(suffix for f in FORMATS if f.reader for suffix in f.suffixes)
WRITABLE = tuple(suffix for f in FORMATS if f.writer for suffix in f.suffixes)


def suffix_of(name: str) -> str:
    """The lower-case ending of a file name."""
    return PurePosixPath(name.lower()).suffix


def format_of(suffix: str) -> ModelFormat | None:
    """The format of files with this ending, or None."""
    return next((f for f in FORMATS if suffix in f.suffixes), None)


def readable(name: str) -> ModelFormat:
    """The format of a file that shall be read. FormatError where its ending is none that is read."""
    suffix = suffix_of(name)
    found = format_of(suffix)
    if found is None or found.reader is None:
        raise FormatError(
            f"files ending in {suffix or 'nothing'!r} cannot be read; use {', '.join(READABLE)}"
        )
    return found


def writable(suffix: str) -> ModelFormat:
    """The format of a file that shall be written. FormatError where there is none of this ending."""
    found = format_of(suffix)
    if found is None or found.writer is None:
        raise FormatError(
            f"cannot be written as {suffix or 'a file without ending'!r}; use {', '.join(WRITABLE)}"
        )
    return found
