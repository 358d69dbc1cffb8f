"""Unpacking large images in a process of its own, which may take so much memory and time and no more."""

from __future__ import annotations

import subprocess
import sys
from typing import Literal

from pivrel.errors import InputError
from pivrel.parent import environment

MEMORY_BYTES = 3 << 30
SECONDS = 30
"""What unpacking the largest image that is opened may take: 400 MB of pixels, a few copies of them, and the
libraries."""


class ImageError(InputError):
    """Bytes that are no image that can be used; the message says why in one sentence."""


def run(what: Literal["convert", "reduce"], data: bytes, name: str) -> bytes:
    """What `images.convert` or `images.reduce` makes of an image. ImageError where it takes too much, or is broken."""
    try:
        done = subprocess.run(
            [sys.executable, "-m", "pivrel.materials.limited_worker", what],
            input=data,
            capture_output=True,
            timeout=2 * SECONDS,
            env=environment(),
        )
    except subprocess.TimeoutExpired:
        raise ImageError(f"the image {name!r} takes too long to unpack") from None
    if done.returncode:
        raise ImageError(
            f"the image {name!r} cannot be read: it is broken, or unpacking it takes more than {MEMORY_BYTES >> 30} GB "
            f"or {SECONDS} s"
        )
    return done.stdout
