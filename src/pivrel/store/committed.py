"""What projects consist of as it was last committed: kept as it was read, and carried on with what is written."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any, Protocol, Self

from pivrel.core.cache import BoundedCache

Pulse = tuple[int, int]
"""The revision of a project, and the count of changes beside its result: one of them moves with each write."""

STATES = 40
"""Of so many states of projects the contents are kept."""


class Contents(Protocol):
    """What a project consists of: `store.documents.Contents`."""

    def with_changes(self, changes: Iterable[Any]) -> Self:
        """The same after changes of the journal."""


class Committed:
    """The contents of projects by their pulse, shared by all connections of a database.

    Every thread may ask. Nothing of it is changed: whoever changes contents copies them.
    """

    def __init__(self) -> None:
        self._states = BoundedCache(STATES)

    def get(self, project_id: int, pulse: Pulse) -> Any | None:
        """The contents of a project at a pulse, if they are kept."""
        return self._states.held((project_id, pulse))

    def put(self, project_id: int, pulse: Pulse, contents: Contents) -> None:
        """Keeps the contents of a project."""
        self._states.forget((project_id, pulse))
        self._states.get((project_id, pulse), lambda: contents, lambda _: 1, str(project_id))


class Written:
    """What one transaction writes: the documents of each project that it changes, and its pulse before."""

    def __init__(self) -> None:
        self._of: dict[int, tuple[Pulse, list[Any]]] = {}

    def note(self, project_id: int, pulse: Pulse, changes: Iterable[Any]) -> None:
        """Notes changes of the journal; pulse: the project's as it is before it moves on."""
        self._of.setdefault(project_id, (pulse, []))[1].extend(changes)

    @property
    def project_ids(self) -> list[int]:
        """The projects that are written to."""
        return list(self._of)

    def carry(self, project_id: int, committed: Committed, pulse: Pulse) -> None:
        """Spares a project from being read again, now that what was written of it is committed and has this pulse."""
        was, changes = self._of[project_id]
        before = committed.get(project_id, was)
        if before is not None:
            committed.put(project_id, pulse, before.with_changes(changes))
