"""What a format of models is: a line of the registry. Little is loaded with it, for the command line lists all formats."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, TypeAlias

from pivrel.formats.bundle import FormatError
from pivrel.formats.extra import Extra
from pivrel.formats.loading import loaded

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
    reader down, so that it runs in a process of its own. extra: a library that it is read by, where not everybody has it.
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
    extra: Extra | None = None

    def read(self, given: GivenFile) -> FoundModel:
        """The model of a file. FormatError says what is wrong and where."""
        found: FoundModel = self._reader()(given)
        return found

    @property
    def missing(self) -> str | None:
        """In a sentence what has to be installed before it can be read; None where all of it is."""
        return f"{self.name} {self.extra.missing}" if self.extra and not self.extra.is_there else None

    def _reader(self) -> Reader:
        assert self.reader is not None, "the registry says which formats are read"
        if self.missing:
            raise FormatError(self.missing)
        try:
            read: Reader = loaded(self.reader)
        except ImportError as error:
            if self.extra is None:
                raise
            raise FormatError(
                f"{self.name} cannot be read here, as {self.extra.what} does not load: {error}"
            ) from None
        return read

    def write(self, model: LaidModel, stem: str, convention: Convention) -> dict[str, bytes]:
        """Every file of a hand-over by name; the model's own file comes first.

        Rows that cannot be written are left out, and the files say so.
        """
        assert self.writer is not None, "the registry says which formats are written"
        written, write = loaded("pivrel.formats.leaving_out:written"), loaded(self.writer)
        files: dict[str, bytes] = written(model, lambda one: write(one, stem, convention))
        return files
