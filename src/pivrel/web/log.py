"""What the application writes down for whoever keeps it running: one line for each request that fails."""

from __future__ import annotations

import logging

from flask import Flask, Response, request

LOG = logging.getLogger("pivrel")
"""`pivrel serve --log LEVEL` says how much of it is shown."""


def log_failures(app: Flask) -> None:
    """One line for each request that fails: a warning where it was refused, an error where Pivrel is at fault."""

    @app.after_request
    def note(response: Response) -> Response:
        if response.status_code >= 400:
            level = logging.ERROR if response.status_code >= 500 else logging.INFO
            said = response.get_data(as_text=True)[:300] if response.is_json else ""
            LOG.log(level, "%s %s: %d %s", request.method, request.path, response.status_code, said.strip())
        return response
