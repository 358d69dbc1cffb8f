"""What the compiler says: that something has to be compiled first, which happens once on a machine and takes a while."""

from __future__ import annotations

import logging

LOGGER = "pivrel.compiling"


def listen(handler: logging.Handler) -> None:
    """Lets one handler alone hear it."""
    told = logging.getLogger(LOGGER)
    told.handlers[:] = [handler]
    told.setLevel(logging.INFO)
    told.propagate = False
