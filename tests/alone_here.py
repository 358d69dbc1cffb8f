"""Processes that reach no other machine, and lack what is optional."""

import os
from pathlib import Path

ALONE = Path(__file__).parent / "alone"


def alone(tried: Path, *without: str) -> dict[str, str]:
    """The environment of such processes. tried: a file for what tried to leave. without: modules that are not installed."""
    path = os.pathsep.join(filter(None, [str(ALONE), os.environ.get("PYTHONPATH")]))
    return {"PYTHONPATH": path, "PIVREL_TRIED": str(tried), "PIVREL_WITHOUT": ",".join(without)}
