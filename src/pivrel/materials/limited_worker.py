"""The process that unpacks one image within limits: `python -m pivrel.materials.limited_worker WHAT`.

It reads an image from standard input and writes what became of it.
"""

from __future__ import annotations

import sys

from pivrel.materials.images import convert, reduce
from pivrel.materials.limited import MEMORY_BYTES, SECONDS
from pivrel.parent import end_with_parent


def main() -> None:
    """Does what is asked, within the limits where the system knows such."""
    end_with_parent()
    if sys.platform != "win32":
        import resource

        resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
        resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS))
    work = {"convert": convert, "reduce": reduce}[sys.argv[1]]
    sys.stdout.buffer.write(work(sys.stdin.buffer.read()))


if __name__ == "__main__":
    main()
