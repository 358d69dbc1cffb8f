"""Everything that `make test` does once it is set up: lint, the page's component tests, and all tests; parts are timed."""

from __future__ import annotations

import sys
import time

from tools.parts import COMPONENTS, LINT, SHARED, Part, run, side_by_side

TESTS = Part(
    "tests",
    ["python", "-m", "pytest", "-n", "3", "--dist", "worksteal", "--durations=10", "-m", "not soak"],
    shown=True,
    environment=SHARED,
)


def main() -> int:
    """0 where all of it is in order."""
    begun = time.monotonic()
    done = side_by_side((*LINT, COMPONENTS))
    done.append(run(TESTS))
    print(f"{time.monotonic() - begun:5.0f} s  in all, after set-up")
    failed = [part.name for part in done if part.code]
    if failed:
        print(f"not in order: {', '.join(failed)}")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
