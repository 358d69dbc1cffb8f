"""Long work waits for its turn, so that short questions always find a thread."""

from __future__ import annotations

import threading
from collections.abc import Callable
from functools import wraps
from typing import ParamSpec, TypeVar

from flask import Response, abort, request

from pivrel.jobs.process import Job

AT_ONCE, WAITING = 2, 8
"""So much long work is done side by side, and so much more may wait; together fewer than the server's threads."""

_TURNS = threading.BoundedSemaphore(AT_ONCE)
_PLACES = threading.BoundedSemaphore(AT_ONCE + WAITING)

LOOK_EVERY_S = 0.5
"""How often it is seen whether whoever asked still waits."""

P = ParamSpec("P")
T = TypeVar("T")


def _has_gone() -> bool:
    """Whether the visitor has closed the connection, where the server tells."""
    gone = request.environ.get("waitress.client_disconnected")
    return bool(gone and gone())


def still_wanted() -> None:
    """Ends a request whose visitor has left."""
    if _has_gone():
        abort(408, "nobody waits for this any more")


def answered_by(job: Job, respond: Callable[[], Response], meanwhile: Callable[[], None]) -> Response:
    """The answer of a job of this request alone, which ends with it; meanwhile: called now and then, may end it."""
    try:
        job.wait(meanwhile)
        response = respond()
    except BaseException:
        job.stop()
        raise
    response.call_on_close(job.stop)
    return response


def heavy(view: Callable[P, T]) -> Callable[P, T]:
    """A view whose work takes seconds: it waits for its turn, or says that too many wait."""

    @wraps(view)
    def in_turn(*args: P.args, **kwargs: P.kwargs) -> T:
        if not _PLACES.acquire(blocking=False):
            abort(503, "Pivrel is busy with long tasks, and more of them wait; try again in a moment")
        try:
            while not _TURNS.acquire(timeout=LOOK_EVERY_S):
                still_wanted()
            try:
                return view(*args, **kwargs)
            finally:
                _TURNS.release()
        finally:
            _PLACES.release()

    return in_turn
