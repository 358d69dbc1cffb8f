"""What a format of models is: a line of the registry. Little is loaded with it, for the command line lists all formats."""

from __future__ import annotations

import importlib
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, TypeAlias

if TYPE_CHECKING:
    from pivrel.formats.convention import Convention
    from pivrel.formats.found_model import FoundModel, GivenFile
    from pivrel.formats.laid import LaidModel

Reader: TypeAlias = "Callable[[GivenFile], FoundModel]"
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
