"""What a job says to whoever waits for it: a line of JSON at a time on standard output."""

from __future__ import annotations

import json
import os
import time
from typing import TextIO

TOLD_EVERY_S = 0.1


class Line:
    """The line to whoever waits, kept clear of what the kernels print by themselves."""

    def __init__(self) -> None:
        self.out: TextIO = os.fdopen(os.dup(1), "w", buffering=1)
        self.last: tuple[str, float] = ("", 0.0)
        nowhere = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nowhere, 1)
        os.dup2(nowhere, 2)

    def say(self, **what: object) -> None:
        print(json.dumps(what), file=self.out)

    def tell(self, doing: str, share: float) -> None:
        """Passes progress on, at most ten times a second for one kind of work."""
        now = time.monotonic()
        if doing != self.last[0] or now - self.last[1] > TOLD_EVERY_S:
            self.last = (doing, now)
            self.say(doing=doing, share=share)
