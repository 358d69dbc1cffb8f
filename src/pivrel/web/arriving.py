"""Requests as they arrive: the bounds of a body hold before it is there, and what is refused is told as JSON."""

from __future__ import annotations

import json
from typing import Any

from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import BaseWSGIServer
from waitress.utilities import Error

from pivrel.web.guard import MAX_BODY, TOO_LARGE


class _Told:
    """An error of the server's own with its sentence as JSON, as every other answer has it."""

    def __init__(self, error: Error, sentence: str) -> None:
        self._error, self._sentence = error, sentence

    def to_response(self, ident: str | None = None) -> tuple[str, list[tuple[str, str]], bytes]:
        """Status, headers and body."""
        body = json.dumps({"error": self._sentence}).encode()
        return f"{self._error.code} {self._error.reason}", [("Content-Type", "application/json")], body


class _Bounded:
    """The server's settings, with another limit for bodies."""

    def __init__(self, settings: Any, most: int) -> None:
        self._settings, self.max_request_body_size = settings, most

    def __getattr__(self, name: str) -> Any:
        return getattr(self._settings, name)


class Arriving(HTTPRequestParser):  # type: ignore[misc]
    """A request: one that is no upload has the limit of such from its first byte on, also where it states no length."""

    adj: Any
    error: Any

    def parse_header(self, header_plus: bytes) -> None:
        """Reads the head, which says what kind of body follows."""
        super().parse_header(header_plus)
        if not self.headers.get("CONTENT_TYPE", "").lower().startswith("multipart/form-data"):
            self.adj = _Bounded(self.adj, MAX_BODY + 1)

    def received(self, data: bytes) -> int:
        """Takes more of the request; how many bytes of it."""
        taken: int = super().received(data)
        if isinstance(self.error, Error):
            self.error = _Told(self.error, _in_words(self.error))
        return taken


def _in_words(error: Error) -> str:
    if error.code == 413:
        return TOO_LARGE
    if error.code == 431:
        return "the head of the request is longer than any of ours"
    return f"the request cannot be read: {str(error.body).lower()}"


class Channel(HTTPChannel):  # type: ignore[misc]
    """A connection."""

    parser_class = Arriving


def bound_bodies(server: Any) -> None:
    """Lets a server, or each of those that it consists of, read its requests so."""
    for one in (server, *getattr(server, "map", {}).values()):
        if isinstance(one, BaseWSGIServer):
            one.channel_class = Channel
