"""Everything that `make test` does once it is set up: all tests, and lint and the page's component tests beside them."""

from __future__ import annotations

import sys
import time

from tools.parts import COMPONENTS, LINT, SHARED, Part, side_by_side

TESTS = Part(
    "tests",
    ["python", "-m", "pytest", "-n", "2", "--dist", "worksteal", "--durations=10", "-m", "not soak"],
    shown=True,
    environment=SHARED,
)


def main() -> int:
    """0 where all of it is in order; parts are timed."""
    begun = time.monotonic()
    done = side_by_side((TESTS, COMPONENTS, *LINT))
    print(f"{time.monotonic() - begun:5.0f} s  in all, after set-up")
    failed = [part.name for part in done if part.code]
    if failed:
        print(f"not in order: {', '.join(failed)}")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
