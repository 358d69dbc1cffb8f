"""What is wrong without running anything, on both sides."""

import sys

from tools.parts import LINT, side_by_side

if __name__ == "__main__":
    sys.exit(any(part.code for part in side_by_side(LINT)))
