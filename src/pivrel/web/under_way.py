"""How far requests are that take seconds, told to whoever made them while they wait for the answer."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Generic, TypeVar

T = TypeVar("T")


@dataclass(frozen=True)
class Step(Generic[T]):
    """What is being done, and how much of it all is over (0 to 1)."""

    doing: T
    share: float


class UnderWay(Generic[T]):
    """The steps of requests, by the name that the visitor gave each; forgotten as soon as one is answered."""

    def __init__(self) -> None:
        self._steps: dict[str, Step[T]] = {}

    @contextmanager
    def told(self, name: str | None) -> Iterator[None]:
        """Held around the work of a request: afterwards nothing more is told of it."""
        try:
            yield
        finally:
            self._steps.pop(name or "", None)

    def tell(self, name: str | None, doing: T, share: float) -> None:
        """Notes a step; nothing where the request has no name."""
        if name:
            self._steps[name] = Step(doing, share)

    def of(self, name: str) -> Step[T] | None:
        """The step that a request is at; None before it begins and when it is over."""
        return self._steps.get(name)
