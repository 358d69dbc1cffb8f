"""The time as rows hold it."""

from __future__ import annotations

from datetime import UTC, datetime


def now() -> str:
    """The time as it is stored: UTC, to the second."""
    return datetime.now(UTC).isoformat(timespec="seconds")
