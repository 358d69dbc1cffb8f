"""How far a ZIP may unpack: told from its directory, before anything is unpacked."""

from __future__ import annotations

import zipfile

from pivrel.formats.bundle import FormatError

MAX_BYTES = 2 << 30
MAX_ENTRIES = 100_000
LEAST_BYTES, TIMES_PACKED = 64 << 20, 100
"""A file may unpack to `LEAST_BYTES`, or to so many times its own size where that is more. Deflate reaches a
thousandfold on zeros (RFC 1951); models and images stay below thirtyfold (measured on the samples of the tests)."""


def check_sizes(archive: zipfile.ZipFile, packed: int) -> None:
    """FormatError for a ZIP of `packed` bytes that would unpack to far more than files of ours."""
    entries = archive.infolist()
    most = min(MAX_BYTES, max(LEAST_BYTES, TIMES_PACKED * packed))
    claimed = sum(entry.file_size for entry in entries)
    if claimed > most:
        raise FormatError(
            f"the file has {packed / 1e6:.1f} MB and claims {claimed / 1e6:,.0f} MB unpacked; nothing of ours packs "
            f"so well, and at most {most / 1e6:,.0f} MB are unpacked"
        )
    if len(entries) > MAX_ENTRIES or len({e.filename for e in entries}) < len(entries):
        raise FormatError("the file has far too many entries, or one of them twice")
