"""Whether a model fits into the machine's memory, asked before it is read."""

from __future__ import annotations

import os
from pathlib import Path

from pivrel.formats.registry import FORMATS, format_of, suffix_of

MOST = max(kind.bytes_a_byte for kind in FORMATS)
"""What a format is taken to need that nobody has measured."""

OWN = 300 << 20
"""What the process takes before it reads anything."""


def needed(name: str, size: int) -> int:
    """Bytes of memory that reading a file of this many bytes takes at most, in good faith."""
    found = format_of(suffix_of(name))
    return OWN + size * (found.bytes_a_byte if found else MOST)


def free() -> int | None:
    """Bytes of memory that are free, or None where the machine does not tell.

    The environment's PIVREL_MEMORY_MB sets a lower limit for machines that are shared.
    """
    limit = os.environ.get("PIVREL_MEMORY_MB")
    there = Path("/proc/meminfo")
    if not there.is_file():
        return int(limit) << 20 if limit else None
    rows = dict(line.split(":", 1) for line in there.read_text().splitlines() if ":" in line)
    available = int(rows["MemAvailable"].split()[0]) << 10
    return min(available, int(limit) << 20) if limit else available


def in_words(size: int) -> str:
    """A number of bytes as people say it."""
    if size >= 1e9:
        return f"{size / 1e9:.1f} GB"
    return f"{size / 1e6:.0f} MB" if size >= 1e6 else f"{size / 1e3:.0f} kB"
