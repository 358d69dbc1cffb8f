"""ZIP files that come from elsewhere: what they state is checked before anything of them is unpacked, and they are
held to it."""

from __future__ import annotations

import mmap
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from typing import IO

from pivrel.core.plain_text import printable
from pivrel.formats.bundle import FormatError, safe_relative

MAX_BYTES = 2 << 30
MAX_ENTRIES = 100_000
LEAST_BYTES, TIMES_PACKED = 64 << 20, 100
"""A file may unpack to `LEAST_BYTES`, or to so many times its own size where that is more. Deflate reaches a
thousandfold on zeros (RFC 1951); models and images stay below thirtyfold (measured on the samples of the tests)."""

STEP = 1 << 20
"""Bytes that are unpacked at a time."""

IN_MEMORY = 4 << 20
"""Entries of more bytes are unpacked to the disk."""

PACKED = {zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED}
OTHERS = {9: "deflate64", zipfile.ZIP_BZIP2: "bzip2", zipfile.ZIP_LZMA: "LZMA", 93: "Zstandard"}
ENCRYPTED = 1
"""The bit of an entry's flags that says so (APPNOTE 6.3.10, section 4.4.4)."""

ENTRY = b"PK\x01\x02"
"""What an entry of the directory begins with (APPNOTE 6.3.10, section 4.3.12)."""

BROKEN = (zipfile.BadZipFile, zipfile.LargeZipFile, zlib.error, EOFError, OSError, NotImplementedError,
          OverflowError, RuntimeError, ValueError, UnicodeDecodeError)  # fmt: skip
"""What reading a broken ZIP may raise."""


class NotZipError(FormatError):
    """A file that is no ZIP, or of which the directory is broken."""


class Unzipped:
    """The entries of a ZIP, each stated size true or refused."""

    def __init__(self, archive: zipfile.ZipFile, packed: int) -> None:
        """packed: bytes of the whole file. FormatError where it states what no file of ours does."""
        self._archive = archive
        rows = archive.infolist()
        _check_sizes(rows, packed)
        for row in rows:
            _check_entry(row)
        self.sizes = {row.filename: row.file_size for row in rows if not row.is_dir()}
        """Bytes of each entry by its name."""

    def read(self, name: str) -> bytes | mmap.mmap:
        """The bytes of an entry; of many they lie on the disk. FormatError where they are not as many as it states."""
        size = self.sizes[name]
        try:
            with self._archive.open(name) as entry:
                if size <= IN_MEMORY:
                    data = entry.read(size)
                    # The end of an entry is where its checksum is compared.
                    if len(data) < size or entry.read(1):
                        raise FormatError(f"{printable(name)} is not as long as the file states")
                    return data
                return _on_disk(entry, size, name)
        except FormatError:
            raise
        except BROKEN:
            raise FormatError(f"the entry {printable(name)} is broken") from None


def _on_disk(entry: IO[bytes], size: int, name: str) -> mmap.mmap:
    with tempfile.TemporaryFile() as file:
        left = size
        while piece := entry.read(min(STEP, left + 1)):
            left -= len(piece)
            if left < 0:
                break
            file.write(piece)
        if left:
            raise FormatError(f"{printable(name)} is not as long as the file states")
        file.flush()
        # The file has no name, and its room is free again when nobody holds these bytes any more.
        return mmap.mmap(file.fileno(), size, access=mmap.ACCESS_READ)


@contextmanager
def unzipping(file: IO[bytes]) -> Iterator[Unzipped]:
    """A ZIP that can be sought in. FormatError where it is none, or one that no file of ours would be."""
    packed = _directory_checked(file)
    try:
        archive = zipfile.ZipFile(file)
    except BROKEN:
        raise NotZipError("the ZIP is broken, or none") from None
    with archive:
        yield Unzipped(archive, packed)


def _directory_checked(file: IO[bytes]) -> int:
    """The file's size. FormatError where its directory is longer than any: reading it takes memory for each entry."""
    file.seek(0)
    entries = size = 0
    tail = b""
    while piece := file.read(STEP):
        size += len(piece)
        entries += (tail + piece).count(ENTRY)
        tail = piece[-len(ENTRY) + 1 :]
    file.seek(0)
    if entries > MAX_ENTRIES:
        raise FormatError(f"the file has more than {MAX_ENTRIES:,} entries")
    return size


def _check_sizes(rows: list[zipfile.ZipInfo], packed: int) -> None:
    most = min(MAX_BYTES, max(LEAST_BYTES, TIMES_PACKED * packed))
    claimed = sum(row.file_size for row in rows)
    if claimed > most:
        raise FormatError(
            f"the file has {packed / 1e6:.1f} MB and claims {claimed / 1e6:,.0f} MB unpacked; nothing of ours packs "
            f"so well, and at most {most / 1e6:,.0f} MB are unpacked"
        )
    if len(rows) > MAX_ENTRIES or len({row.filename for row in rows}) < len(rows):
        raise FormatError("the file has far too many entries, or one of them twice")


def _check_entry(row: zipfile.ZipInfo) -> None:
    name = row.filename
    safe_relative(name)
    if printable(name) != name:
        raise FormatError(f"the entry {printable(name)[:200]!r} has control characters in its name")
    if row.flag_bits & ENCRYPTED:
        raise FormatError(f"the entry {name[:200]!r} is encrypted; pack the file without a password")
    if row.compress_type not in PACKED:
        how = OTHERS.get(row.compress_type, "a way that is not read")
        raise FormatError(
            f"the entry {name[:200]!r} is packed by {how}; entries are read that are stored or deflated"
        )
