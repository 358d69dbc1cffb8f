"""Reading a model by its file's ending."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from pivrel.core.geometry.mesh import Mesh
from pivrel.core.plain_text import LONGEST_NAME, printable
from pivrel.formats.bundle import Bundle, FormatError
from pivrel.formats.convention import Convention, to_model
from pivrel.formats.found_model import FoundModel, GivenFile, Tell, no_telling
from pivrel.formats.guessing import guess_reading
from pivrel.formats.imported import Imported, in_reach, in_space
from pivrel.formats.model_format import ModelFormat
from pivrel.formats.registry import readable, suffix_of


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
    kind = readable(name)
    if not data:
        raise FormatError("the file is empty")
    if kind.unit is not None and (unit not in (None, kind.unit) or up not in (None, kind.up)):
        raise FormatError(f"{kind.states}; leave unit and axis out")
    tell("reading the file", 0.0)
    found = kind.read(GivenFile(data, bundle, tolerance_mm, tell))
    in_reach(found.mesh)
    found = replace(found, mesh=_plainly_named(found.mesh))
    if kind.unit is None:
        return _guessed(kind, found, suffix_of(name), unit, up)
    images = found.images
    return Imported(
        found.mesh, found.unit or kind.unit, kind.up, False, tuple(images.found), tolerance_mm=found.tolerance_mm,
        images=images.used_by(found.mesh.sources), image_names=images.names,
    )  # fmt: skip


def _plainly_named(mesh: Mesh) -> Mesh:
    """The mesh with names of one line and no endless ones, which every file and every pick can hold."""

    def short(name: str) -> str:
        return printable(name[:LONGEST_NAME])

    def plain(names: Sequence[str]) -> tuple[str, ...]:
        return tuple(map(short, names))

    return replace(
        mesh,
        part_names=plain(mesh.part_names),
        part_elements=plain(mesh.part_elements),
        part_storeys=plain(mesh.part_storeys),
        sources=tuple(replace(source, name=short(source.name)) for source in mesh.sources),
    )


def _guessed(kind: ModelFormat, found: FoundModel, suffix: str, unit: str | None, up: str | None) -> Imported:
    """A model whose file states neither unit nor axis, as its numbers are likely meant."""
    mesh, images = found.mesh, found.images
    guess = guess_reading(mesh.points, len(mesh.part_names), suffix, kind.up, unit, up)
    turned = in_space(mesh, Convention.of(guess.unit, guess.up), to_model)
    return Imported(
        in_reach(turned), guess.unit, guess.up, unit is None or up is None, tuple(images.found), asks=True,
        images=images.used_by(mesh.sources), image_names=images.names, why=guess.why,
    )  # fmt: skip
