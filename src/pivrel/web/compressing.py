"""Text is sent compressed; arrays are not: they hardly shrink, and a picture waits for them."""

from __future__ import annotations

from flask import Flask
from flask_compress import Compress

TEXT = ["text/html", "text/css", "text/javascript", "application/json", "image/svg+xml"]

LEAST_BYTES = 1000
"""Shorter answers are sent as they are."""


def compress_text(app: Flask) -> None:
    """Compresses what is text where the browser takes it so."""
    app.config["COMPRESS_MIMETYPES"] = TEXT
    app.config["COMPRESS_ALGORITHM"] = ["br", "gzip"]
    app.config["COMPRESS_MIN_SIZE"] = LEAST_BYTES
    # State is worked out anew for each edit: a moment saved on the way must not be lost before.
    app.config["COMPRESS_BR_LEVEL"] = 3
    app.config["COMPRESS_LEVEL"] = 3
    Compress(app)
