"""Unpacking large images in a process of its own, which may take so much memory and time and no more.

`python -m pivrel.materials.limited WHAT` reads an image from standard input and writes what became of it.
"""

from __future__ import annotations

import subprocess
import sys
from typing import Literal

from pivrel.errors import InputError

MEMORY_BYTES = 3 << 30
SECONDS = 60
"""What unpacking the largest image that is opened may take: 400 MB of pixels, a few copies of them, and the
libraries."""


class ImageError(InputError):
    """Bytes that are no image that can be used; the message says why in one sentence."""


def run(what: Literal["convert", "reduce"], data: bytes, name: str) -> bytes:
    """What `images.convert` or `images.reduce` makes of an image. ImageError where it takes too much, or is broken."""
    try:
        done = subprocess.run(
            [sys.executable, "-m", "pivrel.materials.limited", what],
            input=data,
            capture_output=True,
            timeout=SECONDS,
        )
    except subprocess.TimeoutExpired:
        raise ImageError(f"the image {name!r} takes more than {SECONDS} s to unpack") from None
    if done.returncode:
        raise ImageError(
            f"the image {name!r} cannot be read: it is broken, or unpacking it takes more than {MEMORY_BYTES >> 30} GB"
        )
    return done.stdout


def main() -> None:
    """Does what is asked, within the limits where the system knows such."""
    if sys.platform != "win32":
        import resource

        resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
        resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    from pivrel.materials import images

    work = {"convert": images.convert, "reduce": images.reduce}[sys.argv[1]]
    sys.stdout.buffer.write(work(sys.stdin.buffer.read()))


if __name__ == "__main__":
    main()
