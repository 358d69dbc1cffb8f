"""What a format of models is: a line of the registry, and what its reader takes and returns."""

from __future__ import annotations

import importlib
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, TypeAlias

from pivrel.core.geometry.mesh import Mesh
from pivrel.formats.bundle import Bundle
from pivrel.formats.source_images import SourceImages
from pivrel.formats.units import Convention

if TYPE_CHECKING:
    # Left out at run time: the process of a reader need not load what lays.
    from pivrel.formats.laid import LaidModel

Tell = Callable[[str, float], None]
"""Is told what is being done, and how much of it is done (0 to 1)."""


def no_telling(doing: str, share: float) -> None:
    """Nobody listens."""


@dataclass(frozen=True)
class GivenFile:
    """A file to be read. bundle: the files beside it. tolerance_mm: how far facets may lie from exact surfaces."""

    data: bytes
    bundle: Bundle
    tolerance_mm: float | None = None
    tell: Tell = no_telling


@dataclass(frozen=True)
class FoundModel:
    """What a reader made of a file. unit: where the file itself states it. images: what the file brings."""

    mesh: Mesh
    unit: str | None = None
    images: SourceImages = field(default_factory=SourceImages)
    tolerance_mm: float | None = None


Reader = Callable[[GivenFile], FoundModel]
Writer: TypeAlias = "Callable[[LaidModel, str, Convention], dict[str, bytes]]"
"""The files of a hand-over by name, the model's own first: of a laid model, under a stem, in a unit and axes."""


@dataclass(frozen=True)
class ModelFormat:
    """A format that models come in, or are handed over in.

    suffixes: its files' endings. reader, writer: "module:function"; loaded when they are needed, for some bring
    large libraries. bytes_a_byte: the memory that reading takes at its peak, as a multiple of the file's size.
    up: the axis that is up, always or in most files. unit: the unit, "file" where each file states it, and None
    where none does, so that the artist is asked. states: that in words. aside: whether a broken file may bring its
    reader down, so that it runs in a process of its own.
    """

    name: str
    suffixes: tuple[str, ...]
    up: str
    unit: str | None = None
    states: str = ""
    bytes_a_byte: int = 0
    reader: str | None = None
    writer: str | None = None
    aside: bool = False

    def read(self, given: GivenFile) -> FoundModel:
        """The model of a file. FormatError says what is wrong and where."""
        found: FoundModel = _loaded(self.reader)(given)
        return found

    def write(self, model: LaidModel, stem: str, convention: Convention) -> dict[str, bytes]:
        """Every file of a hand-over by name; the model's own file comes first.

        Rows that cannot be written are left out, and the files say so.
        """
        leaving_out = importlib.import_module("pivrel.formats.leaving_out")
        write = _loaded(self.writer)
        files: dict[str, bytes] = leaving_out.written(model, lambda one: write(one, stem, convention))
        return files


def _loaded(path: str | None) -> Any:
    assert path is not None, "the registry says which formats are read and which are written"
    module, name = path.split(":")
    return getattr(importlib.import_module(module), name)
